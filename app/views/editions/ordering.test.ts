import { moved } from "#core/release/edition.ts";
import { stepOf } from "./ordering.ts";

const parts = [
  { key: "lead", name: "Lead" },
  { key: "news", name: "News" },
  { key: "dates", name: "Dates" },
];
type Items = Parameters<typeof stepOf>[0];
const placed = (text: string): Items =>
  text.split(" ").map((one) => {
    const [part = "", pieceId = ""] = one.split(":");
    return { pieceId, part } as Items[number];
  });
const order = (items: readonly { pieceId: string; part: string }[]) =>
  items.map((one) => `${one.part}:${one.pieceId}`).join(" ");

test.each<[string, string, string, 1 | -1, string | null]>([
  ["up within its part", "news:a news:b news:c", "b", -1, "news:b news:a news:c"],
  ["down within its part", "news:a news:b news:c", "a", 1, "news:b news:a news:c"],
  ["down to the last place", "news:a news:b", "a", 1, "news:b news:a"],
  ["up over the edge into an empty part", "news:a news:b", "a", -1, "lead:a news:b"],
  ["up over the edge to the end of a part", "lead:x news:a", "a", -1, "lead:x lead:a"],
  ["down over the edge to the beginning of a part", "news:a dates:x dates:y", "a", 1, "dates:a dates:x dates:y"],
  ["up from the very first place", "lead:a news:b", "a", -1, null],
  ["down from the very last", "news:b dates:a", "a", 1, null],
  ["of what is not there", "news:b", "a", 1, null],
])("a step %s", (_, items, pieceId, by, expected) => {
  const to = stepOf(placed(items), parts, pieceId, by);
  expect(to && order(moved(placed(items), parts, pieceId, to.part, to.before))).toBe(expected);
});

test("up and down again everything stands as it did", () => {
  const start = placed("lead:x news:a news:b dates:y");
  for (const { pieceId } of start) {
    const up = stepOf(start, parts, pieceId, -1);
    if (!up) continue;
    const there = moved(start, parts, pieceId, up.part, up.before);
    const down = stepOf(there, parts, pieceId, 1);
    expect(down && order(moved(there, parts, pieceId, down.part, down.before))).toBe(order(start));
  }
});
