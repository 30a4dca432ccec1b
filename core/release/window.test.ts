import { readFileSync } from "node:fs";
import { alwaysOpen, isOpen, leave, leaveBeside, openBetween, opens, type Windows } from "./window.ts";
import { windowsSchema } from "./windows-format.ts";

const { windows, cases } = JSON.parse(readFileSync("core/release/cases/windows.json", "utf8")) as {
  windows: object[];
  cases: { windows: number; from: string[]; leaves: string[] }[];
};
const all = windows.map((one) => windowsSchema.parse(one));
const at = (text: string) => Date.parse(text);
const said = (instant: number | null) => instant && new Date(instant).toISOString().replace(":00.000Z", "Z");
const windowsOf = (more: object): Windows =>
  windowsSchema.parse({ format: "elenco.windows/1", zone: "Europe/Rome", ...more });

test.each(cases.map((one, i) => [i, one] as const))("window %i", (_, one) => {
  const answers = leave(all[one.windows] as Windows, one.from.map(at));
  expect(answers.map(said)).toEqual(one.leaves);
});

test.each<[string, object, string, string | null]>([
  [
    "in the gap of a clock change, after it",
    { open: [{ days: ["sun"], from: "02:00", until: "03:30" }] },
    "2026-03-29T00:30Z",
    "2026-03-29T01:00Z",
  ],
  [
    "twice in its overlap",
    { open: [{ days: ["sun"], from: "02:15", until: "02:30" }] },
    "2026-10-25T00:30Z",
    "2026-10-25T01:15Z",
  ],
  ["never, where nothing is open", { open: [] }, "2026-10-25T00:30Z", null],
  [
    "never, where all is closed in a blackout",
    { blackouts: [{ from: "2026-01-01T00:00Z", until: "2028-01-01T00:00Z" }] },
    "2026-03-01T00:00Z",
    null,
  ],
  ["at the end of a day that is closed", { closed: ["2026-12-24"] }, "2026-12-24T10:00Z", "2026-12-24T23:00Z"],
  [
    "never within a gap that is all of it",
    { open: [{ days: ["sun"], from: "02:00", until: "03:00" }] },
    "2026-03-29T00:00Z",
    "2026-04-05T00:00Z",
  ],
  ["at the next whole minute", {}, "2026-03-01T10:00:01Z", "2026-03-01T10:01Z"],
])("what is wished for leaves %s", (_, more, wish, expected) => {
  expect(said(opens(windowsOf(more), at(wish)))).toBe(expected);
});

test("one more beside others keeps the spacing to both sides", () => {
  const spaced = windowsOf({ spacing: 30 });
  const others = ["2026-03-01T10:00Z", "2026-03-01T10:45Z", "2026-03-01T12:00Z"].map(at);
  const beside = (wish: string) => said(leaveBeside(spaced, at(wish), others));
  expect(beside("2026-03-01T09:30Z")).toBe("2026-03-01T09:30Z");
  expect(beside("2026-03-01T09:31Z")).toBe("2026-03-01T11:15Z");
  expect(beside("2026-03-01T11:31Z")).toBe("2026-03-01T12:30Z");
  expect(beside("2026-03-01T08:00Z")).toBe("2026-03-01T08:00Z");
});

/** The same by looking at every minute: slow, and plainly what is meant. */
function naive(windows: Windows, wish: number): number | null {
  const format = new Intl.DateTimeFormat("en-GB", {
    timeZone: windows.zone,
    weekday: "short",
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  });
  for (let minute = Math.ceil(wish / 60_000) * 60_000; minute < wish + 9 * 86_400_000; minute += 60_000) {
    const part = Object.fromEntries(format.formatToParts(minute).map(({ type, value }) => [type, value]));
    const [date, time] = [`${part.year}-${part.month}-${part.day}`, `${part.hour}:${part.minute}`];
    const [day, before] = [0, 1].map(
      (back) =>
        ["sun", "mon", "tue", "wed", "thu", "fri", "sat"][
          new Date(at(`${date}T12:00Z`) - back * 86_400_000).getUTCDay()
        ],
    );
    const within = ({ days, from, until }: NonNullable<Windows["open"]>[number]) => {
      const has = (name: string | undefined) => (days as string[]).includes(name ?? "");
      return from < until
        ? has(day) && from <= time && time < until
        : (has(day) && time >= from) || (has(before) && time < until);
    };
    const dark = windows.blackouts.some(({ from, until }) => at(from) <= minute && minute < at(until));
    if (!dark && !windows.closed.includes(date) && (windows.open?.some(within) ?? true)) return minute;
  }
  return null;
}

test("whatever is wished for, over a change of the clock too, the answer is that of looking at every minute", () => {
  let seed = 7;
  const random = (below: number) => {
    seed = (seed * 48_271) % 2_147_483_647;
    return seed % below;
  };
  const days = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];
  const clock = () => `${String(random(24)).padStart(2, "0")}:${String(random(60)).padStart(2, "0")}`;
  for (let run = 0; run < 25; run++) {
    const zone = ["Europe/Rome", "Australia/Lord_Howe", "America/St_Johns"][random(3)];
    const starts = at(["2026-03-27T12:00Z", "2026-10-23T12:00Z", "2026-04-03T12:00Z"][random(3)] as string);
    const open = [0, 1].map(() => ({ days: [days[random(7)], days[random(7)]], from: clock(), until: "12:34" }));
    const closed = random(2) ? [new Date(starts + 86_400_000).toISOString().slice(0, 10)] : [];
    const made = windowsOf({ zone, open, closed });
    for (let i = 0; i < 3; i++) {
      const wish = starts + random(3 * 1440) * 60_000 - random(60_000);
      const found = opens(made, wish);
      expect([run, zone, open, said(found)]).toEqual([run, zone, open, said(naive(made, wish))]);
      if (found !== null) {
        expect(found).toBeGreaterThanOrEqual(wish);
        expect(isOpen(made, found)).toBe(true);
        expect(openBetween(made, found, found + 60_000)).toEqual([{ start: found, end: found + 60_000 }]);
      }
    }
  }
});

test("the order of wishes is that of their time, and nobody leaves before their wish", () => {
  const spaced = all[0] as Windows;
  const wishes = [5, 1, 4, 1, 3].map((hour) => at("2026-10-24T06:00Z") + hour * 3_600_000);
  const answers = leave(spaced, wishes) as number[];
  for (const [i, wish] of wishes.entries()) expect(answers[i]).toBeGreaterThanOrEqual(wish);
  expect(
    [...answers].sort((a, b) => a - b).every((one, i, list) => i === 0 || one - (list[i - 1] as number) >= 300_000),
  ).toBe(true);
  expect(leave(alwaysOpen("Europe/Rome"), wishes)).toEqual(wishes);
});

test.each([
  { open: [{ days: ["mon"], from: "10:00", until: "10:00" }] },
  { open: [{ days: [], from: "10:00", until: "11:00" }] },
  { zone: "Nowhere/At" },
  { spacing: -1 },
  { closed: ["2026-02-30"] },
  { blackouts: [{ from: "2026-12-01T10:00Z", until: "2026-12-01T09:00Z" }] },
  { blackouts: [{ from: "yesterday", until: "2026-12-01T09:00Z" }] },
  { more: true },
])("%j is no window", (more) => {
  expect(windowsSchema.safeParse({ format: "elenco.windows/1", zone: "Europe/Rome", ...more }).success).toBe(false);
});
