import { readFileSync } from "node:fs";
import type { Calendar } from "./calendar.ts";
import { due } from "./due.ts";
import { plan } from "./plan.ts";
import { saySlack, slack } from "./slack.ts";

interface Case {
  calendar: number;
  at: string;
  now: string;
  since: string;
  publish: string;
  workflow: { mainLine: string[]; states: { key: string; take?: string; bypass?: string }[] };
  expect: { stops: { state: string; expected: string; reachBy: string; leaveBy?: string }[]; slackMinutes: number };
}
const { calendars, cases } = JSON.parse(readFileSync("core/time/cases/plan.json", "utf8")) as {
  calendars: Calendar[];
  cases: Case[];
};

test.each(cases.map((one, i) => [i, one] as const))("plan %i: every stop ahead, backwards and forwards", (_, one) => {
  const calendar = { closed: [], special: [], ...calendars[one.calendar] } as Calendar;
  const { mainLine, states } = one.workflow;
  const legs = mainLine
    .slice(mainLine.indexOf(one.at))
    .map((key) => states.find((state) => state.key === key))
    .filter((state) => state !== undefined)
    .filter((state) => state.key === one.at || !state.bypass)
    .map(({ key, take }) => ({ key, take: take ?? null }));
  const here = legs[0]?.take;
  const since = Date.parse(one.since);
  const leaves = Math.max(Date.parse(one.now), here ? due(calendar, since, here) : since);
  const planned = plan(calendar, legs, { since, leaves }, Date.parse(one.publish));
  const wanted = one.expect.stops.map(({ state, expected, reachBy, leaveBy }) => ({
    key: state,
    reachBy: Date.parse(reachBy),
    leaveBy: leaveBy ? Date.parse(leaveBy) : null,
    expected: Date.parse(expected),
  }));
  expect(planned).toEqual(wanted);
  const last = planned.at(-1)?.expected ?? since;
  expect(slack(calendar, last, Date.parse(one.publish)) / 60_000).toBe(one.expect.slackMinutes);
});

const rome = calendars[0] as Calendar;
const at = (text: string) => Date.parse(text);
test.each([
  ["2026-11-23T08:00Z", "2026-11-25T08:00Z", "2 working days to spare"],
  ["2026-11-23T08:00Z", "2026-11-24T15:00Z", "one working day to spare"],
  ["2026-11-23T08:00Z", "2026-11-23T11:30Z", "3 working hours to spare"],
  ["2026-11-23T08:00Z", "2026-11-23T08:20Z", "20 minutes to spare"],
  ["2026-11-23T11:30Z", "2026-11-23T08:00Z", "4 working hours too late"],
  ["2026-11-25T08:01Z", "2026-11-23T08:00Z", "3 working days too late"],
  ["2026-11-21T08:00Z", "2026-11-22T08:00Z", "just in time"],
])("expected %s, wished for %s: %s", (expected, wished, says) => {
  const calendar = { ...rome, closed: [], special: [] };
  expect(saySlack(calendar, slack(calendar, at(expected), at(wished)))).toBe(says);
});
