import { notFound, requireViewer } from "#app/request.ts";
import { annotationsOf } from "#core/remarks/annotations.ts";
import { pieceSeen } from "#server/pieces/lists.ts";
import { threadsOf } from "#server/remarks/queries.ts";
import type { Route } from "./+types/piece-remarks.ts";

/** The remarks the viewer may see, as W3C Web Annotations. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const pieceId = await pieceSeen(context.db, viewer, params.slug);
  if (!pieceId) throw notFound();
  const address = `${context.baseUrl}/pieces/${params.slug}`;
  const threads = await threadsOf(context.db, pieceId, viewer);
  return new Response(JSON.stringify(annotationsOf(address, threads)), {
    headers: { "Content-Type": 'application/ld+json; profile="http://www.w3.org/ns/anno.jsonld"' },
  });
}
