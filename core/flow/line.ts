import type { Calendar } from "../time/calendar.ts";
import { due, openTime } from "../time/due.ts";
import { type Forecast, forecast, foresee, type Likely, type Stop, type Traveller } from "./forecast.ts";
import { type Measured, measure, type Stay } from "./measure.ts";
import { type Sheet, waysOf } from "./ways.ts";
import { type Week, weeksOf } from "./weeks.ts";

const MINUTE = 60_000;
const DAY = 86_400_000;

/** Fewer takes than these say little: the stop's own time allowed is taken then. */
export const ENOUGH = 8;
/** So many takes of a stop are drawn from, the latest. */
const TAKES = 400;
/** So far back takes are taken from, in days. */
export const SEEN_DAYS = 182;
const RUNS = 1_000;
/** Of every forecast of a line the same, so that what differs is not chance. */
export const SEED = 20_261;
/** With many pieces there are fewer runs, so that no more takes than these are drawn; but so many runs at least. */
const [DRAWS, LEAST_RUNS] = [6_000_000, 40];
/** So long ago the forecast is made again, to be held against what happened, in days. */
const BACK = 28;

/** A stop of the main line, as far as its flow is concerned. */
export interface LineStop {
  key: string;
  /** The time allowed there, as workflows say it; null where none is. */
  take: string | null;
}

/** What the flow of a line is computed from. Instants in epoch milliseconds. */
export interface LineQuestion {
  calendar: Calendar;
  now: number;
  /** The period shown; it ends at `now` or before. */
  from: number;
  until: number;
  /** The main line in order, switched-off stops left out. */
  line: readonly LineStop[];
  /** Everything known of the pieces, also before the period. */
  stays: readonly Stay[];
  /** Of pieces in flight the date they are wished for, by id. */
  wished: Readonly<Record<string, number>>;
  /** Of so many pieces the ways are drawn, the latest to move, and what is likely is said, the likeliest late first. */
  drawn: number;
}

/** A piece on the line with the way it is likely to go on. */
export interface LikelyWay extends Forecast {
  at: string;
  since: number;
  publishAt: number | null;
  /** When it is likely to come to each stop it still has to reach. */
  stops: Likely[];
}

/** A line's flow: what its stops held in a period and the one before, the ways of its pieces, and what is likely. */
export interface LineFlow {
  measured: Measured[];
  before: Measured[];
  sheet: Sheet;
  /** What it let go, held and sent back week by week. */
  weeks: Week[];
  likely: LikelyWay[];
  /** How many are at each stop, and how many of them for longer than it has time. */
  there: Record<string, { all: number; over: number }>;
  /** How many have a date, and how many of those are likely too late. */
  dated: { all: number; late: number };
  /** From how many pieces the takes of each stop come; nothing where its time allowed stands in for them. */
  seen: Record<string, number>;
  /** The stop that is likely to hold the most for it, and when; null where none will hold more than now. */
  jam: { state: string; at: number; holds: number } | null;
  /** How the forecast of four weeks ago held: of so many pieces that have arrived, so many by when 85 of 100 should. */
  held: { of: number; within: number } | null;
}

/** Computes the flow of a line. @throws RangeError where the calendar has too little open time */
export function lineFlow(question: LineQuestion): LineFlow {
  const { calendar, from, until, line, stays, drawn } = question;
  const keys = line.map((one) => one.key);
  const { likely, seen } = likelyOn(question);
  const dated = likely.filter((one) => one.publishAt !== null);
  return {
    measured: measure(calendar, { from, until }, stays),
    before: measure(calendar, { from: from - (until - from), until: from }, stays),
    weeks: weeksOf(calendar, keys, { from, until }, stays),
    sheet: waysOf(keys, latest(stays, from, until, drawn), until),
    likely: [...likely].sort(byMargin).slice(0, drawn),
    there: thereNow(question, likely),
    dated: { all: dated.length, late: dated.filter(({ p50, publishAt }) => p50 > (publishAt ?? 0)).length },
    seen,
    jam: jamOf(keys, likely),
    held: heldOf(question),
  };
}

/** The likeliest to be late first, then who arrives first. */
const byMargin = (a: LikelyWay, b: LikelyWay) => marginOf(a) - marginOf(b) || a.p50 - b.p50;
const NO_DATE = 1e15;
const marginOf = ({ publishAt, p50 }: LikelyWay) => (publishAt === null ? NO_DATE : publishAt - p50);

function thereNow({ calendar, now, line }: LineQuestion, likely: readonly LikelyWay[]): LineFlow["there"] {
  return Object.fromEntries(
    line.slice(0, -1).map(({ key, take }) => {
      const some = likely.filter((one) => one.at === key);
      const over = take === null ? [] : some.filter(({ since }) => due(calendar, since, take) < now);
      return [key, { all: some.length, over: over.length }];
    }),
  );
}

/** How many runs of a forecast so many pieces and stops are worth. */
export const runsFor = (pieces: number, stops: number) =>
  Math.max(LEAST_RUNS, Math.min(RUNS, Math.floor(DRAWS / Math.max(1, pieces * stops))));

/** What is likely of every piece on a line, and from how many pieces it comes. @throws RangeError as {@link lineFlow} does */
export function likelyOn(question: LineQuestion): Pick<LineFlow, "likely" | "seen"> {
  const { calendar, now } = question;
  const pieces = travellersAt(question, now);
  const { states, seen } = stopsAt(question, now);
  const asked = { now, runs: runsFor(pieces.length, states.length), seed: SEED, states, pieces };
  const ways = foresee(calendar, asked);
  const likely = forecast(calendar, asked).map((one, i): LikelyWay => {
    const { at = "", since = now, publishAt = null } = pieces[i] ?? {};
    return { ...one, at, since, publishAt, stops: ways[i]?.stops ?? [] };
  });
  return { likely, seen };
}

/** The stays within a period of those pieces that moved last. */
function latest(stays: readonly Stay[], from: number, until: number, most: number): Stay[] {
  const within = stays.filter(({ arrivedAt, leftAt = until }) => arrivedAt < until && leftAt >= from);
  const moved = new Map<string, number>();
  for (const { piece, arrivedAt } of within) moved.set(piece, Math.max(arrivedAt, moved.get(piece) ?? 0));
  const shown = new Set(
    [...moved]
      .sort((a, b) => b[1] - a[1])
      .slice(0, most)
      .map(([piece]) => piece),
  );
  return within.filter(({ piece }) => shown.has(piece));
}

/** The pieces that were on the line at an instant, short of its end. */
export function travellersAt({ line, stays, wished }: LineQuestion, at: number): Traveller[] {
  const ahead = new Set(line.slice(0, -1).map((one) => one.key));
  return stays
    .filter(
      ({ state, arrivedAt, leftAt }) => ahead.has(state) && arrivedAt <= at && (leftAt === undefined || leftAt > at),
    )
    .map(({ piece, state, arrivedAt }) => ({
      id: piece,
      at: state,
      since: arrivedAt,
      ...(wished[piece] !== undefined && { publishAt: wished[piece] }),
    }));
}

/** The stops with the takes seen before an instant, and how many there were. */
export function stopsAt(
  { calendar, line, stays }: LineQuestion,
  at: number,
): { states: Stop[]; seen: Record<string, number> } {
  const some = new Map<string, Stay[]>(line.map(({ key }) => [key, []]));
  for (const one of stays)
    if (one.leftAt !== undefined && one.leftAt <= at && one.leftAt > at - SEEN_DAYS * DAY)
      some.get(one.state)?.push(one);
  const seen: Record<string, number> = {};
  const states = line.map(({ key, take }): Stop => {
    const passed = (some.get(key) ?? []).sort((a, b) => (b.leftAt ?? 0) - (a.leftAt ?? 0)).slice(0, TAKES);
    const enough = passed.length >= ENOUGH;
    seen[key] = enough ? passed.length : 0;
    if (enough)
      return { state: key, takes: passed.map((one) => openTime(calendar, one.arrivedAt, one.leftAt ?? at) / MINUTE) };
    return { state: key, takes: take === null ? [] : [openTime(calendar, at, due(calendar, at, take)) / MINUTE] };
  });
  return { states, seen };
}

/** Where more will wait than now, the most of all, by the middle of what is likely. */
function jamOf(keys: readonly string[], likely: readonly LikelyWay[]): LineFlow["jam"] {
  let worst: LineFlow["jam"] = null;
  for (const key of keys.slice(0, -1)) {
    const comes: number[] = [];
    const goes: number[] = [];
    for (const { at, stops } of likely) {
      const next = at === key ? 0 : stops.findIndex((one) => one.state === key) + 1;
      if (next === 0 && at !== key) continue;
      comes.push(at === key ? 0 : (stops[next - 1]?.p50 ?? 0));
      goes.push(stops[next]?.p50 ?? 0);
    }
    const there = comes.filter((one) => one === 0).length;
    const came = Float64Array.from(comes).sort();
    const left = Float64Array.from(goes).sort();
    let gone = 0;
    for (const [i, at] of came.entries()) {
      // Of those that come at once the last counts all.
      if (at === 0 || came[i + 1] === at) continue;
      while (gone < left.length && (left[gone] ?? 0) <= at) gone += 1;
      const holds = i + 1 - gone;
      if (holds > there && holds > (worst?.holds ?? 1)) worst = { state: key, at, holds };
    }
  }
  return worst;
}

/** Makes the forecast as it would have been four weeks ago, and holds it against what happened. */
function heldOf(question: LineQuestion): LineFlow["held"] {
  const { calendar, now, line, stays } = question;
  const at = now - BACK * DAY;
  const pieces = travellersAt(question, at);
  const last = line.at(-1)?.key;
  const arrived = new Map<string, number>();
  for (const { piece, state, arrivedAt } of stays)
    if (state === last && arrivedAt > at && arrivedAt <= now && !arrived.has(piece)) arrived.set(piece, arrivedAt);
  const { states } = stopsAt(question, at);
  const found = forecast(calendar, {
    now: at,
    runs: runsFor(pieces.length, states.length),
    seed: SEED,
    states,
    pieces,
  });
  // What should have arrived by now and did not is held against it too.
  const judged = found.filter(({ id, p85 }) => arrived.has(id) || p85 <= now);
  if (judged.length < ENOUGH) return null;
  // While the calendar is closed nobody is late.
  const within = judged.filter(({ id, p85 }) => {
    const came = arrived.get(id);
    return came !== undefined && openTime(calendar, p85, came) <= 0;
  });
  return { of: judged.length, within: within.length };
}
