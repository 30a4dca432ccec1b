import { memo } from "react";
import { Link } from "react-router";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { ChooseBox } from "#app/views/lists/choosing.tsx";
import type { Choosing } from "#app/views/lists/chosen.ts";
import { type Fan, sayFan } from "#core/flow/fan.ts";
import { localDate } from "#core/time/local.ts";
import { saySlack, slack } from "#core/time/slack.ts";
import { sayDate, sayTime } from "#core/time/words.ts";
import { groupBy } from "#core/words/group.ts";
import { capital } from "#core/words/say.ts";
import type { Mark } from "#server/schedule/mark.ts";
import { useCalendar, useClock } from "../time/clock.tsx";
import type { Carry } from "./carrying.ts";
import type { SchedulePage } from "./data.ts";
import { said } from "./timetable.tsx";
import { sayStanding } from "./words.ts";

/** What leaves in the chosen days: with its time, its whole title, how it stands and its way. It stays while something is carried. */
export const Listing = memo(function Listing({
  marks,
  page,
  choosing,
  carry,
}: {
  marks: readonly Mark[];
  page: SchedulePage;
  choosing: Choosing;
  carry: Carry;
}) {
  const { now, zone } = useClock();
  const rows = new Map(page.rows.map((row) => [row.id, row]));
  const [first] = page.channels;
  const names = new Map(page.channels.map(({ key, name }) => [key, name]));
  return [...groupBy(marks, (mark) => localDate(mark.at, zone))].map(([day, some]) => (
    <section key={day} className="mt-4">
      <h2
        className={`border-b border-ink pb-1.5 ${day === localDate(now, zone) ? "bg-yellow px-1 text-on-yellow" : ""}`}
      >
        {said(day)}
      </h2>
      <Rows className="" aria-label={said(day)}>
        {some.map((mark) => {
          const row = rows.get(mark.pieceId ?? "");
          return (
            <Row
              key={mark.id}
              className="grid [contain-intrinsic-block-size:auto_52px] [content-visibility:auto] grid-cols-[46px_minmax(0,1fr)] items-center gap-x-3 py-1 sm:grid-cols-[74px_minmax(0,1fr)_minmax(0,200px)] xl:grid-cols-[74px_minmax(0,1fr)_minmax(0,190px)_minmax(0,230px)]"
            >
              <span className="flex items-center gap-1 font-semibold tabular-nums">
                <span className="max-sm:hidden">
                  {mark.what !== "ends" && row && <ChooseBox id={row.id} title={mark.title} choosing={choosing} />}
                </span>
                <span
                  onPointerDown={mark.movable ? carry.press([mark]) : undefined}
                  className={mark.movable ? "cursor-grab" : ""}
                  title={mark.movable ? "Carry it to another day" : undefined}
                >
                  {sayTime(mark.at, zone)}
                </span>
              </span>
              <span className="min-w-0">
                <Link
                  to={mark.to}
                  className={`block truncate font-semibold hover:text-blue ${mark.what === "wished" ? "text-rail" : ""}`}
                >
                  {mark.title}
                </Link>
                <span className="block truncate text-13 text-rail">
                  {[row && `${row.kind} · ${row.section}`, mark.channel === first?.key ? null : names.get(mark.channel)]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
              </span>
              <Standing mark={mark} likely={mark.what === "wished" ? (row?.likely ?? null) : null} />
              <span className="min-w-0 max-xl:hidden">
                {row && <Strip stops={row.stops} seats={row.seats} likely={row.likely} bare />}
              </span>
            </Row>
          );
        })}
      </Rows>
    </section>
  ));
});

/** How it stands; of what is wished for and not ready, when it is likely to arrive. */
function Standing({ mark, likely }: { mark: Mark; likely: Fan | null }) {
  const clock = useClock();
  const calendar = useCalendar();
  const late = mark.holds.length > 0 || mark.expected !== null;
  const missed = mark.expected === null ? "" : `, ${saySlack(calendar, slack(calendar, mark.expected, mark.at))}`;
  return (
    <span className={`min-w-0 text-13 break-words max-sm:col-start-2 ${late ? "text-red" : "text-rail"}`}>
      {sayStanding(mark, clock)}
      {missed}
      {likely && (
        <span title={capital(sayFan(likely, clock.zone, clock.now))}>
          , likely {sayDate(likely.p50, clock.zone, clock.now)}
        </span>
      )}
    </span>
  );
}
