import { and, asc, count, desc, eq, gt } from "drizzle-orm";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { type BundleItemStatus, bundle, bundleItem, type Doing, piece } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { stepsFrom } from "./carry.ts";

/** So many pieces of a bundle are shown at once. */
const PAGE = 100;

/** What takes back what was done, where anything does. */
export function undoing(doing: Doing): Doing | null {
  switch (doing.do) {
    case "step":
    case "each":
      return { do: "recall", note: "Sent together with others; called back together." };
    case "due-shift":
    case "plan-shift":
      return { ...doing, days: -doing.days };
    case "urgency":
      return { do: "urgency", urgency: doing.urgency === "urgent" ? "normal" : "urgent" };
    case "hand":
      return { do: "hand", from: doing.to, to: doing.from };
    default:
      return null;
  }
}

/**
 * A viewer's own bundle with a page of its pieces and how many stand how; null where it is nobody's of theirs.
 *
 * @param show only those that stand so
 * @param after the place behind which the page begins
 */
export async function bundlePage(
  db: Queryable,
  viewer: Viewer,
  id: string,
  { show, after }: { show: BundleItemStatus | null; after: number },
) {
  const [row] = await db
    .select()
    .from(bundle)
    .where(and(eq(bundle.id, id), eq(bundle.personId, viewer.id)));
  if (!row) return null;
  const of = eq(bundleItem.bundleId, id);
  const [counts, items] = await Promise.all([
    db.select({ status: bundleItem.status, pieces: count() }).from(bundleItem).where(of).groupBy(bundleItem.status),
    db
      .select({
        position: bundleItem.position,
        pieceId: bundleItem.pieceId,
        status: bundleItem.status,
        said: bundleItem.said,
        doing: bundleItem.doing,
        stateKey: piece.stateKey,
        revisionId: piece.workflowRevisionId,
        slug: piece.slug,
        title: piece.title,
      })
      .from(bundleItem)
      .innerJoin(piece, and(eq(piece.id, bundleItem.pieceId), visible(viewer)))
      .where(and(of, gt(bundleItem.position, after), show ? eq(bundleItem.status, show) : undefined))
      .orderBy(asc(bundleItem.position))
      .limit(PAGE + 1),
  ]);
  const stands = (status: BundleItemStatus) => counts.find((one) => one.status === status)?.pieces ?? 0;
  const started = row.startedAt !== null;
  const left = stands("waiting") + (started ? stands("would") : 0);
  const shown = items.slice(0, PAGE);
  const documents =
    row.doing.do === "each"
      ? await loadDocuments(
          db,
          shown.map((one) => one.revisionId),
        )
      : new Map<string, Workflow>();
  return {
    id,
    doing: row.doing,
    /** Whether what is done to each may still be said. */
    table: row.doing.do === "each" && !started,
    started,
    left,
    total: counts.reduce((sum, one) => sum + one.pieces, 0),
    counts: {
      would: stands("would"),
      refused: stands("refused"),
      done: stands("done"),
      failed: stands("failed"),
    },
    undoable: started && left === 0 && stands("done") > 0 && undoing(row.doing) !== null,
    items: shown.map(({ stateKey, revisionId, ...item }) => {
      const workflow = documents.get(revisionId);
      const steps = workflow ? stepsFrom(workflow, stateKey).map((one) => one.name) : [];
      return { ...item, stop: workflow ? stateOf(workflow, stateKey).name : "", steps };
    }),
    further: items.length > PAGE ? (items[PAGE - 1]?.position ?? null) : null,
  };
}

export type BundlePage = NonNullable<Awaited<ReturnType<typeof bundlePage>>>;

/** The pieces of a viewer's bundle that stand so, by id: those done, to be taken back; those that failed, to be chosen again. */
export async function piecesOf(db: Queryable, viewer: Viewer, id: string, status: BundleItemStatus): Promise<string[]> {
  const rows = await db
    .select({ pieceId: bundleItem.pieceId })
    .from(bundleItem)
    .innerJoin(bundle, and(eq(bundle.id, bundleItem.bundleId), eq(bundle.personId, viewer.id)))
    .where(and(eq(bundleItem.bundleId, id), eq(bundleItem.status, status)))
    .orderBy(asc(bundleItem.position));
  return rows.map((row) => row.pieceId);
}

/** What a viewer did together lately, the latest first. */
export const bundlesOf = (db: Queryable, viewer: Viewer) =>
  db
    .select({ id: bundle.id, doing: bundle.doing, at: bundle.createdAt, startedAt: bundle.startedAt, pieces: count() })
    .from(bundle)
    .innerJoin(bundleItem, eq(bundleItem.bundleId, bundle.id))
    .where(eq(bundle.personId, viewer.id))
    .groupBy(bundle.id)
    .orderBy(desc(bundle.createdAt))
    .limit(20);
