import { and, asc, count, eq, inArray, isNull, sql } from "drizzle-orm";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Fate, landing, propose, type RoundFate, roundFate } from "#core/workflow/migrate.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { person, piece, workflowRevision } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { groupKey } from "./migration.ts";

/** How many pieces of a group are named one by one. */
const NAMED = 40;

/** The pieces in one state of one revision, and what is proposed for them. */
export interface FateGroup {
  /** As the choices name it. */
  key: string;
  revision: number;
  state: { key: string; name: string; kind: string };
  count: number;
  /** Null where nothing fits and a choice must be made. */
  fate: Fate | null;
  because: string;
  /** What becomes of open rounds under the proposal; null where there are none. */
  rounds: RoundFate | null;
  /** Those of the pieces the viewer may see, at most forty. */
  pieces: { id: string; slug: string; title: string; author: string; since: number }[];
}

/**
 * What putting a document in use would mean for every piece in flight, by revision and state. In
 * as many statements however many pieces there are.
 */
export async function previewChange(
  db: Queryable,
  viewer: Viewer,
  workflowId: string,
  document: Workflow,
): Promise<FateGroup[]> {
  const revisions = await db
    .select({ id: workflowRevision.id, number: workflowRevision.number })
    .from(workflowRevision)
    .where(eq(workflowRevision.workflowId, workflowId));
  if (revisions.length === 0) return [];
  const ids = revisions.map((one) => one.id);
  const inFlight = and(inArray(piece.workflowRevisionId, ids), eq(piece.inFlight, true), isNull(piece.deletedAt));
  const [documents, counts, named] = await Promise.all([
    loadDocuments(db, ids),
    db
      .select({ revisionId: piece.workflowRevisionId, state: piece.stateKey, here: count() })
      .from(piece)
      .where(inFlight)
      .groupBy(piece.workflowRevisionId, piece.stateKey),
    someOfEach(db, viewer, ids),
  ]);
  const number = new Map(revisions.map((one) => [one.id, one.number]));
  return counts
    .map(({ revisionId, state: stateKey, here }): FateGroup => {
      const before = documents.get(revisionId) as Workflow;
      const state = stateOf(before, stateKey);
      const proposal = propose(before, document).find((one) => one.state.key === stateKey);
      const fate = proposal?.fate ?? null;
      const to = fate && landing(document, stateKey, fate);
      return {
        key: groupKey(revisionId, stateKey),
        revision: number.get(revisionId) ?? 0,
        state: { key: state.key, name: state.name, kind: state.kind },
        count: here,
        fate,
        because: proposal?.because ?? "",
        rounds: state.review && to ? roundFate(state, to) : null,
        pieces: named.filter((one) => one.revisionId === revisionId && one.stateKey === stateKey),
      };
    })
    .sort((a, b) => a.revision - b.revision || orderOf(document, a.state.key) - orderOf(document, b.state.key));
}

function someOfEach(db: Queryable, viewer: Viewer, revisionIds: string[]) {
  const ranked = db
    .select({
      id: piece.id,
      slug: piece.slug,
      title: piece.title,
      author: person.name,
      since: piece.since,
      revisionId: piece.workflowRevisionId,
      stateKey: piece.stateKey,
      place:
        sql<number>`row_number() over (partition by ${piece.workflowRevisionId}, ${piece.stateKey} order by ${piece.since})`.as(
          "place",
        ),
    })
    .from(piece)
    .innerJoin(person, eq(person.id, piece.authorId))
    .where(and(inArray(piece.workflowRevisionId, revisionIds), eq(piece.inFlight, true), visible(viewer)))
    .as("ranked");
  return db.select().from(ranked).where(sql`${ranked.place} <= ${NAMED}`).orderBy(asc(ranked.since));
}

const orderOf = (document: Workflow, key: string) => {
  const at = document.mainLine.indexOf(key);
  return at < 0 ? document.mainLine.length : at;
};
