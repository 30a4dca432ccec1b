import { Link } from "react-router";
import { ButtonLink } from "#app/ui/button.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { sayHold } from "#core/release/preflight.ts";
import { sayDate, sayExactly, sayInstant, sayTime } from "#core/time/words.ts";
import type { ScheduleRow } from "#server/release/queries.ts";
import type { Route } from "../../routes/+types/schedule.ts";

/** What reaches readers, and when. */
export function ScheduleView({ loaderData }: Route.ComponentProps) {
  const { zone, now } = useClock();
  const { rows } = loaderData;
  const held = rows.filter((row) => row.status === "held");
  const done = rows.filter((row) => row.status === "done").reverse();
  const ahead = rows
    .filter((row) => ["planned", "proposed", "wished", "ready"].includes(row.status) && row.at !== null)
    .sort((a, b) => (a.at ?? 0) - (b.at ?? 0));
  const undated = rows.filter((row) => row.status === "ready" && row.at === null);
  const planned = rows.filter((row) => row.status === "planned").length;
  return (
    <div className="px-4 py-5 md:px-6">
      <h1>Schedule</h1>
      <p className="mt-1 text-13 text-rail">
        {planned === 0
          ? "No release is planned"
          : planned === 1
            ? "One release is planned"
            : `${planned} releases are planned`}
        {held.length > 0 && <b className="text-red">, {held.length} held</b>}. Times are {zone}.
      </p>
      {rows.length === 0 && (
        <p className="mt-6 text-rail">Nothing is on its way to readers. Approved pieces appear here.</p>
      )}
      <Group name="Held" rows={held} red dated />
      {[...byDay(ahead, zone, now)].map(([day, list]) => (
        <Group key={day} name={day} rows={list} dated={day === PASSED} head={day === sayDate(now, zone, now)} />
      ))}
      <Group name="Ready, without a date" rows={undated} />
      <Group name="Left in the last week" rows={done} dated />
    </div>
  );
}

const PASSED = "Wished for, and passed";

function byDay(rows: ScheduleRow[], zone: string, now: number): Map<string, ScheduleRow[]> {
  const days = new Map<string, ScheduleRow[]>();
  for (const row of rows) {
    const day = (row.at ?? 0) < now ? PASSED : sayDate(row.at ?? 0, zone, now);
    days.set(day, [...(days.get(day) ?? []), row]);
  }
  return days;
}

const STATUS: Record<ScheduleRow["status"], string> = {
  planned: "planned",
  proposed: "proposed, to be confirmed",
  held: "held",
  done: "left",
  ready: "ready, not planned",
  wished: "wished for, not ready",
};

function Group({
  name,
  rows,
  red = false,
  head = false,
  dated = false,
}: {
  name: string;
  rows: ScheduleRow[];
  red?: boolean;
  head?: boolean;
  dated?: boolean;
}) {
  const { zone, now } = useClock();
  if (rows.length === 0) return null;
  return (
    <section className="mt-5">
      <h2 className={`border-b border-ink pb-1.5 ${red ? "text-red" : ""} ${head ? "bg-yellow text-on-yellow" : ""}`}>
        {name}
      </h2>
      <ul>
        {rows.map((row) => (
          <li
            key={`${row.pieceId}-${row.status}-${row.at}`}
            data-row
            className={`grid items-center gap-x-4 border-b border-rule py-1.5 focus-within:bg-wash sm:grid-cols-[104px_minmax(0,1fr)_160px] md:grid-cols-[104px_minmax(0,1fr)_200px_170px_100px] ${red ? "border-l-3 border-l-red pl-2" : ""}`}
          >
            <span className="font-semibold" title={row.at ? sayExactly(row.at, zone) : undefined}>
              {row.at && (dated ? sayInstant(row.at, zone, now).replace(/ [A-Z][a-z]+,/, ",") : sayTime(row.at, zone))}
            </span>
            <div className="min-w-0">
              <Link to={`/pieces/${row.slug}`} className="block truncate font-semibold hover:text-blue">
                {row.title}
              </Link>
              {row.holds.map((hold) => (
                <p key={hold.code} className="text-13 text-red">
                  {sayHold(hold)}
                </p>
              ))}
            </div>
            <span className="hidden truncate text-13 text-rail md:block">
              {row.kind} · {row.section}
            </span>
            <span
              className={`text-13 ${row.status === "held" || row.holds.length > 0 ? "font-semibold text-red" : row.status === "wished" ? "text-rail" : ""}`}
            >
              {STATUS[row.status]}
              {row.version !== null && <span className="font-normal text-rail"> · version {row.version}</span>}
            </span>
            <span className="hidden text-right md:block">
              {row.schedulable && row.status !== "done" && (
                <ButtonLink
                  to={`/pieces/${row.slug}?do=plan`}
                  look={row.status === "ready" || row.confirmable ? "go" : "plain"}
                >
                  {row.status === "ready" ? "Plan" : row.confirmable ? "Confirm" : "Move"}
                </ButtonLink>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
