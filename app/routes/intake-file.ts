import { fileAnswer } from "#app/file-answer.ts";
import { requireViewer } from "#app/request.ts";
import { fileAlong } from "#server/intake/queries.ts";
import type { Route } from "./+types/intake-file.ts";

/** A file that came along with something one may see. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const file = await fileAlong(context.db, viewer, params.item, params.id);
  return fileAnswer(context.files, file, request, { original: true });
}
