import { memo, type ReactNode } from "react";
import { Link } from "react-router";
import { Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Faces } from "#app/ui/tabs.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { Due, useCalendar, useClock, When } from "#app/views/time/clock.tsx";
import { sayFan } from "#core/flow/fan.ts";
import { openTime } from "#core/time/due.ts";
import { localDate } from "#core/time/local.ts";
import { saySlack, workingDays } from "#core/time/slack.ts";
import { sayDate } from "#core/time/words.ts";
import { groupBy } from "#core/words/group.ts";
import { capital, counted } from "#core/words/say.ts";
import type { Column } from "#server/search/columns.ts";
import { ChooseBox } from "./choosing.tsx";
import type { Choosing } from "./chosen.ts";
import { Found } from "./found.tsx";
import type { PieceListed } from "./pieces-data.ts";

/** What a column of the list is called, how wide it is, and what stands in it. */
export const COLUMN: Record<Column, { name: string; width: string; shows(row: PieceListed): ReactNode }> = {
  state: {
    name: "Stop",
    width: "112px",
    shows: (row) => (
      <>
        <b className="block truncate font-semibold">{row.state}</b>
        <span className="block truncate text-rail">{row.section}</span>
      </>
    ),
  },
  holder: { name: "Whose turn", width: "128px", shows: (row) => <Holders row={row} /> },
  way: {
    name: "Its way",
    width: "minmax(180px,1fr)",
    shows: (row) => <Strip stops={row.stops} seats={row.seats} likely={row.likely} />,
  },
  due: {
    name: "Due",
    width: "140px",
    shows: (row) => (row.stateKind === "live" ? <span className="text-rail">live</span> : <Due at={row.dueAt} />),
  },
  likely: { name: "Likely live", width: "140px", shows: (row) => <LikelyLive row={row} /> },
  wished: {
    name: "Wished for",
    width: "112px",
    shows: (row) => (row.publishAt === null ? <Nothing /> : <When at={row.publishAt} dateOnly />),
  },
  waits: { name: "Waits", width: "84px", shows: (row) => <Waits since={row.since} /> },
  kind: { name: "Kind", width: "112px", shows: (row) => <span className="truncate">{row.kind}</span> },
  author: { name: "Author", width: "120px", shows: (row) => <span className="truncate">{row.author}</span> },
  remarks: {
    name: "Remarks",
    width: "76px",
    shows: (row) => (row.openComments ? `${row.openComments} open` : <Nothing />),
  },
};

const Nothing = () => <span className="text-rail">none</span>;

/** Whose turn it is; where it is nobody's, it waits for a date. */
export function Holders({ row: { holders, stateKind } }: { row: Pick<PieceListed, "holders" | "stateKind"> }) {
  const [first, ...others] = holders;
  if (!first) return <span className="text-rail">{stateKind === "ready" ? "waits for its date" : "nobody"}</span>;
  return (
    <span className="block truncate" title={holders.join(", ")}>
      {first}
      {others.length > 0 && <span className="text-rail"> and {counted(others.length, "other")}</span>}
    </span>
  );
}

function Waits({ since }: { since: number }) {
  const calendar = useCalendar();
  const { now } = useClock();
  return <>{workingDays(calendar, openTime(calendar, since, now))} wd</>;
}

function LikelyLive({ row: { likely, publishAt } }: { row: PieceListed }) {
  const calendar = useCalendar();
  const { zone, now } = useClock();
  if (likely === null) return <span className="text-rail">not foreseen</span>;
  const late = publishAt !== null && likely.p50 > publishAt;
  return (
    <span className={late ? "text-red" : ""} title={capital(sayFan(likely, zone, now))}>
      <b className="block font-semibold">{sayDate(likely.p50, zone, now)}</b>
      {publishAt !== null && saySlack(calendar, openTime(calendar, likely.p50, publishAt))}
    </span>
  );
}

interface ListProps {
  rows: readonly PieceListed[];
  columns: readonly Column[];
  choosing: Choosing;
}

/** Pieces below one another, with the columns a person chose. @param headed whether these are named above them */
export function PiecesTable({ rows, columns, choosing, headed = true }: ListProps & { headed?: boolean }) {
  const template = columnsOf(columns);
  return (
    <>
      {headed && (
        <div
          aria-hidden="true"
          style={{ gridTemplateColumns: template }}
          className="hidden gap-x-4 pb-1 text-12 text-rail lg:grid"
        >
          <span className="pl-7">Piece</span>
          {columns.map((key) => (
            <span key={key}>{COLUMN[key].name}</span>
          ))}
        </div>
      )}
      <Rows aria-label="Pieces" {...(!headed && { className: "" })}>
        {rows.map((row) => (
          <PieceRow key={row.id} row={row} columns={columns} template={template} choosing={choosing} />
        ))}
      </Rows>
    </>
  );
}

const columnsOf = (columns: readonly Column[]) =>
  ["minmax(150px,280px)", ...columns.map((key) => COLUMN[key].width)].join(" ");

/** A piece in one row; on a narrow screen its way and its date stay, smaller. */
const PieceRow = memo(function PieceRow({
  row,
  columns,
  template,
  choosing,
}: {
  row: PieceListed;
  columns: readonly Column[];
  template: string;
  choosing: Choosing;
}) {
  return (
    <Row
      style={{ "--columns": template } as React.CSSProperties}
      className="row-apart grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 py-0.5 text-13 lg:-mx-6 lg:grid-cols-(--columns) lg:px-6"
    >
      <div className="relative min-w-0 pl-7">
        <span className="absolute left-0 top-0.5 -ml-1">
          <ChooseBox id={row.id} title={row.title} choosing={choosing} />
        </span>
        <Link
          to={`/pieces/${row.slug}`}
          aria-label={`${row.title}, ${row.kind}, ${row.state}`}
          className="block truncate text-15 font-semibold hover:text-blue"
        >
          {row.title}
        </Link>
        <p className="truncate text-rail">
          {[row.urgency === "urgent" && "urgent", row.private && "private", row.kind, row.author]
            .filter(Boolean)
            .join(" · ")}
        </p>
      </div>
      {columns.map((key) => (
        <div key={key} className={`min-w-0 ${NARROW[key] ?? "max-lg:hidden"}`}>
          {COLUMN[key].shows(row)}
        </div>
      ))}
      {row.hit && <Found hit={row.hit} />}
    </Row>
  );
});

/** What stays where there is no room for columns. */
const NARROW: Partial<Record<Column, string>> = {
  due: "max-lg:col-start-2 max-lg:row-start-1 max-lg:text-right",
  way: "max-lg:order-last max-lg:col-span-full",
  holder: "max-lg:col-span-full max-lg:pl-7",
};

/** Pieces by the day they are due, or wished for readers: what is late stands first. @param drawn those of the rows that are drawn by now */
export function PiecesByDate({
  rows,
  drawn,
  columns,
  choosing,
  words,
}: ListProps & { drawn: readonly PieceListed[]; words: URLSearchParams }) {
  const { zone, now } = useClock();
  const wished = words.get("by") === "publish";
  const today = localDate(now, zone);
  const there = new Set(drawn);
  const days = groupBy(rows, (row) => {
    const at = wished ? row.publishAt : row.dueAt;
    return at === null ? "none" : at < now ? "late" : localDate(at, zone);
  });
  return (
    <>
      <Faces
        label="By which date"
        word="by"
        words={words}
        faces={[
          ["", "when it is due"],
          ["publish", "when readers should have it"],
        ]}
      />
      {[...days].map(([day, some]) => (
        <Part
          key={day}
          title={
            <span className={day === "late" ? "text-red" : ""}>
              {day === today && "Today, "}
              {day === "none" ? "Without a date" : day === "late" ? "Past" : sayDate(Date.parse(day), "UTC", now)}
            </span>
          }
          about={counted(some.length, "piece")}
        >
          <PiecesTable
            rows={some.filter((row) => there.has(row))}
            columns={columns}
            choosing={choosing}
            headed={false}
          />
        </Part>
      ))}
    </>
  );
}
