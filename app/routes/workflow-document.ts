import { notFound, requireViewer } from "#app/request.ts";
import { exportWorkflow, mayConfigure } from "#server/workflows/queries.ts";
import type { Route } from "./+types/workflow-document.ts";

/** A workflow's present revision as its document, to be kept as a file. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const document = mayConfigure(viewer) ? await exportWorkflow(context.db, params.key) : null;
  if (!document) throw notFound();
  return new Response(`${JSON.stringify(document, null, 2)}\n`, {
    headers: {
      "Content-Type": "application/json; charset=utf-8",
      "Content-Disposition": `attachment; filename="${params.key}.json"`,
      "Cache-Control": "no-store",
    },
  });
}
