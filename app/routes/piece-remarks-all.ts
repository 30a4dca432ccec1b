import { notFound, requireViewer } from "#app/request.ts";
import { allRemarks } from "#server/pieces/page.ts";
import type { Route } from "./+types/piece-remarks-all.ts";

/** All remarks of a piece the viewer may see, where more were made than its page brings along. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const threads = await allRemarks(context.db, await requireViewer(context, request), params.slug);
  if (!threads) throw notFound();
  return Response.json(threads);
}
