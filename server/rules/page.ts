import { and, desc, eq, gt, inArray, isNotNull, isNull, or, sql } from "drizzle-orm";
import { isComing } from "#core/rules/document.ts";
import { allHold, type Happened, isMeant } from "#core/rules/match.ts";
import { visible } from "../access/visible.ts";
import type { Database } from "../db/client.ts";
import { intakeItem, piece, ruleRun } from "../db/schema/index.ts";
import { itemsSeen } from "../intake/items.ts";
import type { Viewer } from "../viewer.ts";
import { comingSeen } from "./coming.ts";
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
  /** Where what it acted on stands. */
  to: string;
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
    .select({
      at: ruleRun.at,
      did: ruleRun.did,
      piece: { title: piece.title, slug: piece.slug },
      item: { id: intakeItem.id, title: intakeItem.title },
    })
    .from(ruleRun)
    .leftJoin(piece, and(eq(piece.id, ruleRun.pieceId), visible(viewer)))
    .leftJoin(intakeItem, and(eq(intakeItem.id, ruleRun.itemId), itemsSeen(viewer)))
    .where(and(eq(ruleRun.ruleId, ruleId), or(isNotNull(piece.id), isNotNull(intakeItem.id))))
    .orderBy(desc(ruleRun.at), desc(ruleRun.id))
    .limit(NAMED);
  return rows.map(({ at, did, ...of }) => ({ at, did: did ?? [], ...standsAt(of.piece, of.item) }));
}

/** What a rule acted on is called, and where it stands. */
function standsAt(of: { title: string; slug: string } | null, item: { id: string; title: string } | null) {
  if (of) return { title: of.title, to: `/pieces/${of.slug}` };
  return { title: item?.title ?? "", to: `/intake?item=${item?.id}` };
}

/** When a rule would have acted in the last thirty days. */
export interface Trial {
  days: number;
  count: number;
  /** Whether there was more on the record than is looked at. */
  cut: boolean;
  /** The last of them. */
  acts: { at: number; title: string; to: string }[];
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
  const ids = [...new Set(meant.map((one) => one.about.id))];
  const coming = isComing(rule.when.event);
  const [seen, stands] = await Promise.all([
    coming ? comingSeen(db, ids, viewer.places) : factsOf(db, ids, viewer.places, [rule]),
    coming ? comingOf(db, viewer, ids) : piecesOf(db, viewer, ids),
  ]);
  const acts = new Map<string, { at: number; title: string; to: string }>();
  for (const { at, about, chain, event } of meant) {
    const one = seen.get(about.id);
    const there = stands.get(about.id);
    const happened = one && ({ ...one.place, ...event } as Happened);
    if (!one || !happened || !there || !isMeant(rule, happened) || !allHold(rule, one.facts)) continue;
    acts.set(`${about.id} ${chain}`, { at, ...there });
  }
  const latest = [...acts.values()].sort((a, b) => b.at - a.at).slice(0, NAMED);
  return { days: TRIED, count: acts.size, cut: upTo !== null, acts: latest };
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
    about: { sort: "piece" as const, id },
    chain: dueAt ?? now,
    events: [{ event: "due.passed" as const }],
  }));
}

/** What came in that a viewer may see, with where it stands, by its id. */
async function comingOf(db: Database, viewer: Viewer, ids: readonly string[]) {
  if (ids.length === 0) return new Map<string, { title: string; to: string }>();
  const rows = await db
    .select({ id: intakeItem.id, title: intakeItem.title })
    .from(intakeItem)
    .where(and(inArray(intakeItem.id, [...ids]), itemsSeen(viewer)));
  return new Map(rows.map((row) => [row.id, standsAt(null, row)]));
}

async function piecesOf(db: Database, viewer: Viewer, ids: readonly string[]) {
  const stands = new Map<string, { title: string; to: string }>();
  for (let i = 0; i < ids.length; i += CHUNK) {
    const rows = await db
      .select({ id: piece.id, title: piece.title, slug: piece.slug })
      .from(piece)
      .where(and(inArray(piece.id, ids.slice(i, i + CHUNK)), visible(viewer)));
    for (const { id, ...rest } of rows) stands.set(id, standsAt(rest, null));
  }
  return stands;
}

const CHUNK = 1_000;
