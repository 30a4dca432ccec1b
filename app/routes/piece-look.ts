import { notFound, requireViewer } from "#app/request.ts";
import { markRead } from "#server/notices/commands.ts";
import { pieceSeen } from "#server/pieces/lists.ts";
import { noteLook } from "#server/text/queries.ts";
import type { Route } from "./+types/piece-look.ts";

/** Somebody came to look at a piece: its notices are read, and what they saw is remembered. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const viewer = await requireViewer(context, request);
  const pieceId = await pieceSeen(context.db, viewer, params.slug);
  if (!pieceId) throw notFound();
  if (viewer.seenBy) return new Response(null, { status: 204 });
  const [read] = await Promise.all([markRead(context.db, viewer, pieceId), noteLook(context.db, viewer, pieceId)]);
  return new Response(null, { status: 204, headers: read > 0 ? { "X-Changed": "yes" } : {} });
}

export { formsOnly as loader } from "#app/request.ts";
