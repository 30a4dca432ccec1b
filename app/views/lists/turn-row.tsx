import { memo } from "react";
import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { ChooseBox } from "#app/views/lists/choosing.tsx";
import type { Choosing } from "#app/views/lists/chosen.ts";
import { Due } from "#app/views/time/clock.tsx";
import { list } from "#core/words/say.ts";
import type { PieceRow } from "#server/pieces/rows.ts";

/** One piece in a list of work: what is asked, by whom, until when, its way, and the one thing to do. */
export const TurnRow = memo(function TurnRow({
  row,
  asked,
  choosing,
  asking = false,
  nudged = null,
}: {
  row: PieceRow;
  asked: "decide" | "write" | "see to" | null;
  choosing: Choosing;
  /** Whether it is being asked where it is. */
  asking?: boolean;
  /** What became of asking. */
  nudged?: Nudged | null;
}) {
  const to = `/pieces/${row.slug}`;
  return (
    <li
      data-row
      className="row-apart grid items-center gap-x-4 gap-y-1 border-b border-rule py-1.5 focus-within:bg-wash md:grid-cols-[minmax(0,300px)_148px_minmax(0,1fr)_auto] md:-mx-6 md:px-6"
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
        <Strip stops={row.stops} seats={row.seats} likely={row.likely} />
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
        ) : asked === null ? (
          <Nudge row={row} asking={asking} answer={nudged} />
        ) : (
          <ButtonLink to={to} aria-label={`${asked === "write" ? "Write" : "Open"} ${row.title}`}>
            {asked === "write" ? "Write" : "Open"}
          </ButtonLink>
        )}
      </div>
    </li>
  );
});

/** What is answered to who asks where a piece is. */
export type Nudged = FormAnswer & { about?: string; people?: string[] };

/** The form by which it is asked where a piece is, once for all rows: each has but a button. */
export const NUDGE = "nudge";

/** Asks whoever has it where it is; of one piece once in a working day. */
function Nudge({ row, asking, answer }: { row: PieceRow; asking: boolean; answer: Nudged | null }) {
  return (
    <div className="text-13 md:text-right">
      <Button form={NUDGE} name="pieceId" value={row.id} busy={asking} aria-label={`Where is it? ${row.title}`}>
        Where is it?
      </Button>
      {answer && (
        <p role="status" className="mt-1 text-12">
          {answer.refusal ? answer.refusal.sentence : `${list(answer.people ?? [])} heard of it.`}
        </p>
      )}
    </div>
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
