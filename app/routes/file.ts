import { fileAnswer } from "#app/file-answer.ts";
import { requireViewer } from "#app/request.ts";
import { fileSeen } from "#server/files/queries.ts";
import type { Route } from "./+types/file.ts";

/** A file of some piece one may see. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const file = await fileSeen(context.db, viewer, params.id);
  return fileAnswer(context.files, file, request, { original: true });
}
