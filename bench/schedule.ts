import { Temporal } from "temporal-polyfill";
import { type Carried, type Setting, wouldBe } from "#core/release/carry.ts";
import { lookoutSchema } from "#core/release/findings.ts";
import { leave, type Windows } from "#core/release/window.ts";
import { windowsSchema } from "#core/release/windows-format.ts";
import { calendar } from "#demo/setting.ts";
import { medianTimes, percentile, type Row } from "./measure.ts";

const WISHES = 10_000;
const LEAVINGS = 3_000;
const DAY = 86_400_000;
const MINUTE = 60_000;

const nights = (): Windows =>
  windowsSchema.parse({
    format: "elenco.windows/1",
    zone: "Europe/Rome",
    open: [{ days: ["mon", "tue", "wed", "thu"], from: "22:00", until: "06:00" }],
    closed: ["2026-12-24", "2026-12-25"],
  });

/** When 10,000 wishes over a year leave, beside a loop written by hand for these windows alone. */
export async function windows(): Promise<Row> {
  const from = Date.parse("2026-01-05T00:00Z");
  const wishes = Array.from({ length: WISHES }, (_, i) => from + ((i * 7919) % (360 * DAY)));
  const naive = () => {
    const open: [number, number][] = [];
    for (let day = Temporal.PlainDate.from("2026-01-04"); open.length < 210; day = day.add({ days: 1 })) {
      if (day.dayOfWeek > 4) continue;
      const at = (date: Temporal.PlainDate, hour: number) =>
        date.toZonedDateTime({ timeZone: "Europe/Rome", plainTime: new Temporal.PlainTime(hour) }).epochMilliseconds;
      open.push([at(day, 22), at(day.add({ days: 1 }), 6)]);
    }
    return wishes.map((wish) => {
      for (const [start, end] of open) if (end > wish) return Math.max(start, wish);
      return null;
    });
  };
  const [took = 0, bare = 0] = await medianTimes([() => leave(nights(), wishes), naive], 9);
  return {
    what: `when ${WISHES} wishes leave by their windows`,
    measured: `${took.toFixed(0)} ms`,
    beside: `${bare.toFixed(0)} ms a loop for these alone`,
    ratio: took / bare,
    aim: "≤ 5 and ≤ 300 ms",
  };
}

/** What a drag would do, said anew for each of a quarter's days among 3,000 releases. */
export async function carrying(): Promise<Row> {
  const from = Date.parse("2026-11-23T00:00Z");
  const leavings = Array.from({ length: LEAVINGS }, (_, i) => ({
    id: `r${i}`,
    at: from + ((i * 7919) % 91) * DAY + ((i * 31) % 1440) * MINUTE,
    kindId: `k${i % 5}`,
    sectionIds: [`s${i % 12}`],
    subject: `place ${i % 200}`,
  }));
  const setting: Setting = {
    calendar,
    windows: { ...nights(), spacing: 5 },
    lookout: lookoutSchema.parse({
      perDay: 40,
      apart: 1,
      subject: "place",
      rhythms: [{ of: "section", id: "s3", days: 3 }],
    }),
    leavings,
    findings: [],
    span: { from, until: from + 91 * DAY },
    zone: "Europe/Rome",
  };
  const carried: Carried = {
    ...(leavings[0] as (typeof leavings)[number]),
    way: {
      legs: ["draft", "check", "copy", "ready", "live"].map((key) => ({ key, take: key === "live" ? null : "2wd" })),
      since: from,
      leaves: from + DAY,
    },
  };
  const times = Array.from({ length: 91 }, (_, day) => {
    const begun = performance.now();
    wouldBe(carried, from + day * DAY + 12 * 60 * MINUTE, setting);
    return performance.now() - begun;
  });
  const written = JSON.stringify(leavings);
  const [bare = 0] = await medianTimes([() => JSON.parse(written)], 9);
  return {
    what: `what a drag would do, among ${LEAVINGS} releases, p95 of 91 days`,
    measured: `${percentile(times, 0.95).toFixed(0)} ms`,
    beside: `${bare.toFixed(1)} ms to parse them`,
    ratio: percentile(times, 0.95) / bare,
    aim: "≤ 50 ms",
  };
}
