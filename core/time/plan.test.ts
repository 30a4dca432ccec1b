import { readFileSync } from "node:fs";
import type { Calendar } from "./calendar.ts";
import { due } from "./due.ts";
import { plan } from "./plan.ts";

interface Case {
  calendar: number;
  at: string;
  now: string;
  since: string;
  publish: string;
  workflow: { mainLine: string[]; states: { key: string; take?: string; bypass?: string }[] };
  expect: { stops: { state: string; expected: string; reachBy: string }[] };
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
  const planned = plan(calendar, legs, leaves, Date.parse(one.publish));
  const wanted = one.expect.stops.slice(1).map(({ state, expected, reachBy }) => ({
    key: state,
    reachBy: Date.parse(reachBy),
    expected: Date.parse(expected),
  }));
  expect(planned).toEqual(wanted);
});
