import { readCalendarFile } from "./calendar-file.ts";

const NOW = Date.parse("2026-11-24T09:00Z");
const file = (...events: string[]) =>
  ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//EN", ...events, "END:VCALENDAR"].join("\r\n");
const event = (...lines: string[]) =>
  ["BEGIN:VEVENT", "UID:1", "DTSTAMP:20261101T000000Z", ...lines, "END:VEVENT"].join("\r\n");
const read = (source: string) => {
  const found = readCalendarFile(source, "Europe/Rome", NOW);
  return "problem" in found ? found.problem : found.stretches.map(({ from, until, whole }) => [from, until, whole]);
};

test.each<[string, string, unknown]>([
  [
    "whole days, the end exclusive",
    event("DTSTART;VALUE=DATE:20261207", "DTEND;VALUE=DATE:20261212"),
    [["2026-12-07", "2026-12-11", true]],
  ],
  [
    "one whole day",
    event("DTSTART;VALUE=DATE:20261207", "DTEND;VALUE=DATE:20261208"),
    [["2026-12-07", "2026-12-07", true]],
  ],
  ["a day without an end", event("DTSTART;VALUE=DATE:20261207"), [["2026-12-07", "2026-12-07", true]]],
  [
    "hours across days, in UTC, read in the zone",
    event("DTSTART:20261206T233000Z", "DTEND:20261209T080000Z"),
    [["2026-12-07", "2026-12-09", false]],
  ],
  ["an hour", event("DTSTART:20261207T090000Z", "DTEND:20261207T100000Z"), []],
  ["the past", event("DTSTART;VALUE=DATE:20251207", "DTEND;VALUE=DATE:20251212"), []],
  ["cancelled", event("STATUS:CANCELLED", "DTSTART;VALUE=DATE:20261207", "DTEND;VALUE=DATE:20261212"), []],
  [
    "each Friday, three times",
    event("DTSTART;VALUE=DATE:20261204", "DTEND;VALUE=DATE:20261205", "RRULE:FREQ=WEEKLY;COUNT=3"),
    [
      ["2026-12-04", "2026-12-04", true],
      ["2026-12-11", "2026-12-11", true],
      ["2026-12-18", "2026-12-18", true],
    ],
  ],
])("a calendar's days: %s", (_, source, expected) => {
  expect(read(file(source))).toEqual(expected);
});

test("what recurs for ever ends, and what is no calendar says so", () => {
  const daily = read(file(event("DTSTART;VALUE=DATE:20200101", "DTEND;VALUE=DATE:20200102", "RRULE:FREQ=DAILY")));
  expect(daily.length).toBeLessThanOrEqual(400);
  for (const broken of ["", "hello", "BEGIN:VCALENDAR", "BEGIN:VCARD\r\nEND:VCARD", file(event("DTSTART:never"))])
    expect(typeof read(broken) === "string" || read(broken).length === 0).toBe(true);
});
