import { stringify } from "csv-stringify/sync";
import { filterIn } from "#app/piece-filter.ts";
import { requireViewer } from "#app/request.ts";
import { listWhole } from "#server/pieces/lists.ts";
import type { Route } from "./+types/pieces-file.ts";

const instant = (at: number | null) => (at === null ? "" : new Date(at).toISOString());

/** The pieces that fit the words of the address, as CSV; instants in UTC. */
export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const rows = await listWhole(context.db, viewer, filterIn(new URL(request.url).searchParams));
  const lines = rows.map((row) => ({
    title: row.title,
    kind: row.kind,
    section: row.section,
    stop: row.state,
    turn: row.holders.join("; "),
    author: row.author,
    since: instant(row.since),
    due: instant(row.dueAt),
    wished: instant(row.publishAt),
    likely: instant(row.likely?.p50 ?? null),
    urgency: row.urgency,
    remarks: row.openComments,
    address: `/pieces/${row.slug}`,
  }));
  return new Response(stringify(lines, { header: true, escape_formulas: true }), {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": 'attachment; filename="pieces.csv"',
    },
  });
}
