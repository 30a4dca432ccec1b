import { notFound, requireViewer } from "#app/request.ts";
import { orProblem } from "#server/apart/turns.ts";
import { FORMS, takenAlong } from "#server/exchange/taking.ts";
import { plainPage } from "#server/http/plain-page.ts";
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
  const body = await orProblem(takenAlong(context, shown, form, viewer.id));
  if (typeof body === "object" && "problem" in body)
    return new Response(plainPage("It was not written", body.problem, context.requestId), {
      status: 503,
      headers: { "Content-Type": "text/html; charset=utf-8" },
    });
  return new Response(typeof body === "string" ? body : new Uint8Array(body), {
    headers: {
      "Content-Type": FORMS[form],
      "Content-Disposition": `attachment; filename="${params.slug}.${format}"`,
    },
  });
}
