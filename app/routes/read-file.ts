import { fileAnswer } from "#app/file-answer.ts";
import { fileReleased } from "#server/files/queries.ts";
import type { Route } from "./+types/read-file.ts";

/** A file the released version of a piece shows or hands out. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const file = await fileReleased(context.db, params.slug, params.id);
  return fileAnswer(context.files, file, request, { original: false });
}
