import { begunAt, begunHere, dropBegun, keepBegun } from "./begun.ts";
import { EVERYTHING_OPEN, type Filter, shows, spansOf, stands, type Thread } from "./remarks.ts";

const anchor = { start: 4, end: 8, exact: "path", prefix: "The ", suffix: " up", gone: false };
const thread = (more: Partial<Thread> = {}): Thread => ({
  id: "t",
  authorId: "wim",
  author: "Wim Aldera",
  kind: "Fact",
  field: "body",
  picture: null,
  anchor,
  madeOn: "path",
  proposal: null,
  version: 2,
  round: 1,
  at: 0,
  sentAt: 0,
  pinnedAt: null,
  settledAt: null,
  settledBy: null,
  outcome: null,
  comments: [{ id: "c", authorId: "wim", author: "Wim Aldera", body: "?", at: 0, editedAt: null, takenBackAt: null }],
  settlable: true,
  ...more,
});

test.each<[string, Partial<Filter>, Partial<Thread>, boolean]>([
  ["an open one", {}, {}, true],
  ["a settled one among the open ones", {}, { settledAt: 1 }, false],
  ["a settled one among all", { show: "all" }, { settledAt: 1 }, true],
  ["one where somebody else spoke", { show: "mine" }, {}, false],
  ["one that is kept back", { show: "kept" }, { sentAt: null }, true],
  ["one that was sent, among those kept back", { show: "kept" }, {}, false],
  ["one of the sort", { kind: "Fact" }, {}, true],
  ["one of another sort", { kind: "Wording" }, {}, false],
  ["one of the person", { person: "Wim Aldera" }, {}, true],
  ["one of another person", { person: "Ilda Marenzi" }, {}, false],
  ["one of the round", { round: "1" }, {}, true],
  ["one made before any round", { round: "1" }, { round: null }, false],
])("%s is shown, or not", (_, filter, more, expected) => {
  expect(shows({ ...EVERYTHING_OPEN, ...filter }, thread(more), "ilda")).toBe(expected);
});

test("what marks a text: open remarks on its words, wording only for the words it was made for", () => {
  const proposal = [{ type: "text", text: "track" }];
  const threads = [
    thread({ id: "remark" }),
    thread({ id: "proposed", proposal }),
    thread({ id: "changed", proposal, madeOn: "old path" }),
    thread({ id: "gone", anchor: { ...anchor, gone: true } }),
    thread({ id: "settled", settledAt: 1 }),
    thread({ id: "elsewhere", field: "standfirst" }),
    thread({ id: "on the piece", field: null, anchor: null }),
  ];
  expect(spansOf(threads, "body")).toEqual([
    { id: "remark", start: 4, end: 8, wording: null },
    { id: "proposed", start: 4, end: 8, wording: proposal },
    { id: "changed", start: 4, end: 8, wording: null },
  ]);
  expect(threads.filter(stands).map(({ id }) => id)).toEqual(["remark", "proposed", "changed", "settled", "elsewhere"]);
});

describe("what was begun", () => {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    globalThis.localStorage = {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, words: string) => void kept.set(key, words),
      removeItem: (key: string) => void kept.delete(key),
    } as unknown as Storage;
  });
  const at = (start: number, proposes = false) => ({
    place: { field: "body", range: { start, end: start + 4 } },
    proposes,
  });

  test("stays at its place, each apart from the others, until it is sent", () => {
    keepBegun("key", { ...at(0), body: "Which?", wording: null });
    keepBegun("key", { ...at(9), body: "Who?", wording: null });
    keepBegun("key", { ...at(0), body: "Which one?", wording: null });
    expect(begunHere("key").map(({ body }) => body)).toEqual(["Who?", "Which one?"]);
    expect(begunAt("key", at(0)).body).toBe("Which one?");
    expect(begunAt("key", at(0, true)).body).toBe("");
    dropBegun("key", at(0));
    expect(begunHere("key").map(({ body }) => body)).toEqual(["Who?"]);
    dropBegun("key", at(9));
    expect(kept.size).toBe(0);
  });

  test("is nothing where nothing was written, or where what is kept is damaged", () => {
    keepBegun("key", { ...at(0), body: "", wording: null });
    expect(begunHere("key")).toEqual([]);
    kept.set("key", "{");
    expect(begunHere("key")).toEqual([]);
  });
});
