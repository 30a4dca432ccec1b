import { and, asc, count, desc, eq, gte, inArray, isNull, or, type SQL } from "drizzle-orm";
import { type LineFlow, SEEN_DAYS } from "#core/flow/line.ts";
import type { Stay } from "#core/flow/measure.ts";
import { below } from "#core/sections/tree.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import { apart } from "../apart/pool.ts";
import { remembered } from "../apart/remembered.ts";
import { inTurn, orProblem } from "../apart/turns.ts";
import type { Queryable } from "../db/client.ts";
import { piece, stay, workflow, workflowRevision } from "../db/schema/index.ts";
import { loadDocuments, revisionsOf } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";

const DAY = 86_400_000;
/** So many stays are looked at, the latest. */
const STAYS = 100_000;
/** Of so many pieces the ways are drawn. */
const DRAWN = 500;

/** Which flow somebody asks for: a line by its key, in so many weeks up to now, narrowed by keys and an author's id. */
export interface FlowWanted {
  line: string;
  weeks: number;
  section?: string | undefined;
  kind?: string | undefined;
  author?: string | undefined;
}

/** The lines there are, those with the most in flight first, as far as a viewer may see. */
export async function flowLines(db: Queryable, viewer: Viewer) {
  const rows = await db
    .select({ key: workflow.key, name: workflow.name, current: workflow.currentRevisionId, flies: count(piece.id) })
    .from(workflow)
    .leftJoin(workflowRevision, eq(workflowRevision.workflowId, workflow.id))
    .leftJoin(piece, and(eq(piece.workflowRevisionId, workflowRevision.id), eq(piece.inFlight, true), visible(viewer)))
    .groupBy(workflow.id)
    .orderBy(desc(count(piece.id)), asc(workflow.name));
  return rows.flatMap(({ current, ...one }) => (current === null ? [] : [{ ...one, current }]));
}

/**
 * The flow of a line over some weeks, of the pieces a viewer may see: what its stops held, the ways of its pieces, and
 * what is likely. Where that takes too long, a sentence says so in its place.
 */
export async function flowPage(db: Queryable, viewer: Viewer, wanted: FlowWanted) {
  const found = await lineOf(db, viewer, wanted.line);
  if (!found) return null;
  const { lines, line, document } = found;
  const { now, calendar } = viewer;
  const from = now - wanted.weeks * 7 * DAY;
  const since = Math.min(from - (now - from), now - SEEN_DAYS * DAY);
  // One at a time for each person, the reading too: who asks for ten holds nobody up but themselves.
  const computed = await orProblem(
    inTurn(`flow of ${viewer.id}`, async (): Promise<{ flow: LineFlow | { problem: string }; cut: boolean }> => {
      const { question, cut } = await questionOf(db, line.key, document, narrowedBy(viewer, wanted), since);
      const whole = { ...question, calendar, now, from, until: now, drawn: DRAWN };
      const asked = ["flow", question, calendar, wanted.weeks];
      const flow = await remembered(asked, now, () => apart("flowOf", whole, `flow of ${viewer.id}, apart`)).catch(
        (error: Error) => {
          if (error instanceof RangeError) return { problem: `Nothing can be foreseen: ${error.message}.` };
          throw error;
        },
      );
      return { flow, cut };
    }),
  );
  const { flow, cut } = "problem" in computed ? { flow: computed, cut: false } : computed;
  const shown =
    "problem" in flow
      ? []
      : [...new Set([...flow.sheet.ways.map((one) => one.piece), ...flow.likely.map((one) => one.id)])];
  const names = new Map(document.states.map((one) => [one.key, one.name]));
  return {
    lines: lines.map(({ key, name }) => ({ key, name })),
    line: { key: line.key, name: line.name },
    from,
    until: now,
    /** Whether there were more stays than are looked at. */
    cut,
    stops: stopsOf(document).map(({ key, name, kind, take }) => ({ key, name, kind, take: take ?? null })),
    names: Object.fromEntries(names),
    pieces: await titlesOf(db, viewer, shown),
    flow,
  };
}

/** A line with its present document, and those one could look at in its place; the busiest, where none of that key is. */
export async function lineOf(db: Queryable, viewer: Viewer, key: string) {
  const lines = await flowLines(db, viewer);
  const line = lines.find((one) => one.key === key) ?? lines[0];
  const document = line && (await loadDocuments(db, [line.current])).get(line.current);
  return document ? { lines, line, document } : null;
}

/** The condition by which a viewer sees a flow, narrowed as they ask. */
export function narrowedBy(viewer: Viewer, wanted: Omit<FlowWanted, "line" | "weeks">): SQL | undefined {
  const section = [...viewer.places.sections.values()].find((one) => one.key === wanted.section);
  const theKind = viewer.kinds.find((one) => one.key === wanted.kind);
  return and(
    visible(viewer),
    section ? inArray(stay.sectionId, below(viewer.places, section.id)) : undefined,
    theKind ? eq(stay.kindId, theKind.id) : undefined,
    wanted.author ? eq(piece.authorId, wanted.author) : undefined,
  );
}

/**
 * What a line's flow is computed from, but for when and by which calendar.
 *
 * @param seen of which pieces and stays
 * @param since epoch milliseconds: what had left before is left out
 */
export async function questionOf(
  db: Queryable,
  line: string,
  document: Workflow,
  seen: SQL | undefined,
  since: number,
) {
  const { rows, cut } = await staysOf(db, line, seen, since);
  const present = [...new Set(rows.filter((one) => one.leftAt === null).map((one) => one.pieceId))];
  const question = {
    line: stopsOf(document).map(({ key, take }) => ({ key, take: take ?? null })),
    stays: withBacks(rows, new Map(document.mainLine.map((key, i) => [key, i]))),
    wished: await wishedOf(db, present),
  };
  return { cut, question };
}

/** The stops of the main line, switched-off ones left out. */
export const stopsOf = ({ mainLine, states }: Workflow) =>
  mainLine.flatMap((key) => states.filter((one) => one.key === key && !one.bypass));

type Row = Awaited<ReturnType<typeof staysOf>>["rows"][number];

async function staysOf(db: Queryable, line: string, seen: SQL | undefined, since: number) {
  const revisions = await revisionsOf(db, line);
  const rows = await db
    .select({ pieceId: stay.pieceId, state: stay.stateKey, arrivedAt: stay.arrivedAt, leftAt: stay.leftAt })
    .from(stay)
    .innerJoin(piece, eq(piece.id, stay.pieceId))
    .where(
      and(
        inArray(
          stay.workflowRevisionId,
          revisions.map((one) => one.id),
        ),
        or(isNull(stay.leftAt), gte(stay.leftAt, since)),
        seen,
      ),
    )
    .orderBy(desc(stay.arrivedAt))
    .limit(STAYS + 1);
  return { rows: rows.slice(0, STAYS), cut: rows.length > STAYS };
}

/** Stays with whether each ended by going back: to a stop earlier on the line. */
function withBacks(latestFirst: readonly Row[], order: ReadonlyMap<string, number>): Stay[] {
  const next = new Map<string, string>();
  return latestFirst.map(({ pieceId, state, arrivedAt, leftAt }) => {
    const after = next.get(pieceId);
    next.set(pieceId, state);
    if (leftAt === null) return { piece: pieceId, state, arrivedAt };
    const [here, there] = [order.get(state), after === undefined ? undefined : order.get(after)];
    const back = here !== undefined && there !== undefined && there < here;
    return { piece: pieceId, state, arrivedAt, leftAt, ...(back && { back }) };
  });
}

const CHUNK = 1_000;

async function wishedOf(db: Queryable, ids: readonly string[]): Promise<Record<string, number>> {
  const wished: Record<string, number> = {};
  for (let i = 0; i < ids.length; i += CHUNK) {
    const some = ids.slice(i, i + CHUNK);
    const rows = await db
      .select({ id: piece.id, publishAt: piece.publishAt })
      .from(piece)
      .where(inArray(piece.id, some));
    for (const { id, publishAt } of rows) if (publishAt !== null) wished[id] = publishAt;
  }
  return wished;
}

/** What some pieces are called and when they are due, of those a viewer may see. */
export async function titlesOf(db: Queryable, viewer: Viewer, ids: readonly string[]) {
  const titles: Record<string, { slug: string; title: string; dueAt: number | null }> = {};
  for (let i = 0; i < ids.length; i += CHUNK) {
    const rows = await db
      .select({ id: piece.id, slug: piece.slug, title: piece.title, dueAt: piece.dueAt })
      .from(piece)
      .where(and(inArray(piece.id, ids.slice(i, i + CHUNK)), visible(viewer)));
    for (const { id, ...rest } of rows) titles[id] = rest;
  }
  return titles;
}
