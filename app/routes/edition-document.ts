import { named } from "#app/forms.ts";
import { notFound, requireViewer } from "#app/request.ts";
import { orProblem } from "#server/apart/turns.ts";
import { everything, fileName, HANDED, handedOver } from "#server/editions/handing.ts";
import { editionPage } from "#server/editions/queries.ts";
import { plainPage } from "#server/http/plain-page.ts";
import type { Route } from "./+types/edition-document.ts";

/** An edition as it is handed over: in one form, or everything as a ZIP file. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const as = new URL(request.url).searchParams.get("as") ?? "";
  const number = Number.parseInt(params.number, 10);
  const page = await editionPage(context.db, viewer, params.channel, number || 0, context);
  const type = as === "zip" ? "application/zip" : named<string>(HANDED, as);
  if (!page || !type) throw notFound();
  const written: Promise<string | Uint8Array | ReadableStream> =
    as === "zip" ? everything(context, viewer, page) : handedOver(context, viewer, page, as as keyof typeof HANDED);
  const body = await orProblem(written);
  if (typeof body === "object" && "problem" in body)
    return new Response(plainPage("It was not written", body.problem, context.requestId), {
      status: 503,
      headers: { "Content-Type": "text/html; charset=utf-8" },
    });
  return new Response(body instanceof Uint8Array ? new Uint8Array(body) : body, {
    headers: { "Content-Type": type, "Content-Disposition": `attachment; filename="${fileName(page)}.${as}"` },
  });
}
