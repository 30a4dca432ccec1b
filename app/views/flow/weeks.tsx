import { useMemo } from "react";
import { Chart } from "#app/ui/chart.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { sayDate } from "#core/time/words.ts";
import type { Known } from "./data.ts";
import { Head } from "./stops.tsx";

/** What the line let go, held and sent back, week by week: drawn, and as a table. */
export function Weeks({ page: { flow } }: { page: Known }) {
  const { zone, now } = useClock();
  const { weeks } = flow;
  const names = useMemo(() => weeks.map(({ from }) => sayDate(from, zone, now)), [weeks, zone, now]);
  const arrived = useMemo(() => weeks.map((one) => one.arrived), [weeks]);
  const waiting = useMemo(() => weeks.map((one) => one.waiting), [weeks]);
  const returned = useMemo(() => weeks.map((one) => one.returned), [weeks]);
  if (weeks.length < 2) return <Aside className="mt-3">There are too few weeks to be drawn.</Aside>;
  return (
    <>
      <Part title="Left for readers" about="a week">
        <Chart label="How many left for readers in each week" look="bars" names={names} values={arrived} />
      </Part>
      <Part title="On the way" about="on average">
        <Chart label="How many were on the way in each week, on average" look="line" names={names} values={waiting} />
      </Part>
      <Part title="Came back" about="a week">
        <Chart label="How many came back in each week" look="bars" names={names} values={returned} />
      </Part>
      <table className="mt-6 w-full max-w-160 text-13 tabular-nums">
        <caption className="pb-2 text-left text-rail">The same in numbers, the latest week first.</caption>
        <Head names={["Week from", "left for readers", "on the way", "came back"]} />
        <tbody>
          {weeks.toReversed().map((one) => (
            <tr key={one.from} className="border-b border-rule text-right">
              <th scope="row" className="py-1.5 pr-2 text-left font-semibold">
                {sayDate(one.from, zone, now)}
              </th>
              <td className="px-2">{one.arrived}</td>
              <td className="px-2">{one.waiting.toFixed(1)}</td>
              <td className="px-2">{one.returned}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
