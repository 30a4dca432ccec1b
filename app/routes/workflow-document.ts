import { notFound, requireViewer } from "#app/request.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { toMermaid } from "#core/workflow/exchange/mermaid.ts";
import { toScxml } from "#core/workflow/exchange/scxml.ts";
import { exportWorkflow } from "#server/workflows/queries.ts";
import { mayConfigure } from "#server/workflows/staff.ts";
import type { Route } from "./+types/workflow-document.ts";

const FORMS: Record<string, { type: string; ending: string; write(document: Workflow): string }> = {
  json: {
    type: "application/json",
    ending: "json",
    write: (document) => `${JSON.stringify(document, null, 2)}\n`,
  },
  scxml: { type: "application/scxml+xml", ending: "scxml", write: toScxml },
  mermaid: { type: "text/plain", ending: "mmd", write: toMermaid },
};

/** @throws a 422 response where a text of it has no place in that form, as control characters have none in XML */
function written(form: { write(document: Workflow): string }, document: Workflow): string {
  try {
    return form.write(document);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new Response(`It cannot be written so: ${error.message}.\n`, { status: 422 });
  }
}

/** A workflow as a file: the revision in use, or, while there is none, the working copy. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const form = FORMS[new URL(request.url).searchParams.get("as") ?? "json"];
  const document = form && mayConfigure(viewer, viewer.now) ? await exportWorkflow(context.db, params.key) : null;
  if (!form || !document) throw notFound();
  return new Response(written(form, document), {
    headers: {
      "Content-Type": `${form.type}; charset=utf-8`,
      "Content-Disposition": `attachment; filename="${params.key}.${form.ending}"`,
    },
  });
}
