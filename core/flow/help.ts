import type { Calendar } from "../time/calendar.ts";
import { openTime } from "../time/due.ts";
import { meterOf } from "../time/meter.ts";
import { groupBy } from "../words/group.ts";
import { type Forecast, forecast, type Question, type Stop } from "./forecast.ts";
import { ENOUGH, type LineQuestion, runsFor, SEED, stopsAt, travellersAt } from "./line.ts";
import type { Stay } from "./measure.ts";

const MINUTE = 60_000;
/** Less is no help: what is likely is not known to the quarter of an hour, in open minutes. */
const LEAST = 15;

/**
 * What might ease a stop: one more at work there, the nearest date first, handing some to who has less, or asking of
 * what is sent there that its remarks are settled.
 */
export type Ease = "place" | "order" | "spread" | "settled";

/** A stay by whose it was and when it ended. */
export interface Ended {
  piece: string;
  leftAt: number;
}

export interface HelpQuestion extends LineQuestion {
  /** The stops that could be eased; of these the one that holds the most is looked at. */
  among: readonly string[];
  /** How many are at work at each stop now, and how many would be were what waits there evened out. */
  places: Readonly<Record<string, number>>;
  spread: Readonly<Record<string, number>>;
  /** The stays at each stop that ended in a return and had been sent with remarks open, where no step asks otherwise. */
  caught: Readonly<Record<string, readonly Ended[]>>;
}

/** What one way of easing a stop would do. */
export interface Helped {
  ease: Ease;
  /** By how much sooner a piece that still passes the stop is likely to arrive, on average, in open minutes. */
  sooner: number;
  /** How many of those with a date are likely too late then, and as things are. */
  late: number;
  wasLate: number;
  /** When each is likely to arrive then, epoch milliseconds, beside now; those that gain the most first. */
  pieces: { id: string; now: number; then: number; publishAt: number | null }[];
}

/** What would ease the stop that holds the most; nothing where nothing would. */
export interface Help {
  stop: string;
  /** How many wait there, and how many are at work on them. */
  waiting: number;
  places: number;
  ways: Helped[];
}

/**
 * What would help at the stop that holds the most: the forecast is made as things are, with so many at work there as
 * are, and again with each thing changed. How long work takes there is told from waiting by letting what passed be
 * served by as many, in the order in which it came. A forecast foresees no returns; what fewer of them would do is
 * told from how long pieces took there until they had passed for good, beside the same without those returns.
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
  const askedAt = (changed: Omit<Stop, "state">, more: Partial<Question> = {}): Question => ({
    now,
    runs: runsFor(pieces.length, states.length),
    seed: SEED,
    pieces,
    states: states.map((one): Stop => (one.state === stop ? { state: stop, ...changed } : one)),
    ...more,
  });
  const asked = (capacity: number, more: Partial<Question> = {}) => askedAt({ takes, capacity }, more);
  const at = line.findIndex((one) => one.key === stop);
  const ahead = new Set(line.slice(0, at + 1).map((one) => one.key));
  const passes = pieces.map((one) => ahead.has(one.at));
  const lateOf = (found: readonly Forecast[]) =>
    found.filter(({ p50 }, i) => passes[i] && p50 > (pieces[i]?.publishAt ?? Number.POSITIVE_INFINITY)).length;
  const helped = (ease: Ease, before: readonly Forecast[], then: Question): Helped => {
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
      wasLate: lateOf(before),
      pieces: gains.sort((a, b) => b.gain - a.gain).map(({ gain: _, ...one }) => one),
    };
  };
  const as = forecast(calendar, asked(places));
  const evened = question.spread[stop] ?? places;
  const passed = passagesOf(calendar, question.stays, stop, now, question.caught[stop] ?? []);
  const spares = passed.length >= ENOUGH && passed.some(({ spared }) => spared > 0);
  const ways = [
    helped("place", as, asked(places + 1)),
    ...(waiting(stop) > places ? [helped("order", as, asked(places, { byWish: true }))] : []),
    ...(evened > places ? [helped("spread", as, asked(evened))] : []),
    ...(spares
      ? [
          helped(
            "settled",
            forecast(calendar, askedAt({ takes: passed.map((one) => one.took) })),
            askedAt({ takes: passed.map(({ took, spared }) => Math.max(0, took - spared)) }),
          ),
        ]
      : []),
  ];
  const better = ways.filter((one) => one.late < one.wasLate || (one.late === one.wasLate && one.sooner >= LEAST));
  better.sort((a, b) => b.wasLate - b.late - (a.wasLate - a.late) || b.sooner - a.sooner);
  return { stop, waiting: waiting(stop), places, ways: better };
}

/**
 * How long pieces took from when they first came to a stop until they had passed it for good, and how much of that went
 * to stays that ended in a return that would have been caught, with what followed until they were there again. In open
 * minutes, a row for each piece that has passed.
 *
 * @param caught those stays
 */
export function passagesOf(
  calendar: Calendar,
  stays: readonly Stay[],
  stop: string,
  now: number,
  caught: readonly Ended[],
): { took: number; spared: number }[] {
  const here = stays.filter(({ state, arrivedAt }) => state === stop && arrivedAt <= now);
  // Stays may be many and long: days are looked at once, not once for each.
  const meter = meterOf(
    calendar,
    here.reduce((first, one) => Math.min(first, one.arrivedAt), now),
  );
  const minutes = (from: number, until: number) => (meter.at(until) - meter.at(from)) / MINUTE;
  const ends = new Set(caught.map(({ piece, leftAt }) => `${piece} ${leftAt}`));
  return [...groupBy(here, (one) => one.piece).values()].flatMap((some) => {
    const visits = [...some].sort((a, b) => a.arrivedAt - b.arrivedAt);
    const [first, last] = [visits[0], visits.at(-1)];
    if (!first || last?.leftAt === undefined || last.leftAt > now || last.back) return [];
    const spared = visits.reduce((sum, { piece, arrivedAt, leftAt }, i) => {
      const again = visits[i + 1];
      return again && ends.has(`${piece} ${leftAt}`) ? sum + minutes(arrivedAt, again.arrivedAt) : sum;
    }, 0);
    return [{ took: minutes(first.arrivedAt, last.leftAt), spared }];
  });
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
