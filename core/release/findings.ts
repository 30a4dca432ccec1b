import { z } from "zod";
import { dayAfter, localDate, startOf } from "../time/local.ts";
import { groupBy } from "../words/group.ts";

const DAY = 86_400_000;

/** What a team looks out for in what leaves through a channel; nothing is looked for where it says nothing. */
export const lookoutSchema = z.strictObject({
  /** So many leave on one day at most. */
  perDay: z.int().min(1).max(1000).nullable().default(null),
  /** Two of one kind lie so many hours apart at least. */
  apart: z
    .int()
    .min(1)
    .max(24 * 60)
    .nullable()
    .default(null),
  /** The key of a field: two that hold the same in it do not leave on one day. */
  subject: z.string().max(60).nullable().default(null),
  /** One at least in so many days: of everything, of a kind, or of a section with what lies below it. */
  rhythms: z
    .array(
      z.strictObject({ of: z.enum(["all", "kind", "section"]), id: z.string().max(36), days: z.int().min(1).max(366) }),
    )
    .max(50)
    .default([]),
});
export type Lookout = z.infer<typeof lookoutSchema>;
export const NOTHING_LOOKED_FOR: Lookout = lookoutSchema.parse({});

/** Something that leaves, or has left, at an instant. */
export interface Leaving {
  id: string;
  /** Epoch milliseconds. */
  at: number;
  kindId: string;
  /** Its section and all above it. */
  sectionIds: readonly string[];
  /** What it holds in the field that is looked at; empty for nothing. */
  subject: string;
}

/** Something to look at: clashes name what clashes, a gap the time without anything. Epoch milliseconds. */
export type Finding =
  | { code: "too-close" | "same-subject" | "too-many"; ids: string[]; from: number; until: number }
  | { code: "gap"; of: Lookout["rhythms"][number]; from: number; until: number };

/**
 * Clashes and gaps in what leaves through one channel over a span, the first first.
 *
 * @param leavings everything that leaves in the span, in any order
 * @param span epoch milliseconds; a gap at its end counts once it is as long as the rhythm allows
 */
export function lookOver(
  leavings: readonly Leaving[],
  lookout: Lookout,
  span: { from: number; until: number },
  zone: string,
): Finding[] {
  const ordered = leavings.toSorted((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1));
  const byDay = days(ordered, zone);
  const clash = (code: "too-close" | "same-subject" | "too-many", some: readonly Leaving[]): Finding => ({
    code,
    ids: some.map((one) => one.id),
    from: some[0]?.at ?? 0,
    until: some.at(-1)?.at ?? 0,
  });
  const { perDay, apart, subject, rhythms } = lookout;
  const tooMany =
    perDay === null ? [] : byDay.filter((day) => day.length > perDay).map((day) => clash("too-many", day));
  const sameSubject =
    subject === null ? [] : byDay.flatMap((day) => same(day).map((some) => clash("same-subject", some)));
  const tooClose =
    apart === null
      ? []
      : [...groupBy(ordered, (one) => one.kindId).values()].flatMap((kind) =>
          chains(kind, apart * 3_600_000).map((some) => clash("too-close", some)),
        );
  const gaps = rhythms.flatMap((rhythm) =>
    gapsOf(
      ordered.filter((one) => isOf(one, rhythm)),
      rhythm,
      span,
    ),
  );
  return [...tooMany, ...sameSubject, ...tooClose, ...gaps].sort((a, b) => a.from - b.from || a.until - b.until);
}

/** What leaves on each local day; a day is asked for once, not for each that leaves on it. */
function days(ordered: readonly Leaving[], zone: string): Leaving[][] {
  const found: Leaving[][] = [];
  let ends = Number.NEGATIVE_INFINITY;
  for (const one of ordered) {
    if (one.at >= ends) {
      ends = startOf(dayAfter(localDate(one.at, zone), 1), zone);
      found.push([]);
    }
    found.at(-1)?.push(one);
  }
  return found;
}

const isOf = (one: Leaving, { of, id }: Lookout["rhythms"][number]) =>
  of === "all" || (of === "kind" ? one.kindId === id : one.sectionIds.includes(id));

/** Those of a day that say the same, two at least. */
const same = (day: readonly Leaving[]): Leaving[][] =>
  [
    ...groupBy(
      day.filter((one) => one.subject !== ""),
      (one) => one.subject.toLowerCase(),
    ).values(),
  ].filter((some) => some.length > 1);

/** Runs of which each lies nearer to the one before than it should. */
function chains(ordered: readonly Leaving[], apart: number): Leaving[][] {
  const runs: Leaving[][] = [];
  for (const one of ordered) {
    const run = runs.at(-1);
    if (run && one.at - (run.at(-1)?.at ?? 0) < apart) run.push(one);
    else runs.push([one]);
  }
  return runs.filter((run) => run.length > 1);
}

function gapsOf(
  ordered: readonly Leaving[],
  of: Lookout["rhythms"][number],
  span: { from: number; until: number },
): Finding[] {
  const ends = [span.from, ...ordered.map((one) => one.at), span.until];
  return ends.slice(1).flatMap((until, i): Finding[] => {
    const from = ends[i] as number;
    return until - from > of.days * DAY ? [{ code: "gap", of, from, until }] : [];
  });
}
