import { Link } from "react-router";
import { ButtonLink } from "#app/ui/button.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { ChooseBox } from "#app/views/lists/choosing.tsx";
import type { Choosing } from "#app/views/lists/chosen.ts";
import { Due } from "#app/views/time/clock.tsx";
import type { PieceRow } from "#server/pieces/rows.ts";

/** One piece in a list of work: what is asked, by whom, until when, its way, and the one thing to do. */
export function TurnRow({
  row,
  asked,
  choosing,
}: {
  row: PieceRow;
  asked: "decide" | "write" | "see to" | null;
  choosing: Choosing;
}) {
  const to = `/pieces/${row.slug}`;
  return (
    <li
      data-row
      className="grid items-center gap-x-4 gap-y-1 border-b border-rule py-1.5 focus-within:bg-wash md:grid-cols-[minmax(0,300px)_148px_minmax(0,1fr)_auto] md:-mx-6 md:px-6"
    >
      <div className="relative min-w-0 pl-7">
        <span className="absolute left-0 top-0.5 -ml-1">
          <ChooseBox id={row.id} title={row.title} choosing={choosing} />
        </span>
        <Link to={to} className="block truncate font-semibold hover:text-blue">
          {row.title}
        </Link>
        <p className="truncate text-13 text-rail" title={row.arrival?.note || undefined}>
          {summary(row, asked)}
        </p>
      </div>
      <Due at={row.dueAt} />
      <div className="min-w-0">
        <Strip stops={row.stops} seats={row.seats} />
      </div>
      <div className="flex gap-2 md:w-36 md:justify-end">
        {asked === "decide" ? (
          <>
            <ButtonLink to={to} aria-label={`Open ${row.title}`}>
              Open
            </ButtonLink>
            <ButtonLink look="go" to={`${to}?do=decide`} aria-label={`Decide on ${row.title}`}>
              Decide
            </ButtonLink>
          </>
        ) : (
          <ButtonLink to={to} aria-label={`${asked === "write" ? "Write" : "Open"} ${row.title}`}>
            {asked === "write" ? "Write" : "Open"}
          </ButtonLink>
        )}
      </div>
    </li>
  );
}

function summary(row: PieceRow, asked: string | null): string {
  const waiting = row.seats.filter((seat) => !seat.decided).map((seat) => seat.name);
  const who =
    asked === null && waiting.length > 0
      ? waiting.join(", ")
      : row.arrival?.by && row.arrival.note
        ? `${row.arrival.by}: ${row.arrival.note}`
        : (row.arrival?.by ?? row.section);
  const comments = row.openComments ? `${row.openComments} open comment${row.openComments === 1 ? "" : "s"}` : "";
  const back = asked === "write" && row.arrival ? row.arrival.step : row.state;
  return [row.urgency === "urgent" && "urgent", back, comments, who].filter(Boolean).join(" · ");
}
