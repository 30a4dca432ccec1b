import { stringify } from "csv-stringify/sync";
import { notFound, requireViewer } from "#app/request.ts";
import { passageOf } from "#server/pieces/passage.ts";
import type { Route } from "./+types/piece-passage-file.ts";

const COLUMNS = ["stop", "arrived", "left", "at", "who", "for", "what", "note"];
const instant = (at: number | null) => (at === null ? "" : new Date(at).toISOString());

/** A piece's passage as a file: CSV (RFC 4180), a line for everything that happened, or JSON, by its stops. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const passage = await passageOf(context.db, viewer, params.slug);
  if (!passage) throw notFound();
  const csv = new URL(request.url).searchParams.get("as") === "csv";
  const rows = passage.steps.flatMap(({ name, arrivedAt, leftAt, told }) =>
    told.map((one) => [
      name,
      instant(arrivedAt),
      instant(leftAt),
      instant(one.at),
      one.who,
      one.for,
      one.words,
      one.note,
    ]),
  );
  const body = csv
    ? stringify([COLUMNS, ...rows], { record_delimiter: "windows", escape_formulas: true })
    : JSON.stringify(passage.steps, (key, value) =>
        /(^at|At)$/.test(key) && typeof value === "number" ? instant(value) : value,
      );
  return new Response(body, {
    headers: {
      "Content-Type": csv ? "text/csv; charset=utf-8" : "application/json; charset=utf-8",
      "Content-Disposition": `attachment; filename="${passage.slug}-passage.${csv ? "csv" : "json"}"`,
    },
  });
}
