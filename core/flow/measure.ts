import { z } from "zod";
import type { Calendar } from "../time/calendar.ts";
import { type Meter, meterOf } from "../time/meter.ts";
import { nearestRank, toThree } from "./rank.ts";

const MINUTE = 60_000;

/** A piece's stay at a stop; instants in epoch milliseconds. */
export interface Stay {
  piece: string;
  state: string;
  arrivedAt: number;
  /** Absent while it is there. */
  leftAt?: number | undefined;
  /** Whether it left to a stop earlier on the line. */
  back?: boolean | undefined;
}

/** What a stop held and let go in a period; times in working minutes. */
export interface Measured {
  state: string;
  /** How many left within. */
  left: number;
  /** Half of those that left, and 85 of 100, were there no longer; absent where none left. */
  p50?: number;
  p85?: number;
  /** The share of those that left that went back. */
  returned?: number;
  /** How many were there at the end, and how long the oldest of them had been. */
  now: number;
  oldest?: number;
  /** How many were there on average, over open time. */
  waiting: number;
}

/**
 * Measures the stops of pieces over a period. Stays may lie about it in any way: what ended within counts as left, with
 * the whole of its time; what was open at its end is there.
 *
 * @param period epoch milliseconds; `from` inclusive, `until` exclusive
 * @returns a row for each stop stayed at, in the order of its key
 */
export function measure(
  calendar: Calendar,
  { from, until }: { from: number; until: number },
  stays: readonly Stay[],
): Measured[] {
  const meter = meterOf(
    calendar,
    stays.reduce((first, one) => Math.min(first, one.arrivedAt), from),
  );
  const period = { from, until, open: meter.at(until) - meter.at(from) };
  const byState = new Map<string, Stay[]>();
  for (const one of stays) {
    const some = byState.get(one.state);
    if (some) some.push(one);
    else byState.set(one.state, [one]);
  }
  return [...byState.keys()].sort().map((state) => measureStop(meter, period, state, byState.get(state) ?? []));
}

function measureStop(
  meter: Meter,
  { from, until, open }: { from: number; until: number; open: number },
  state: string,
  stays: readonly Stay[],
): Measured {
  const takes: number[] = [];
  let [back, now, oldest, stood] = [0, 0, 0, 0];
  for (const { arrivedAt, leftAt = Number.POSITIVE_INFINITY, back: goesBack } of stays) {
    if (arrivedAt >= until || leftAt < from) continue;
    const came = meter.at(arrivedAt);
    const ends = meter.at(Math.min(leftAt, until));
    stood += Math.max(0, ends - Math.max(came, meter.at(from)));
    if (leftAt < until) {
      takes.push((ends - came) / MINUTE);
      if (goesBack) back += 1;
    } else {
      now += 1;
      oldest = Math.max(oldest, (ends - came) / MINUTE);
    }
  }
  takes.sort((a, b) => a - b);
  const [p50, p85] = [nearestRank(takes, 0.5), nearestRank(takes, 0.85)];
  return {
    state,
    left: takes.length,
    ...(p50 !== null && p85 !== null && { p50, p85, returned: toThree(back / takes.length) }),
    now,
    ...(now > 0 && { oldest }),
    waiting: open === 0 ? 0 : toThree(stood / open),
  };
}

const key = z.string().min(1, "expected a key").max(200);

/** So many stays are measured at once. */
const STAYS = 1_000_000;

/** The document `elenco.stays/1`, with instants as a command line reads them. @param instant reads an instant */
export const staysSchema = (instant: z.ZodType<number>) =>
  z
    .strictObject({
      format: z.literal("elenco.stays/1"),
      from: instant,
      until: instant,
      stays: z
        .array(
          z
            .strictObject({
              piece: key,
              state: key,
              arrivedAt: instant,
              leftAt: instant.optional(),
              back: z.boolean().optional(),
            })
            .refine(({ arrivedAt, leftAt }) => leftAt === undefined || leftAt >= arrivedAt, {
              path: ["leftAt"],
              message: "expected an instant not before arrivedAt",
            }),
        )
        .max(STAYS, `expected at most ${STAYS} stays`),
    })
    .refine(({ from, until }) => from < until, { path: ["until"], message: "expected an instant after from" });
