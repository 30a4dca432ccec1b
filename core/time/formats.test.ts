import { calendarSchema } from "./calendar-format.ts";
import { due } from "./due.ts";
import { takeSchema } from "./take-format.ts";

const WEEK = { mon: [["09:00", "17:00"]] };
const calendar = (more: object) => ({ timeZone: "Europe/Rome", week: WEEK, ...more });

/** Where a calendar is amiss, and what is said of it; nothing where it is one. */
const amiss = (json: unknown) => {
  const { issues = [] } = calendarSchema.safeParse(json).error ?? {};
  return issues.map(({ path, message }) => `${path.join(".")}: ${message}`);
};

test.each<[string, unknown]>([
  ["one open day", calendar({})],
  ["a day until midnight", calendar({ week: { sat: [["00:00", "24:00"]] } })],
  [
    "two openings",
    calendar({
      week: {
        tue: [
          ["08:00", "12:00"],
          ["14:00", "18:00"],
        ],
      },
    }),
  ],
  [
    "a closed date, and one with no hours",
    calendar({ closed: ["2026-12-08"], special: [{ date: "2026-12-24", hours: [] }] }),
  ],
])("%s is a calendar", (_, json) => expect(amiss(json)).toEqual([]));

test("what is left out of a calendar is none", () => {
  expect(calendarSchema.parse(calendar({}))).toMatchObject({ closed: [], special: [] });
});

test.each<[string, unknown, RegExp]>([
  ["no object", "always", /expected object/],
  ["a zone there is not", calendar({ timeZone: "Europe/Fontelba" }), /^timeZone: expected an IANA time zone/],
  ["an offset for a zone", calendar({ timeZone: "+25:00" }), /^timeZone: /],
  ["no open day", calendar({ week: {} }), /^week: at least one day/],
  ["an open day without hours", calendar({ week: { mon: [] } }), /^week: at least one day/],
  [
    "an opening that ends before it begins",
    calendar({ week: { mon: [["17:00", "09:00"]] } }),
    /^week\.mon\.0: an opening must end/,
  ],
  ["an opening of no length", calendar({ week: { mon: [["09:00", "09:00"]] } }), /an opening must end/],
  ["an hour there is not", calendar({ week: { mon: [["09:00", "24:01"]] } }), /^week\.mon\.0\.1: expected a time/],
  ["an hour without its nought", calendar({ week: { mon: [["9:00", "17:00"]] } }), /expected a time/],
  ["a day of no week", calendar({ week: { ...WEEK, someday: [] } }), /^week/],
  ["a date there is not", calendar({ closed: ["2026-02-30"] }), /^closed\.0: expected a date/],
  ["special hours without a date", calendar({ special: [{ hours: [] }] }), /^special\.0\.date: /],
  ["a word it does not know", calendar({ holidays: [] }), /holidays/],
])("%s is none: said where it is", (_, json, says) => {
  const all = amiss(json);
  expect(all.length).toBeGreaterThan(0);
  expect(all[0]).toMatch(says);
});

test.each(["6wh", "0wh", "1.5wh", "3wd", "2d", "5h", "0.25h", "9999wd"])(
  "%s is a length, and can be counted with",
  (take) => {
    expect(takeSchema.safeParse(take).success).toBe(true);
    if (take !== "9999wd") expect(due(calendarSchema.parse(calendar({})), 0, take)).toBeGreaterThanOrEqual(0);
  },
);

test.each([
  "",
  "3",
  "wd",
  "-1wd",
  "1.5wd",
  "1,5wh",
  "3 wd",
  "3WD",
  "3w",
  "10000wd",
  "1e3h",
  ".5wh",
  "1.23456h",
  "3wd ",
])("%j is no length, whoever asks", (take) => {
  expect(takeSchema.safeParse(take).success).toBe(false);
  expect(() => due(calendarSchema.parse(calendar({})), 0, take)).toThrow(RangeError);
});
