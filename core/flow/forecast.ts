import { z } from "zod";
import type { Calendar } from "../time/calendar.ts";
import { type Meter, meterOf } from "../time/meter.ts";
import { type Chance, chance } from "./chance.ts";
import { nearestRank, toThree } from "./rank.ts";

const MINUTE = 60_000;

/** A stop of a line as the forecast sees it. */
export interface Stop {
  state: string;
  /** How long pieces were seen to take there, in working minutes; the last stop's do not matter. */
  takes: readonly number[];
  /** How many can be worked on at once; absent where as many as there are. */
  capacity?: number | undefined;
}

/** A piece on its way. Instants in epoch milliseconds. */
export interface Traveller {
  id: string;
  at: string;
  since: number;
  publishAt?: number | undefined;
}

/** When a piece is likely to reach the last stop. */
export interface Forecast {
  id: string;
  /** Half of the runs brought it there by then, and 85 of 100. */
  p50: number;
  p85: number;
  /** The share of runs that were not after its publish date; absent without one. */
  onTime?: number;
}

export interface Question {
  now: number;
  runs: number;
  seed: number;
  /** The line's stops in order; nothing is returned. */
  states: readonly Stop[];
  pieces: readonly Traveller[];
  /** Whether of those that wait at a stop now the first wished for are served first; else those that came first. */
  byWish?: boolean;
}

/**
 * When pieces are likely to arrive, from how long pieces took before: in each run every piece is given, for each stop
 * it still has to pass, a take drawn evenly from those seen there. Places at a stop go to those already there by when
 * they came, then to who arrives first; work goes on in open time alone. What was drawn for a piece does not hang on
 * how many places there are, so that two answers with other places compare.
 *
 * @returns a row for each piece, in the order they were given
 * @throws RangeError where the calendar has too little open time
 */
export function forecast(calendar: Calendar, question: Question): Forecast[] {
  const { now, runs, states, pieces } = question;
  const meter = meterFrom(calendar, question);
  const open = meter.at(now);
  const arrivals = pieces.map(() => new Float64Array(runs));
  simulate(meter, question, (stop, run, reached) => {
    if (stop < states.length - 2) return;
    for (let i = 0; i < reached.length; i++) (arrivals[i] as Float64Array)[run] = reached[i] as number;
  });
  return pieces.map(({ id, publishAt }, i) => {
    const some = (arrivals[i] as Float64Array).sort();
    const instant = (share: number) => Math.max(now, meter.instantOf(open + (nearestRank(some, share) ?? 0)));
    const inTime = publishAt !== undefined && {
      onTime: shareBy(some, publishAt < now ? -1 : meter.at(publishAt) - open),
    };
    return { id, p50: instant(0.5), p85: instant(0.85), ...inTime };
  });
}

/** When a piece is likely to come to a stop: half of the runs, and the middle eight of ten of them. */
export interface Likely {
  state: string;
  p10: number;
  p50: number;
  p90: number;
}

/**
 * The way each piece is likely to go on: when it comes to each stop it still has to reach, as {@link forecast} finds
 * the last of them.
 *
 * @returns a row for each piece, in the order they were given
 */
export function foresee(calendar: Calendar, question: Question): { id: string; stops: Likely[] }[] {
  const { now, runs, states, pieces } = question;
  const meter = meterFrom(calendar, question);
  const open = meter.at(now);
  const places = new Map(states.map(({ state }, i) => [state, i]));
  const own = pieces.map(({ at }) => places.get(at) ?? 0);
  const left = states.slice(1).map(() => pieces.map(() => new Float64Array(runs)));
  simulate(meter, question, (stop, run, reached) => {
    const under = left[stop] as Float64Array[];
    for (let i = 0; i < reached.length; i++) (under[i] as Float64Array)[run] = reached[i] as number;
  });
  return pieces.map(({ id }, i) => ({
    id,
    stops: states.slice(own[i] as number).flatMap((_, n): Likely[] => {
      const stop = (own[i] as number) + n;
      const next = states[stop + 1];
      const some = left[stop]?.[i]?.sort();
      if (!next || !some) return [];
      const instant = (share: number) => Math.max(now, meter.instantOf(open + (nearestRank(some, share) ?? 0)));
      return [{ state: next.state, p10: instant(0.1), p50: instant(0.5), p90: instant(0.9) }];
    }),
  }));
}

const meterFrom = (calendar: Calendar, { now, pieces }: Question) =>
  meterOf(
    calendar,
    pieces.reduce((first, one) => Math.min(first, one.since), now),
  );

/** Plays all runs. @param seen is shown, after each stop of each run, how long after now (open time) each piece left it */
function simulate(
  meter: Meter,
  { now, runs, seed, states, pieces, byWish = false }: Question,
  seen: (stop: number, run: number, reached: Float64Array) => void,
): void {
  const line = lineOf(meter, meter.at(now), states, pieces, byWish);
  const draw = chance(seed);
  const reached = new Float64Array(pieces.length);
  const takes = line.map(() => new Float64Array(pieces.length));
  for (let run = 0; run < runs; run++) {
    for (const [i, stop] of line.entries()) drawTakes(stop, takes[i] as Float64Array, draw);
    reached.fill(0);
    for (const [i, stop] of line.entries()) {
      pass(stop, takes[i] as Float64Array, reached);
      seen(i, run, reached);
    }
  }
}

/** The share of arrivals that are not after a bound. */
function shareBy(sorted: Float64Array, bound: number): number {
  return toThree(firstAbove(sorted, bound) / sorted.length);
}

/** A stop with all that passes it, made ready once for every run. Lengths are open milliseconds. */
interface Ready {
  /** The takes seen there, the least first. */
  takes: Float64Array;
  /** The pieces that are there, in the order in which they are served, by their place in the list. */
  here: Int32Array;
  /** Of each of those how long it has been worked on; negative where it has not been begun. */
  passed: Float64Array;
  /** Of each of those the first of the takes that is longer. */
  longer: Int32Array;
  /** The pieces that will come. */
  come: Int32Array;
  /** When each place is free again, a heap whose first is free the soonest; null where there are as many as are asked. */
  places: Float64Array | null;
  /** Room to put in order who comes: by when, then by the rank of their ids. */
  order: Float64Array;
  ranks: Int32Array;
  byRank: Int32Array;
}

const byId = (a: { id: string }, b: { id: string }) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

const byPublishAt = (a: Traveller, b: Traveller) =>
  (a.publishAt ?? Number.MAX_SAFE_INTEGER) - (b.publishAt ?? Number.MAX_SAFE_INTEGER);

/** The stops that are passed, in order. */
function lineOf(
  meter: Meter,
  open: number,
  states: readonly Stop[],
  pieces: readonly Traveller[],
  byWish: boolean,
): Ready[] {
  const listed = pieces.map((one, index) => ({ ...one, index }));
  const byRank = Int32Array.from([...listed].sort(byId), (one) => one.index);
  const ranks = new Int32Array(pieces.length);
  for (const [rank, index] of byRank.entries()) ranks[index] = rank;
  const served = [...listed].sort((a, b) => a.since - b.since || byId(a, b));
  const before = new Set<number>();
  return states.slice(0, -1).map(({ state, takes: seen, capacity = Number.POSITIVE_INFINITY }) => {
    const takes = Float64Array.from(seen, (minutes) => Math.round(minutes * MINUTE)).sort();
    const came = served.filter((one) => one.at === state);
    // What is being worked on stays so; only what waits is put in another order.
    const there = byWish ? [...came.slice(0, capacity), ...came.slice(capacity).sort(byPublishAt)] : came;
    const passed = Float64Array.from(there, ({ since }, i) => (i < capacity ? open - meter.at(since) : -1));
    const come = Int32Array.from(before);
    for (const { index } of there) before.add(index);
    return {
      takes,
      here: Int32Array.from(there, (one) => one.index),
      passed,
      longer: Int32Array.from(passed, (length) => (length < 0 ? 0 : firstAbove(takes, length))),
      come,
      places: capacity === Number.POSITIVE_INFINITY ? null : new Float64Array(Math.min(capacity, pieces.length)),
      order: new Float64Array(come.length),
      ranks,
      byRank,
    };
  });
}

/** Draws for every piece that passes a stop what it still takes there, from when it is begun, or from now. */
function drawTakes({ takes: seen, here, passed, longer, come }: Ready, takes: Float64Array, draw: Chance): void {
  for (let i = 0; i < here.length; i++) {
    // Of what is begun only those takes are left that are longer than what has passed.
    const from = longer[i] as number;
    const left = seen.length - from;
    takes[here[i] as number] = left === 0 ? 0 : (seen[from + draw(left)] as number) - Math.max(0, passed[i] as number);
  }
  const all = seen.length;
  for (let i = 0; i < come.length; i++) takes[come[i] as number] = all === 0 ? 0 : (seen[draw(all)] as number);
}

/** Nothing is foreseen beyond twenty years of open time. */
const HORIZON = 20 * 365 * 86_400_000;

/** Lets all that has come to a stop pass it: `reached` holds when each came, and then when it leaves. */
function pass({ here, come, places, order, ranks, byRank }: Ready, takes: Float64Array, reached: Float64Array): void {
  if (places === null) {
    for (const index of here) leave(index, reached[index] as number, takes, reached);
    for (const index of come) leave(index, reached[index] as number, takes, reached);
    return;
  }
  let served = 0;
  for (const index of here) serve(index, served++, places, takes, reached);
  // When each comes and the rank of its id make one number, so that numbers are put in order and nothing is compared.
  const many = ranks.length;
  for (let i = 0; i < come.length; i++) {
    const index = come[i] as number;
    order[i] = Math.floor(reached[index] as number) * many + (ranks[index] as number);
  }
  order.sort();
  for (let i = 0; i < order.length; i++)
    serve(byRank[(order[i] as number) % many] as number, served++, places, takes, reached);
}

/** Lets a piece leave once it has been worked on from an instant on. @returns when */
function leave(index: number, from: number, takes: Float64Array, reached: Float64Array): number {
  const at = Math.min(HORIZON, from + (takes[index] as number));
  reached[index] = at;
  return at;
}

/** Gives a piece the place that is free the soonest. @param served how many had one before */
function serve(index: number, served: number, places: Float64Array, takes: Float64Array, reached: Float64Array): void {
  const came = reached[index] as number;
  if (served < places.length) rise(places, served, leave(index, came, takes, reached));
  else sink(places, leave(index, Math.max(came, places[0] as number), takes, reached));
}

/** Puts another value into a heap of so many, the least first. */
function rise(heap: Float64Array, size: number, value: number): void {
  let i = size;
  for (let above = (i - 1) >> 1; i > 0 && (heap[above] as number) > value; above = (i - 1) >> 1) {
    heap[i] = heap[above] as number;
    i = above;
  }
  heap[i] = value;
}

/** Puts a value into a full heap in place of its first. */
function sink(heap: Float64Array, value: number): void {
  let i = 0;
  for (let below = 1; below < heap.length; below = 2 * i + 1) {
    if (below + 1 < heap.length && (heap[below + 1] as number) < (heap[below] as number)) below += 1;
    if ((heap[below] as number) >= value) break;
    heap[i] = heap[below] as number;
    i = below;
  }
  heap[i] = value;
}

/** The place of the first of some sorted values that is above a bound. */
function firstAbove(sorted: Float64Array, bound: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sorted[middle] as number) > bound) high = middle;
    else low = middle + 1;
  }
  return low;
}

const key = z.string().min(1, "expected a key").max(200);

/** So many takes are drawn at most in one answer. */
const DRAWS = 50_000_000;

/** What a forecast is asked with, instants as a command line reads them. @param instant reads an instant */
export const questionSchema = (instant: z.ZodType<number>) =>
  z
    .strictObject({
      now: instant,
      runs: z.int().min(1, "expected at least one run").max(100_000),
      seed: z.int().min(0).max(4_294_967_295),
      states: z
        .array(
          z.strictObject({
            state: key,
            takes: z.array(z.number().min(0, "expected minutes").max(10_000_000)).max(100_000),
            capacity: z.int().min(1, "expected at least one place").max(100_000).optional(),
          }),
        )
        .min(2, "expected at least two stops")
        .max(100),
      pieces: z.array(z.strictObject({ id: key, at: key, since: instant, publishAt: instant.optional() })).max(10_000),
    })
    .superRefine(({ now, runs, states, pieces }, context) => {
      const amiss = (path: (string | number)[], message: string) => context.addIssue({ code: "custom", path, message });
      const keys = new Set(states.map((one) => one.state));
      if (keys.size < states.length) amiss(["states"], "expected each stop once");
      if (new Set(pieces.map((one) => one.id)).size < pieces.length) amiss(["pieces"], "expected each piece once");
      for (const [i, { at, since }] of pieces.entries()) {
        if (!keys.has(at)) amiss(["pieces", i, "at"], "expected one of the stops");
        if (since > now) amiss(["pieces", i, "since"], "expected an instant not after now");
      }
      if (runs * states.length * pieces.length > DRAWS)
        amiss(["runs"], `expected fewer runs: more than ${DRAWS} takes would be drawn`);
    });
