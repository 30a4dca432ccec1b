import { editionAt } from "#app/edition-desk.ts";
import { writtenAnswer } from "#app/file-answer.ts";
import { named } from "#app/forms.ts";
import { notFound } from "#app/request.ts";
import { everything, fileName, HANDED, type Handed, handedOver } from "#server/editions/handing.ts";
import type { Route } from "./+types/edition-document.ts";

/** An edition as it is handed over: in one form, or everything as a ZIP file. */
export async function loader(asked: Route.LoaderArgs) {
  const { context, request } = asked;
  const { viewer, page } = await editionAt(asked);
  const as = new URL(request.url).searchParams.get("as") ?? "";
  const type = as === "zip" ? "application/zip" : named<string>(HANDED, as);
  if (!type) throw notFound();
  return writtenAnswer(
    as === "zip" ? everything(context, viewer, page) : handedOver(context, viewer, page, as as Handed),
    { type, name: `${fileName(page)}.${as}`, requestId: context.requestId },
  );
}
