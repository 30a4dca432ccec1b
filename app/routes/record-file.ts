import { stringify } from "csv-stringify/sync";
import { ledgerFilter } from "#app/ledger-filter.ts";
import { requirePermission } from "#app/request.ts";
import { exportLedger } from "#server/ledger/queries.ts";
import type { Route } from "./+types/record-file.ts";

type Entry = Awaited<ReturnType<ReturnType<typeof exportLedger>["next"]>>["value"][number];

const COLUMNS = ["seq", "at", "actor", "for", "action", "piece", "subject", "before", "after", "origin", "request"];

/** The record as a file, as CSV (RFC 4180) or JSON Lines, an entry a line, sent while it is read. */
export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "ledger.read");
  const words = new URL(request.url).searchParams;
  const csv = words.get("as") === "csv";
  const batches = exportLedger(context.db, viewer, ledgerFilter(words, viewer.zone));
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      if (csv) controller.enqueue(encoder.encode(`${COLUMNS.join(",")}\r\n`));
    },
    async pull(controller) {
      const { value, done } = await batches.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(csv ? asCsv(value) : asLines(value)));
    },
  });
  return new Response(body, {
    headers: {
      "Content-Type": csv ? "text/csv; charset=utf-8" : "application/jsonl; charset=utf-8",
      "Content-Disposition": `attachment; filename="record.${csv ? "csv" : "jsonl"}"`,
    },
  });
}

const asLines = (entries: Entry[]) =>
  entries.map((entry) => `${JSON.stringify({ ...entry, at: new Date(entry.at).toISOString() })}\n`).join("");

/** A cell that begins like a formula is marked as text: spreadsheets would run it. */
function asCsv(entries: Entry[]): string {
  const rows = entries.map((entry) => [
    entry.seq,
    new Date(entry.at).toISOString(),
    entry.actorId,
    entry.forId,
    entry.action,
    entry.pieceId,
    entry.subjectId,
    entry.before === null ? "" : JSON.stringify(entry.before),
    entry.after === null ? "" : JSON.stringify(entry.after),
    entry.origin,
    entry.requestId,
  ]);
  return stringify(rows, { record_delimiter: "windows", escape_formulas: true });
}
