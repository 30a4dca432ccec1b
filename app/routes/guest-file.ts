import { fileAnswer } from "#app/file-answer.ts";
import { guestBy } from "#app/guest.ts";
import { fileSeen } from "#server/files/queries.ts";
import type { Route } from "./+types/guest-file.ts";

/** A file of the one piece a guest's link opens. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const { viewer } = await guestBy(context, params.secret);
  const file = await fileSeen(context.db, viewer, params.id);
  return fileAnswer(context.files, file, request, { original: false });
}
