import { and, asc, count, desc, eq, inArray, lte, sql } from "drizzle-orm";
import { due } from "#core/time/due.ts";
import type { StateKind, Workflow } from "#core/workflow/document.ts";
import { seenBy, visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, workflow, workflowRevision } from "../db/schema/index.ts";
import { loadDocuments, revisionsOf } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { conditions, type Filter, type PieceFilter, settled } from "./filter.ts";
import { drawRows, type PieceRow, rowColumns } from "./rows.ts";

/** So many of a stop's pieces are shown, those that wait longest. */
const SHOWN = 12;

/** A stop with the pieces that queue at it. */
export interface StopQueue {
  key: string;
  name: string;
  kind: StateKind;
  /** The time allowed there, as workflows say it. */
  take: string | null;
  /** Whether it is on the main line, and whether it is switched off. */
  aside: boolean;
  off: boolean;
  /** How many are there, and how many of those shown for longer than is allowed. */
  all: number;
  over: number;
  rows: PieceRow[];
}

/** Where a step leads; `decides` where it is what a review comes to, and is taken by deciding. */
export interface StepBetween {
  from: string;
  to: string;
  key: string;
  name: string;
  decides: boolean;
}

/** Ranked along the index of a line's pieces; the rows of those few are read after. */
const askQueues = seenBy((db, viewer: Viewer, { line, ...filter }: Filter & { line: string }) => {
  const ranked = db
    .select({
      id: piece.id,
      place: sql<number>`ROW_NUMBER() OVER (PARTITION BY ${piece.stateKey} ORDER BY ${piece.since}, ${piece.id})`.as(
        "place",
      ),
      there: sql<number>`COUNT(*) OVER (PARTITION BY ${piece.stateKey})`.as("there"),
    })
    .from(piece)
    .where(
      and(visible(viewer), ...conditions(db, viewer, filter), inArray(piece.workflowRevisionId, revisionsOf(db, line))),
    )
    .as("ranked");
  return db
    .select({ ...rowColumns, there: ranked.there })
    .from(ranked)
    .innerJoin(piece, eq(piece.id, ranked.id))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .where(lte(ranked.place, SHOWN))
    .orderBy(asc(ranked.place))
    .prepare();
});

/** How many pieces of each line fit a filter, the line with the most first. */
const askLines = seenBy((db, viewer: Viewer, filter: Filter) =>
  db
    .select({ key: workflow.key, name: workflow.name, current: workflow.currentRevisionId, pieces: count(piece.id) })
    .from(piece)
    .innerJoin(workflowRevision, eq(workflowRevision.id, piece.workflowRevisionId))
    .innerJoin(workflow, eq(workflow.id, workflowRevision.workflowId))
    .where(and(visible(viewer), ...conditions(db, viewer, filter)))
    .groupBy(workflow.id)
    .orderBy(desc(count(piece.id)), asc(workflow.name))
    .prepare(),
);

/**
 * The pieces of one line that fit a filter, queueing at its stops, the longest wait first: of the line the filter
 * names, or of the one with the most of them. Null where there are none.
 */
export async function piecesByStop(db: Queryable, viewer: Viewer, wanted: Omit<PieceFilter, "after">) {
  const { line: named, ...filter } = await settled(db, viewer, wanted);
  const now = { now: viewer.now };
  const lines = await askLines(db, viewer, filter, now);
  const line = lines.find((one) => one.key === named) ?? lines[0];
  if (!line?.current) return null;
  const [raw, documents] = await Promise.all([
    askQueues(db, viewer, { ...filter, line: line.key }, now),
    loadDocuments(db, [line.current]),
  ]);
  const document = documents.get(line.current) as Workflow;
  const keys = new Map(raw.map((row) => [row.id, row.stateKey]));
  const rows = await drawRows(db, viewer, raw);
  return {
    line: { key: line.key, name: line.name },
    lines: lines.map(({ key, name, pieces }) => ({ key, name, pieces })),
    stops: queuesOf(document, viewer, rows, keys),
    steps: stepsOf(document),
  };
}

function queuesOf(
  { mainLine, states }: Workflow,
  viewer: Viewer,
  rows: readonly (PieceRow & { there: number })[],
  keys: ReadonlyMap<string, string>,
): StopQueue[] {
  const known = new Map(states.map((one) => [one.key, one]));
  const there = new Set(keys.values());
  // Beside the line those stops where something waits, and such as this revision has no more.
  const aside = [...new Set([...known.keys(), ...there])].filter((key) => !mainLine.includes(key) && there.has(key));
  return [...mainLine, ...aside].map((key) => {
    const state = known.get(key);
    const some = rows.filter((row) => keys.get(row.id) === key);
    const take = state?.take ?? null;
    return {
      key,
      name: state?.name ?? some[0]?.state ?? key,
      kind: state?.kind ?? some[0]?.stateKind ?? "writing",
      take,
      aside: !mainLine.includes(key),
      off: Boolean(state?.bypass) && some.length === 0,
      all: some[0]?.there ?? 0,
      over: take === null ? 0 : some.filter(({ since }) => due(viewer.calendar, since, take) < viewer.now).length,
      rows: some,
    };
  });
}

/** Which step leads from which stop to which, of those people take. */
function stepsOf({ states, transitions }: Workflow): StepBetween[] {
  const outcomes = new Map(
    states.flatMap(({ key, review }) =>
      review ? [[key, new Set([review.approve, review.return, review.decline])] as const] : [],
    ),
  );
  return transitions.flatMap(({ key, name, from, to }) =>
    from.map((state) => ({ from: state, to, key, name, decides: outcomes.get(state)?.has(key) ?? false })),
  );
}
