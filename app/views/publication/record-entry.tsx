import { useState } from "react";
import { Link } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { LedgerRow } from "#server/ledger/queries.ts";

/** One entry of the record: a sentence and, on demand, what was there before and after. */
export function Entry({ row }: { row: LedgerRow }) {
  const [open, setOpen] = useState(false);
  const changes = differences(row.before, row.after);
  return (
    <li
      data-row
      className="grid min-h-8 items-center gap-x-4 gap-y-1 border-b border-rule py-1 text-13 focus-within:bg-wash sm:grid-cols-[52px_124px_minmax(0,1fr)_auto]"
    >
      <span className="text-rail">{row.seq}</span>
      <span className="text-rail">
        <When at={row.at} />
      </span>
      <p className="min-w-0 break-words">
        <b className="font-semibold">{row.who ?? "Elenco"}</b>
        {row.for && ` for ${row.for}`} {row.words}
        {row.subject && <b className="font-semibold"> {row.subject}</b>}
        {row.piece && (
          <>
            {" · "}
            <Link to={`/pieces/${row.piece.slug}`} className="hover:text-blue">
              “{row.piece.title}”
            </Link>
          </>
        )}
      </p>
      {changes.length > 0 && (
        <Button
          look="bare"
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="min-h-6 py-0.5 text-left text-blue sm:-my-1"
        >
          {open ? "Fold" : "Before and after"}
        </Button>
      )}
      {open && (
        <dl className="col-span-full my-1 grid grid-cols-[120px_minmax(0,1fr)_minmax(0,1fr)] gap-x-3 gap-y-0.5 border-t border-rule pt-1 text-12 sm:pl-48">
          {changes.map((one) => (
            <div key={one.key} className="contents">
              <dt className="text-rail">{one.key}</dt>
              <dd className="break-words text-rail">{one.before || "nothing"}</dd>
              <dd className="break-words">{one.after || "nothing"}</dd>
            </div>
          ))}
          <dt className="text-rail">asked from</dt>
          <dd className="col-span-2">{row.origin}</dd>
        </dl>
      )}
    </li>
  );
}

/** What an entry says was changed, key by key; what is the same on both sides is left out. */
function differences(before: unknown, after: unknown) {
  const [was, is] = [before, after].map((side) => (side ?? {}) as Record<string, unknown>);
  const keys = [...new Set([...Object.keys(was ?? {}), ...Object.keys(is ?? {})])];
  return keys
    .map((key) => ({ key, before: say(was?.[key]), after: say(is?.[key]) }))
    .filter((one) => one.before !== one.after);
}

function say(value: unknown): string {
  if (value === null || value === undefined) return "";
  if (Array.isArray(value) && value.every((one) => typeof one === "string")) return value.join(", ");
  return typeof value === "object" ? JSON.stringify(value) : String(value);
}
