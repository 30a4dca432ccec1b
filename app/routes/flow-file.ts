import { stringify } from "csv-stringify/sync";
import { flowWanted } from "#app/flow-filter.ts";
import { notFound, requireViewer } from "#app/request.ts";
import { flowPage } from "#server/flow/queries.ts";
import type { Route } from "./+types/flow-file.ts";

/** What the stops of a line held, as CSV; times in working minutes. */
export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const page = await flowPage(context.db, viewer, flowWanted(new URL(request.url).searchParams));
  if (!page) throw notFound();
  if ("problem" in page.flow) return new Response(page.flow.problem, { status: 503 });
  const columns = ["state", "left", "p50", "p85", "returned", "now", "oldest", "waiting"];
  return new Response(stringify(page.flow.measured, { header: true, columns }), {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": `attachment; filename="flow-${page.line.key}.csv"`,
    },
  });
}
