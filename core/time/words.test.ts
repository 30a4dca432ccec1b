import fc from "fast-check";
import { fromLocalInput, localDate, toLocalInput } from "./local.ts";
import { sayDate, sayDue, sayExactly, sayInstant, sayLength, sayTake, sayTime } from "./words.ts";

const ROME = "Europe/Rome";
const NOW = Date.parse("2026-11-24T09:00Z");
const at = (text: string) => Date.parse(text);

test.each<[string, string]>([
  ["2026-11-24T08:00Z", "today, 09:00"],
  ["2026-11-24T22:59Z", "today, 23:59"],
  ["2026-11-24T23:00Z", "Wed 25 Nov, 00:00"],
  ["2026-11-23T22:59Z", "Mon 23 Nov, 23:59"],
  ["2026-12-31T23:30Z", "Fri 1 Jan 2027, 00:30"],
  ["2025-11-24T09:00Z", "Mon 24 Nov 2025, 10:00"],
])("an instant as a person says it: %s is %s", (instant, said) => {
  expect(sayInstant(at(instant), ROME, NOW)).toBe(said);
});

test("the same instant is another day elsewhere, and exact where it must be", () => {
  const late = at("2026-11-24T23:30Z");
  expect([sayDate(late, ROME, NOW), sayDate(late, "UTC", NOW)]).toEqual(["Wed 25 Nov", "Tue 24 Nov"]);
  expect([sayTime(late, ROME), sayTime(late, "America/New_York")]).toEqual(["00:30", "18:30"]);
  expect(sayExactly(late, ROME)).toMatch(/^Wednesday,? 25 November 2026( at|,)? 00:30 (CET|GMT\+1)$/);
});

test.each<[number, string]>([
  [0, "1 min"],
  [59_000, "1 min"],
  [40 * 60_000, "40 min"],
  [60 * 60_000, "1 h"],
  [23.9 * 3_600_000, "23 h"],
  [24 * 3_600_000, "1 d"],
  [-49 * 3_600_000, "2 d"],
])("a length of %d ms is %s", (length, said) => {
  expect(sayLength(length)).toBe(said);
});

test.each<[number, string]>([
  [24 * 3_600_000, "in 1 day"],
  [-24 * 3_600_000, "1 day late"],
  [-47 * 3_600_000, "1 day late"],
  [5 * 3_600_000, "in 5 hours"],
  [-3_600_000, "1 hour late"],
  [60_000, "in 1 minute"],
  [0, "in 0 minutes"],
])("due %d ms from now is %s", (length, said) => {
  expect(sayDue(NOW + length, NOW)).toBe(said);
});

test.each<[string, string, string | null]>([
  ["an ordinary minute", "2026-11-24T10:00", "2026-11-24T09:00:00.000Z"],
  ["the hour that is skipped moves on", "2026-03-29T02:30", "2026-03-29T01:30:00.000Z"],
  ["the hour that comes twice is the first", "2026-10-25T02:30", "2026-10-25T00:30:00.000Z"],
  ["no date", "tomorrow", null],
  ["a day there is not", "2026-02-30T10:00", null],
  ["nothing", "", null],
])("a form's date and time: %s", (_, text, expected) => {
  const found = fromLocalInput(text, ROME);
  expect(found === null ? null : new Date(found).toISOString()).toBe(expected);
});

test("what a form shows reads back as the same minute, but for the hour that comes twice", () => {
  const minutes = fc.integer({ min: at("2024-01-01T00:00Z") / 60_000, max: at("2030-01-01T00:00Z") / 60_000 });
  fc.assert(
    fc.property(minutes, fc.constantFrom(ROME, "UTC", "America/St_Johns", "Pacific/Chatham"), (minute, zone) => {
      const instant = minute * 60_000;
      const back = fromLocalInput(toLocalInput(instant, zone), zone) as number;
      const earlier = instant - back;
      expect(toLocalInput(back, zone)).toBe(toLocalInput(instant, zone));
      expect([0, 3_600_000]).toContain(earlier);
      expect(toLocalInput(instant, zone).slice(0, 10)).toBe(localDate(instant, zone));
    }),
  );
});

test.each([
  ["1wd", "1 working day"],
  ["3wd", "3 working days"],
  ["1.5wh", "1.5 working hours"],
  ["2d", "2 days"],
  ["1h", "1 hour"],
])("a time allowed of %s is said as %s", (take, words) => {
  expect(sayTake(take)).toBe(words);
});
