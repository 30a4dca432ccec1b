import { Part } from "#app/ui/page.tsx";
import { useCalendar, useClock } from "#app/views/time/clock.tsx";
import { due } from "#core/time/due.ts";
import { fromLocalInput } from "#core/time/local.ts";
import { plan } from "#core/time/plan.ts";
import { saySlack, slack } from "#core/time/slack.ts";
import { sayDate } from "#core/time/words.ts";
import { capital } from "#core/words/say.ts";
import type { LineAhead } from "#server/pieces/beginning.ts";

/** The stops a piece would pass, when it would reach each if it were begun now, and by when it must for the date wished for. */
export function LineToTravel({ line: { name, stops }, wish }: { line: LineAhead; wish: string }) {
  const { now, zone } = useClock();
  const calendar = useCalendar();
  const at = fromLocalInput(wish, zone);
  const take = stops[0]?.take;
  const leaves = take ? due(calendar, now, take) : now;
  const planned = plan(calendar, stops, { since: now, leaves }, at);
  const last = planned.at(-1);
  return (
    <Part title={`The line it travels: ${name}`} aria-label={`The line it travels: ${name}`} className="max-w-160">
      <ol>
        {stops.map((stop, i) => {
          const of = planned[i];
          const late = of?.reachBy != null && of.expected > of.reachBy;
          return (
            <li
              key={stop.key}
              className={`grid grid-cols-[minmax(0,1fr)_110px_110px] gap-x-4 border-b border-rule py-1.5 text-13 ${late ? "text-red" : ""}`}
            >
              <span>{stop.name}</span>
              <span className="text-rail">{i > 0 && of && `about ${sayDate(of.expected, zone, now)}`}</span>
              <span>{of?.reachBy != null && `by ${sayDate(of.reachBy, zone, now)}`}</span>
            </li>
          );
        })}
      </ol>
      {last && at !== null && (
        <p role="status" className={`mt-2 text-13 ${last.expected > at ? "font-semibold text-red" : ""}`}>
          {capital(saySlack(calendar, slack(calendar, last.expected, at)))}.
        </p>
      )}
    </Part>
  );
}
