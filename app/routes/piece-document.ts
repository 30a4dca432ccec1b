import { writtenAnswer } from "#app/file-answer.ts";
import { notFound, requireViewer } from "#app/request.ts";
import { FORMS, takenAlong } from "#server/exchange/taking.ts";
import { versionShown } from "#server/reader/preview.ts";
import type { Route } from "./+types/piece-document.ts";

/** A piece as a file to take along. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const format = words.get("as") ?? "";
  const number = Number.parseInt(words.get("version") ?? "", 10);
  const shown = await versionShown(context.db, viewer, params.slug, number || null);
  if (!shown || !Object.hasOwn(FORMS, format)) throw notFound();
  const form = format as keyof typeof FORMS;
  return writtenAnswer(takenAlong(context, shown, form, viewer.id), {
    type: FORMS[form],
    name: `${params.slug}.${format}`,
    requestId: context.requestId,
  });
}
