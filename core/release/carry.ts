import type { Calendar } from "../time/calendar.ts";
import { type Leg, plan } from "../time/plan.ts";
import { slack } from "../time/slack.ts";
import { type Finding, type Leaving, type Lookout, lookOver } from "./findings.ts";
import { leaveBeside, type Windows } from "./window.ts";

/** Something that is carried to another day of the schedule. */
export interface Carried extends Leaving {
  /** The stops it has still to pass, the present one first, and when it leaves there; null where it is ready. */
  way: { legs: readonly Leg[]; since: number; leaves: number } | null;
}

/** What a schedule is judged by. */
export interface Setting {
  calendar: Calendar;
  windows: Windows;
  lookout: Lookout;
  /** Everything that leaves in the span that is looked at. */
  leavings: readonly Leaving[];
  /** What is found in them as they are. */
  findings: readonly Finding[];
  span: { from: number; until: number };
  zone: string;
}

/** What a move would do. Epoch milliseconds; lengths in open milliseconds. */
export interface WouldBe {
  /** When it would leave by the windows; null where nothing opens. */
  leaves: number | null;
  /** The stops ahead that would be reached too late, with when they would have to be reached and how late they are. */
  late: { key: string; reachBy: number; by: number }[];
  /** What is to spare before it leaves; negative where it would miss. Null where it is ready. */
  slack: number | null;
  /** What it would clash with that it does not clash with now. */
  clashes: Extract<Finding, { ids: string[] }>[];
}

/** What would come of something leaving at another time. @param wish epoch milliseconds */
export function wouldBe(carried: Carried, wish: number, setting: Setting): WouldBe {
  const { calendar, windows, lookout, span, zone } = setting;
  const others = setting.leavings.filter((one) => one.id !== carried.id);
  const leaves = leaveBeside(windows, wish, windows.spacing > 0 ? others.map((one) => one.at) : []);
  const at = leaves ?? wish;
  const before = new Set(clashesOf(setting.findings, carried.id).map(nameOf));
  const after = clashesOf(lookOver([...others, { ...carried, at }], lookout, span, zone), carried.id);
  return {
    leaves,
    ...wayTo(carried, at, calendar),
    clashes: after.filter((one) => !before.has(nameOf(one))),
  };
}

type Clash = WouldBe["clashes"][number];
const clashesOf = (findings: readonly Finding[], id: string) =>
  findings.filter((one): one is Clash => "ids" in one && one.ids.includes(id));
const nameOf = ({ code, ids }: Clash) => `${code} ${ids.toSorted().join(" ")}`;

function wayTo({ way }: Carried, at: number, calendar: Calendar): Pick<WouldBe, "late" | "slack"> {
  if (!way) return { late: [], slack: null };
  const planned = plan(calendar, way.legs, way, at);
  const late = planned.slice(1).flatMap(({ key, reachBy, expected }) => {
    if (reachBy === null || expected <= reachBy) return [];
    return [{ key, reachBy, by: -slack(calendar, expected, reachBy) }];
  });
  return { late, slack: slack(calendar, planned.at(-1)?.expected ?? way.leaves, at) };
}
