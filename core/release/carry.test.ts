import { calendarSchema } from "../time/calendar-format.ts";
import { dayAfter, mondayOf, sameTimeOn, startOf } from "../time/local.ts";
import { type Carried, type Setting, wouldBe } from "./carry.ts";
import { lookoutSchema } from "./findings.ts";
import { windowsSchema } from "./windows-format.ts";

const ROME = "Europe/Rome";
const at = (text: string) => Date.parse(text);
const calendar = calendarSchema.parse({
  timeZone: ROME,
  week: Object.fromEntries(["mon", "tue", "wed", "thu", "fri"].map((day) => [day, [["09:00", "17:00"]]])),
});
const leaving = (id: string, when: string) => ({
  id,
  at: at(when),
  kindId: "guide",
  sectionIds: ["walks"],
  subject: "",
});
const lookout = lookoutSchema.parse({ perDay: 1 });
const setting: Setting = {
  calendar,
  findings: [],
  windows: windowsSchema.parse({
    format: "elenco.windows/1",
    zone: ROME,
    open: [{ days: ["mon", "wed"], from: "18:00", until: "20:00" }],
  }),
  lookout,
  leavings: [leaving("one", "2026-11-30T18:00+01:00"), leaving("me", "2026-12-09T18:00+01:00")],
  span: { from: at("2026-11-23T00:00+01:00"), until: at("2026-12-21T00:00+01:00") },
  zone: ROME,
};
const me: Carried = {
  ...leaving("me", "2026-12-09T18:00+01:00"),
  way: {
    legs: [
      { key: "draft", take: "1wd" },
      { key: "check", take: "2wd" },
      { key: "ready", take: null },
      { key: "live", take: null },
    ],
    since: at("2026-11-24T09:00+01:00"),
    leaves: at("2026-11-26T09:00+01:00"),
  },
};

test("carried to another day it leaves in the next window, beside what leaves there", () => {
  const would = wouldBe(me, at("2026-11-29T18:00+01:00"), setting);
  expect(would).toMatchObject({ leaves: at("2026-11-30T18:00+01:00"), late: [] });
  // It is checked by the evening of Monday.
  expect(would.slack).toBe(0);
  expect(would.clashes).toMatchObject([{ code: "too-many", ids: ["me", "one"] }]);
});

test("too early, the stops that would be missed are named with how late they are", () => {
  const would = wouldBe(me, at("2026-11-25T19:00+01:00"), setting);
  expect(would.leaves).toBe(at("2026-11-25T19:00+01:00"));
  // Thursday, Friday and Monday are missing.
  expect(would.slack).toBe(-24 * 3_600_000);
  expect(would.late.map((one) => one.key)).toEqual(["check", "ready", "live"]);
  for (const { by } of would.late) expect(by).toBeGreaterThan(0);
});

test("there and back is as it was, and what is ready has no stops to miss", () => {
  expect(wouldBe(me, me.at, setting)).toMatchObject({ leaves: me.at, late: [], clashes: [] });
  expect(wouldBe({ ...me, way: null }, at("2026-11-25T19:00+01:00"), setting)).toMatchObject({ late: [], slack: null });
  const never = { ...setting, windows: windowsSchema.parse({ format: "elenco.windows/1", zone: ROME, open: [] }) };
  expect(wouldBe(me, me.at, never).leaves).toBeNull();
});

test("the time of day stays on another day, over a change of the clock too", () => {
  expect(sameTimeOn(at("2026-10-24T17:30+02:00"), "2026-10-26", ROME)).toBe(at("2026-10-26T17:30+01:00"));
  expect(sameTimeOn(at("2026-03-28T02:30+01:00"), "2026-03-29", ROME)).toBe(at("2026-03-29T03:30+02:00"));
  expect(mondayOf("2026-11-29")).toBe("2026-11-23");
  expect(mondayOf("2026-11-23")).toBe("2026-11-23");
  expect(dayAfter("2026-11-30", 1)).toBe("2026-12-01");
  expect(startOf("2026-11-30", ROME)).toBe(at("2026-11-30T00:00+01:00"));
});
