import { readCalendarForm, writeCalendarForm } from "./calendar-form.ts";
import { calendarSchema } from "./calendar-format.ts";

const calendar = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: {
    mon: [
      ["09:00", "13:00"],
      ["14:00", "17:30"],
    ],
    sat: [["22:00", "24:00"]],
  },
  closed: ["2026-12-08", "2026-12-25"],
  special: [{ date: "2026-12-24", hours: [["09:00", "12:00"]] }],
});

test("what is written for the form is read back the same, closed days as empty ones", () => {
  const read = readCalendarForm(writeCalendarForm(calendar));
  expect("calendar" in read && Object.entries(read.calendar.week).filter(([, hours]) => hours.length > 0)).toEqual(
    Object.entries(calendar.week),
  );
  expect("calendar" in read && { ...read.calendar, week: null }).toEqual({ ...calendar, week: null });
});

const text = writeCalendarForm(calendar);
test.each([
  ["hours that are none", { week: { ...text.week, tue: "nine to five" } }, "tue"],
  ["hours that end before they begin", { week: { ...text.week, tue: "17:00-09:00" } }, "tue"],
  ["a day that is none", { closed: "2026-02-30" }, "closed"],
  ["a special day without hours one can read", { special: "2026-12-24: noon" }, "special"],
  ["a zone nobody knows", { zone: "Europe/Fontelba" }, "zone"],
  ["no open day at all", { week: Object.fromEntries(Object.keys(text.week).map((day) => [day, ""])) }, "mon"],
])("%s: the field is named", (_, more, field) => {
  expect(readCalendarForm({ ...text, ...more } as typeof text)).toMatchObject({ field });
});

test("a single digit and a long dash are understood", () => {
  const read = readCalendarForm({ ...text, week: { ...text.week, tue: "9:00 – 12:30" } });
  expect("calendar" in read && read.calendar.week.tue).toEqual([["09:00", "12:30"]]);
});
