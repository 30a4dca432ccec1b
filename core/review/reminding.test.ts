import { calendarSchema } from "../time/calendar-format.ts";
import { callsBetween, callsOf, takesOver } from "./reminding.ts";
import type { Candidate } from "./seating.ts";

const day: [string, string][] = [["09:00", "17:00"]];
const calendar = calendarSchema.parse({
  timeZone: "UTC",
  week: { mon: day, tue: day, wed: day, thu: day, fri: day },
});
const at = (text: string) => Date.parse(`${text}Z`);
const opened = { openedAt: at("2026-11-24T09:30"), dueAt: at("2026-11-26T17:00") };

test.each<[string, string[], string | null, string[]]>([
  ["nothing", [], null, []],
  ["a working day before", ["1wd"], null, ["remind 2026-11-25T16:59"]],
  [
    "hours before, and a day after",
    ["2h", "4wh"],
    "1wd",
    ["remind 2026-11-26T13:00", "remind 2026-11-26T15:00", "overdue 2026-11-30T17:00"],
  ],
  ["longer before than it was given", ["10wd"], "0wd", ["overdue 2026-11-27T17:00"]],
])("a review calls %s", (_, remind, after, expected) => {
  const review = { remind, overdue: after === null ? undefined : { after, do: "escalate" as const } };
  const calls = callsOf(review, opened, calendar);
  expect(calls.map((one) => `${one.does} ${new Date(one.at).toISOString().slice(0, 16)}`)).toEqual(expected);
});

test("without a due date nothing is called; what came is called once, and the next is known", () => {
  expect(callsOf({ remind: ["1wd"] }, { ...opened, dueAt: null }, calendar)).toEqual([]);
  const calls = [10, 20, 30].map((when) => ({ at: when, does: "remind" as const }));
  expect(callsBetween(calls, 0, 20)).toEqual({ come: calls.slice(0, 2), next: 30 });
  expect(callsBetween(calls, 20, 25)).toEqual({ come: [], next: 30 });
  expect(callsBetween(calls, 20, 99)).toEqual({ come: [calls[2]], next: null });
});

const person = (id: string, more: Partial<Candidate> = {}): Candidate => ({
  id,
  key: id,
  name: id,
  active: true,
  roles: ["checker"],
  load: 0,
  away: false,
  standInId: null,
  decides: true,
  ...more,
});

test.each<[string, "escalate" | "stand-in" | "pass", Candidate[], string[], string | null]>([
  ["nobody, where somebody is only told", "escalate", [person("b")], [], null],
  ["the stand-in", "stand-in", [person("b"), person("c")], [], "b"],
  [
    "the stand-in's stand-in, where the first is away",
    "stand-in",
    [person("b", { away: true, standInId: "c" }), person("c")],
    [],
    "c",
  ],
  ["nobody, where the stand-in sits already", "stand-in", [person("b")], ["b"], null],
  ["the least busy of those named", "pass", [person("b", { load: 2 }), person("c", { load: 1 })], [], "c"],
  [
    "nobody who is away, who may not decide, or who wrote it",
    "pass",
    [person("b", { away: true }), person("c", { decides: false }), person("author"), person("d", { load: 9 })],
    [],
    "d",
  ],
])("a late seat goes to %s", (_, does, others, seated, expected) => {
  const holder = person("a", { standInId: "b", roles: [] });
  const review = { overdue: { after: "1wd", do: does, to: "role:checker" }, authorMayDecide: false };
  const taker = takesOver(review, holder, {
    people: [holder, ...others],
    authorId: "author",
    seated: new Set(["a", ...seated]),
  });
  expect(taker?.id ?? null).toBe(expected);
});
