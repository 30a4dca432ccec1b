import { memo } from "react";
import { Link } from "react-router";
import { TextLink } from "#app/ui/button.tsx";
import { useWords } from "#app/views/lists/words.ts";
import { dayAfter, localDate, mondayOf } from "#core/time/local.ts";
import { sayDate } from "#core/time/words.ts";
import { capital, counted } from "#core/words/say.ts";
import type { Mark } from "#server/schedule/mark.ts";
import { useClock } from "../time/clock.tsx";
import { BY, type SchedulePage, WEEKS } from "./data.ts";
import { said } from "./timetable.tsx";

/** In one sentence what the weeks hold. */
export function Head({ page }: { page: SchedulePage }) {
  const { zone, now } = useClock();
  const { marks, findings, wanted } = page;
  const leaves = marks.filter((mark) => mark.what === "planned" || mark.what === "proposed").length;
  const held = marks.filter((mark) => mark.holds.length > 0).length;
  const missing = marks.filter((mark) => mark.expected !== null).length;
  const gap = findings.find((one) => one.code === "gap");
  const amiss = [
    held > 0 && `${counted(held, "piece")} ${held === 1 ? "is" : "are"} held or will be`,
    missing > 0 && `${counted(missing, "piece")} will miss ${missing === 1 ? "its" : "their"} date`,
  ].filter((one) => one !== false);
  return (
    <>
      <h1>What leaves when</h1>
      <p className="mt-1 text-13 text-rail">
        {leaves === 0
          ? "Nothing is planned"
          : `${capital(counted(leaves, "piece"))} ${leaves === 1 ? "is" : "are"} planned`}{" "}
        in these {wanted.weeks} weeks.{" "}
        {amiss.length > 0 && <b className="font-semibold text-red">{capital(amiss.join(", "))}. </b>}
        {gap && `A gap begins ${sayDate(gap.from, zone, now)}. `}
        Times are {zone}.
      </p>
    </>
  );
}

/** Which weeks are shown, how many, and what stands down. */
export function Spans({ page: { wanted } }: { page: SchedulePage }) {
  const words = useWords();
  const { now, zone } = useClock();
  const to = (change: Record<string, string>) => {
    const next = new URLSearchParams(words);
    for (const [key, value] of Object.entries(change)) next.set(key, value);
    return `?${next}`;
  };
  const step = Math.max(1, Math.floor(wanted.weeks / 2)) * 7;
  const here = (yes: boolean) => (yes ? "border-blue font-semibold text-blue" : "border-transparent hover:text-blue");
  return (
    <nav aria-label="What is shown" className="flex flex-wrap items-center gap-x-4 gap-y-1 text-13 max-sm:hidden">
      <TextLink to={to({ from: dayAfter(wanted.from, -step) })} preventScrollReset>
        earlier
      </TextLink>
      <TextLink to={to({ from: mondayOf(localDate(now, zone)), day: localDate(now, zone) })} preventScrollReset>
        today
      </TextLink>
      <TextLink to={to({ from: dayAfter(wanted.from, step) })} preventScrollReset>
        later
      </TextLink>
      <span className="flex gap-3">
        {WEEKS.map((weeks) => (
          <Link
            key={weeks}
            to={to({ weeks: String(weeks) })}
            preventScrollReset
            aria-current={weeks === wanted.weeks ? "true" : undefined}
            className={`border-b-3 py-1 ${here(weeks === wanted.weeks)}`}
          >
            {weeks === 13 ? "a quarter" : `${weeks} weeks`}
          </Link>
        ))}
      </span>
      <span className="flex gap-3">
        {BY.map((by) => (
          <Link
            key={by}
            to={to({ by })}
            preventScrollReset
            aria-current={by === wanted.by ? "true" : undefined}
            className={`border-b-3 py-1 ${here(by === wanted.by)}`}
          >
            by {by}
          </Link>
        ))}
      </span>
    </nav>
  );
}

/** On a narrow screen the days of the span, each with how much leaves; the list below is one day's. */
export const Days = memo(function Days({
  days,
  marks,
  dayOf,
  listFrom,
}: {
  days: readonly string[];
  marks: readonly Mark[];
  dayOf(mark: Mark): string;
  listFrom: string;
}) {
  const words = useWords();
  const counts = new Map<string, number>();
  for (const mark of marks) {
    const day = dayOf(mark);
    counts.set(day, (counts.get(day) ?? 0) + 1);
  }
  return (
    <nav aria-label="Days" className="-mx-4 mt-3 flex overflow-x-auto border-y border-rule px-4 sm:hidden">
      {days.map((day) => {
        const next = new URLSearchParams(words);
        next.set("day", day);
        const count = counts.get(day) ?? 0;
        return (
          <Link
            key={day}
            to={`?${next}`}
            replace
            preventScrollReset
            aria-current={day === listFrom ? "date" : undefined}
            className={`min-w-11 shrink-0 py-1 text-center text-12 ${day === listFrom ? "bg-yellow text-on-yellow" : count === 0 ? "text-rail" : ""}`}
          >
            <span className="block whitespace-nowrap">{said(day).replace(/ [A-Z][a-z]+$/, "")}</span>
            <b className="block font-semibold">{count === 0 ? "–" : count}</b>
          </Link>
        );
      })}
    </nav>
  );
});
