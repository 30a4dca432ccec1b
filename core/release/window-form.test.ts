import { WEEKDAYS } from "../time/calendar.ts";
import { alwaysOpen, type Windows } from "./window.ts";
import { readWindowsForm, type WindowsText, withHours, writeWindowsForm } from "./window-form.ts";
import { windowsSchema } from "./windows-format.ts";

const ROME = "Europe/Rome";
const windowsOf = (more: object) => windowsSchema.parse({ format: "elenco.windows/1", zone: ROME, ...more });

test.each<[string, Windows]>([
  ["always open", alwaysOpen(ROME)],
  ["never open", windowsOf({ open: [] })],
  [
    "nights, a closed day, a blackout and a spacing",
    windowsOf({
      open: [
        { days: ["mon", "tue"], from: "22:00", until: "06:00" },
        { days: ["sat"], from: "00:00", until: "24:00" },
      ],
      closed: ["2026-12-24"],
      blackouts: [{ from: "2026-12-01T09:00Z", until: "2026-12-01T17:00Z" }],
      spacing: 5,
    }),
  ],
])("%s is written and read back the same", (_, windows) => {
  expect(readWindowsForm(writeWindowsForm(windows), ROME)).toEqual({ windows });
});

test.each<[string, Partial<WindowsText>, string]>([
  ["hours that are none", { week: { mon: "from ten" } as WindowsText["week"] }, "mon"],
  ["hours without length", { week: { tue: "10:00-10:00" } as WindowsText["week"] }, "tue"],
  ["a time past midnight", { week: { wed: "10:00-25:00" } as WindowsText["week"] }, "wed"],
  ["a date that is none", { closed: "2026-02-30" }, "closed"],
  ["a blackout without an end", { blackouts: "2026-12-01 10:00" }, "blackouts"],
  ["a blackout that ends first", { blackouts: "2026-12-02 10:00 - 2026-12-01 10:00" }, "blackouts"],
  ["a spacing that is no number", { spacing: "some" }, "spacing"],
])("%s is said where it stands", (_, change, field) => {
  const empty = Object.fromEntries(WEEKDAYS.map((day) => [day, ""])) as WindowsText["week"];
  const text = { closed: "", blackouts: "", spacing: "", ...change, week: { ...empty, ...change.week } };
  expect(readWindowsForm(text, ROME)).toMatchObject({ field });
});

test.each([
  ["", 540, 720, "09:00-12:00"],
  ["09:00-12:00", 660, 780, "09:00-13:00"],
  ["09:00-12:00, 22:00-06:00", 840, 900, "09:00-12:00, 14:00-15:00, 22:00-06:00"],
  ["09:00-10:00, 11:00-12:00", 600, 660, "09:00-12:00"],
  ["from ten", 600, 660, "from ten"],
])("%j with %i to %i", (text, from, until, expected) => {
  expect(withHours(text, from, until)).toBe(expected);
});
