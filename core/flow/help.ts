import type { Calendar } from "../time/calendar.ts";
import { openTime } from "../time/due.ts";
import { meterOf } from "../time/meter.ts";
import { type Forecast, forecast, type Question, type Stop } from "./forecast.ts";
import { type LineQuestion, runsFor, SEED, stopsAt, travellersAt } from "./line.ts";
import type { Stay } from "./measure.ts";

const MINUTE = 60_000;
/** Less is no help: what is likely is not known to the quarter of an hour, in open minutes. */
const LEAST = 15;

/** What might ease a stop: one more at work there, the nearest date first, or handing some to who has less. */
export type Ease = "place" | "order" | "spread";

export interface HelpQuestion extends LineQuestion {
  /** The stops that could be eased; of these the one that holds the most is looked at. */
  among: readonly string[];
  /** How many are at work at each stop now, and how many would be were what waits there evened out. */
  places: Readonly<Record<string, number>>;
  spread: Readonly<Record<string, number>>;
}

/** What one way of easing a stop would do. */
export interface Helped {
  ease: Ease;
  /** By how much sooner a piece that still passes the stop is likely to arrive, on average, in open minutes. */
  sooner: number;
  /** How many of those with a date are likely too late then. */
  late: number;
  /** When each is likely to arrive then, epoch milliseconds, beside now; those that gain the most first. */
  pieces: { id: string; now: number; then: number; publishAt: number | null }[];
}

/** What would ease the stop that holds the most; nothing where nothing would. */
export interface Help {
  stop: string;
  /** How many wait there, and how many are at work on them. */
  waiting: number;
  places: number;
  /** How many of those with a date are likely too late as things are. */
  late: number;
  ways: Helped[];
}

/**
 * What would help at the stop that holds the most: the forecast is made as things are, with so many at work there as
 * are, and again with each thing changed. How long work takes there is told from waiting by letting what passed be
 * served by as many, in the order in which it came.
 *
 * @returns null where nothing waits at any stop that could be eased
 * @throws RangeError where the calendar has too little open time
 */
export function helpFor(question: HelpQuestion): Help | null {
  const { calendar, now, among, line } = question;
  const pieces = travellersAt(question, now);
  const waiting = (key: string) => pieces.filter((one) => one.at === key).length;
  const stop = [...among].sort((a, b) => waiting(b) - waiting(a))[0];
  if (stop === undefined || waiting(stop) === 0) return null;
  const places = Math.max(1, question.places[stop] ?? 1);
  const { states } = stopsAt(question, now);
  const own = states.find((one) => one.state === stop)?.takes ?? [];
  const takes = workOf(calendar, question.stays, stop, places, now) ?? own;
  const asked = (capacity: number, more: Partial<Question> = {}): Question => ({
    now,
    runs: runsFor(pieces.length, states.length),
    seed: SEED,
    pieces,
    states: states.map((one): Stop => (one.state === stop ? { state: stop, takes, capacity } : one)),
    ...more,
  });
  const at = line.findIndex((one) => one.key === stop);
  const ahead = new Set(line.slice(0, at + 1).map((one) => one.key));
  const passes = pieces.map((one) => ahead.has(one.at));
  const before = forecast(calendar, asked(places));
  const lateOf = (found: readonly Forecast[]) =>
    found.filter(({ p50 }, i) => passes[i] && p50 > (pieces[i]?.publishAt ?? Number.POSITIVE_INFINITY)).length;
  const helped = (ease: Ease, then: Question): Helped => {
    const after = forecast(calendar, then);
    const gains = after.flatMap(({ id, p50 }, i) => {
      const was = before[i]?.p50 ?? p50;
      const gain = p50 <= was ? openTime(calendar, p50, was) : -openTime(calendar, was, p50);
      return passes[i] ? [{ id, now: was, then: p50, publishAt: pieces[i]?.publishAt ?? null, gain }] : [];
    });
    const sum = gains.reduce((all, { gain }) => all + gain, 0);
    return {
      ease,
      sooner: Math.round(sum / Math.max(1, gains.length) / MINUTE),
      late: lateOf(after),
      pieces: gains.sort((a, b) => b.gain - a.gain).map(({ gain: _, ...one }) => one),
    };
  };
  const late = lateOf(before);
  const evened = question.spread[stop] ?? places;
  const ways = [
    helped("place", asked(places + 1)),
    ...(waiting(stop) > places ? [helped("order", asked(places, { byWish: true }))] : []),
    ...(evened > places ? [helped("spread", asked(evened))] : []),
  ];
  const better = ways.filter((one) => one.late < late || (one.late === late && one.sooner >= LEAST));
  better.sort((a, b) => a.late - b.late || b.sooner - a.sooner);
  return { stop, waiting: waiting(stop), places, late, ways: better };
}

/**
 * How long work at a stop took, in open minutes: each that passed is begun when it came, or when one of so many places
 * was free. What left before its turn was worked on beside the others, for all its time.
 *
 * @returns null where nothing has left it
 */
export function workOf(
  calendar: Calendar,
  stays: readonly Stay[],
  stop: string,
  places: number,
  now: number,
): number[] | null {
  const some = stays.filter(({ state }) => state === stop).sort((a, b) => a.arrivedAt - b.arrivedAt);
  const [first] = some;
  if (!first) return null;
  const meter = meterOf(calendar, first.arrivedAt);
  const free = new Float64Array(places);
  const work: number[] = [];
  for (const { arrivedAt, leftAt } of some) {
    const came = meter.at(arrivedAt);
    const ends = meter.at(leftAt ?? now);
    const next = free.indexOf(Math.min(...free));
    const begins = Math.max(came, free[next] ?? 0);
    const beside = begins >= ends;
    if (!beside) free[next] = ends;
    if (leftAt !== undefined && leftAt <= now) work.push((ends - (beside ? came : begins)) / MINUTE);
  }
  return work.length > 0 ? work : null;
}
