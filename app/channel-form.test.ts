import { channelForm } from "./channel-form.ts";

const week = { mon: "", tue: "", wed: "", thu: "06:00-22:00", fri: "", sat: "", sun: "" };
const sent = (more: object = {}) => ({
  key: "bulletin",
  name: "Bulletin",
  revision: "3",
  spacing: "0",
  ...week,
  gathers: "editions",
  called: "Bulletin",
  every: "week",
  days: ["thu"],
  at: "07:00",
  weeks: "1",
  since: "2026-01-01",
  parts: "Lead\nNews\nDates",
  partsKnown: ["lead Lead", "news News", "dates Dates"],
  closesBefore: "0.5",
  closesUnit: "wh",
  target: "560",
  targetUnit: "words",
  takesOf: ["", ""],
  takesIn: ["bulletin", ""],
  takesPart: ["News", "Lead"],
  nextNumber: "48",
  ...more,
});
const read = (more?: object) => channelForm("Europe/Rome").safeParse(sent(more));
const faults = (more: object) => {
  const { error } = read(more);
  return error?.issues.map((issue) => issue.path.join(".")) ?? [];
};

test("a channel of editions as its form says it: what is left empty in a row of rules is no rule", () => {
  expect(read().data).toMatchObject({
    key: "bulletin",
    revision: 3,
    nextNumber: 48,
    editions: {
      called: "Bulletin",
      rhythm: { every: "week", days: ["thu"], at: "07:00", apart: 1, since: "2026-01-01" },
      closes: "0.5wh",
      target: { unit: "words", number: 560 },
      takes: [{ kind: null, section: "bulletin", part: "news" }],
    },
  });
  expect(read({ gathers: "" }).data?.editions).toBeNull();
  expect(read({ every: "", closesBefore: "", target: "" }).data?.editions).toMatchObject({
    rhythm: null,
    closes: null,
    target: null,
  });
});

test.each([
  ["as they were", "Lead\nNews\nDates", ["lead", "news", "dates"]],
  ["in another order", "Dates\nLead\nNews", ["dates", "lead", "news"]],
  ["one renamed where it stands", "Lead\nFrom the huts\nDates", ["lead", "news", "dates"]],
  ["one more", "Lead\nLetters\nNews\nDates", ["lead", "letters", "news", "dates"]],
  ["one fewer", "Lead\nDates", ["lead", "dates"]],
  ["one that has no letter a key can hold", "Lead\nNews\nDates\n水", ["lead", "news", "dates", "part"]],
])("the parts of an edition keep their keys, so that what stands in them stays there: %s", (_, parts, keys) => {
  expect(read({ parts }).data?.editions?.parts.map((part) => part.key)).toEqual(keys);
});

test.each([
  [{ called: "" }, ["called"]],
  [{ days: [] }, ["days"]],
  [{ at: "7" }, ["at"]],
  [{ every: "month", day: "32" }, ["day"]],
  [{ weeks: "0" }, ["weeks"]],
  [{ parts: "" }, ["parts"]],
  [{ closesBefore: "-1" }, ["closesBefore"]],
  [{ target: "many" }, ["target"]],
  [{ thu: "six" }, ["thu"]],
  [{ perDay: "0" }, ["perDay"]],
])("what is not understood is said at its field: %j", (more, fields) => {
  expect(faults(more)).toEqual(fields);
});

test("what is usual is a time of day and a number of days, or nothing", () => {
  expect(read().data?.usual).toEqual({ at: null, days: null });
  expect(read({ usualAt: "07:00", usualDays: "30" }).data?.usual).toEqual({ at: "07:00", days: 30 });
  expect(faults({ usualAt: "7 o" })).toEqual(["usualAt"]);
  expect(faults({ usualAt: "25:00" })).toEqual(["usualAt"]);
  expect(faults({ usualDays: "0" })).toEqual(["usualDays"]);
  expect(faults({ usualDays: "many" })).toEqual(["usualDays"]);
});
