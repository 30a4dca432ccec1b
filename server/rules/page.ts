import { and, desc, eq, gt, inArray, isNull, sql } from "drizzle-orm";
import { allHold, type Happened, isMeant } from "#core/rules/match.ts";
import { visible } from "../access/visible.ts";
import type { Database } from "../db/client.ts";
import { piece, ruleRun } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { factsOf } from "./follow.ts";
import { heardAfter } from "./happened.ts";
import type { StandingRule } from "./rows.ts";

const DAY = 86_400_000;
/** So far back a rule is tried, in days; so many entries are looked at, and so many acts named. */
const [TRIED, ENTRIES, NAMED] = [30, 20_000, 20];

/** Something a rule did, or would have done. */
export interface Acted {
  at: number;
  title: string;
  slug: string;
  did: { said: string; refused: string | null }[];
}

/** How often each rule acted in the last thirty days, and when last, by its id. */
export async function actsOf(db: Database, now: number): Promise<Map<string, { count: number; last: number }>> {
  const rows = await db
    .select({
      id: ruleRun.ruleId,
      count: sql<number>`COUNT(*)`.mapWith(Number),
      last: sql<number>`MAX(${ruleRun.at})`.mapWith(ruleRun.at),
    })
    .from(ruleRun)
    .where(gt(ruleRun.at, now - TRIED * DAY))
    .groupBy(ruleRun.ruleId);
  return new Map(rows.map(({ id, ...rest }) => [id, rest]));
}

/** What a rule did last, as far as the viewer sees the pieces. */
export async function actedBy(db: Database, viewer: Viewer, ruleId: string): Promise<Acted[]> {
  const rows = await db
    .select({ at: ruleRun.at, did: ruleRun.did, title: piece.title, slug: piece.slug })
    .from(ruleRun)
    .innerJoin(piece, eq(piece.id, ruleRun.pieceId))
    .where(and(eq(ruleRun.ruleId, ruleId), visible(viewer)))
    .orderBy(desc(ruleRun.at), desc(ruleRun.id))
    .limit(NAMED);
  return rows.map((row) => ({ ...row, did: row.did ?? [] }));
}

/** When a rule would have acted in the last thirty days. */
export interface Trial {
  days: number;
  count: number;
  /** Whether there was more on the record than is looked at. */
  cut: boolean;
  /** The last of them. */
  pieces: { at: number; title: string; slug: string }[];
}

/**
 * When a rule would have acted in the last thirty days, by the ledger: once for each chain, changing nothing. Its
 * conditions are asked of the pieces as they are now, of those the viewer may see.
 */
export async function tried(db: Database, viewer: Viewer, rule: Pick<StandingRule, "when" | "if">): Promise<Trial> {
  const since = viewer.now - TRIED * DAY;
  const { heard, upTo } =
    rule.when.event === "due.passed"
      ? { heard: await passed(db, since, viewer.now), upTo: null }
      : await heardAfter(db, { after: 0, since, event: rule.when.event }, ENTRIES);
  const meant = heard.flatMap(({ events, ...one }) =>
    events.flatMap((event) => (event.event === rule.when.event ? [{ ...one, event }] : [])),
  );
  const ids = [...new Set(meant.map((one) => one.pieceId))];
  const [seen, titles] = await Promise.all([factsOf(db, ids, viewer.places, [rule]), titlesOf(db, viewer, ids)]);
  const acts = new Map<string, { at: number; pieceId: string }>();
  for (const { at, pieceId, chain, event } of meant) {
    const one = seen.get(pieceId);
    const happened = one && ({ ...one.place, ...event } as Happened);
    if (!one || !happened || !titles.has(pieceId) || !isMeant(rule, happened) || !allHold(rule, one.facts)) continue;
    acts.set(`${pieceId} ${chain}`, { at, pieceId });
  }
  const pieces = [...acts.values()]
    .sort((a, b) => b.at - a.at)
    .slice(0, NAMED)
    .map(({ at, pieceId }) => ({ at, ...(titles.get(pieceId) as { title: string; slug: string }) }));
  return { days: TRIED, count: acts.size, cut: upTo !== null, pieces };
}

/** The due dates that passed in a span; a piece has but its last. */
async function passed(db: Database, since: number, now: number) {
  const rows = await db
    .select({ id: piece.id, dueAt: piece.dueAt })
    .from(piece)
    .where(and(gt(piece.dueAt, since), sql`${piece.dueAt} <= ${sql.param(now, piece.dueAt)}`, isNull(piece.deletedAt)))
    .limit(ENTRIES);
  return rows.map(({ id, dueAt }) => ({
    seq: null,
    at: dueAt ?? now,
    pieceId: id,
    chain: dueAt ?? now,
    events: [{ event: "due.passed" as const }],
  }));
}

async function titlesOf(db: Database, viewer: Viewer, ids: readonly string[]) {
  const titles = new Map<string, { title: string; slug: string }>();
  for (let i = 0; i < ids.length; i += CHUNK) {
    const rows = await db
      .select({ id: piece.id, title: piece.title, slug: piece.slug })
      .from(piece)
      .where(and(inArray(piece.id, ids.slice(i, i + CHUNK)), visible(viewer)));
    for (const { id, ...rest } of rows) titles.set(id, rest);
  }
  return titles;
}

const CHUNK = 1_000;
