import { Link } from "react-router";
import { TextLink } from "#app/ui/button.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { useWords } from "#app/views/lists/words.ts";
import { useCalendar, useClock, When } from "#app/views/time/clock.tsx";
import { ENOUGH } from "#core/flow/line.ts";
import { openTime } from "#core/time/due.ts";
import { saySlack, workingDays } from "#core/time/slack.ts";
import { sayDate, sayTake } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Known, Likely } from "./data.ts";

const MINUTE = 60_000;

/** What each stop holds and how long it takes, in a few words. */
export function Waits({ page: { flow, stops } }: { page: Known }) {
  const calendar = useCalendar();
  const days = (minutes: number) => workingDays(calendar, minutes * MINUTE);
  return (
    <>
      <Part title="Where it waits" about="half · 85 of 100" className="">
        <Aside className="mt-1">in working days</Aside>
        <ul>
          {stops.slice(0, -1).map(({ key, name }) => {
            const one = flow.measured.find(({ state }) => state === key);
            const back = one?.returned ?? 0;
            return (
              <li key={key} className="border-b border-rule py-1.5 text-13">
                <span className="flex justify-between gap-3">
                  <b className="min-w-0 truncate font-semibold">{name}</b>
                  <span className="whitespace-nowrap tabular-nums">
                    {one?.p50 === undefined ? "none left" : `${days(one.p50)} · ${days(one.p85 ?? one.p50)}`}
                  </span>
                </span>
                <span className="block text-rail">
                  {one?.now ?? 0} there
                  {one?.oldest !== undefined && `, longest ${days(one.oldest)}`}
                  {back > 0 && `; ${Math.round(back * 100)} of 100 come back`}
                </span>
              </li>
            );
          })}
        </ul>
      </Part>
      <Part title="How far to trust it" className="mt-6">
        <p className="mt-2 text-13">
          {flow.held
            ? `Of ${flow.held.of} pieces the forecast of four weeks ago spoke of, ${flow.held.within} arrived by when 85 of 100 should.`
            : "There is not enough of the past yet to hold a forecast against it."}
        </p>
        <Aside className="mt-1">{trust(flow.seen, stops)}</Aside>
      </Part>
    </>
  );
}

/** From how many pieces the forecast comes. */
function trust(seen: Record<string, number>, stops: Known["stops"]): string {
  const ahead = stops.slice(0, -1);
  const little = ahead.filter(({ key }) => (seen[key] ?? 0) === 0).map(({ name }) => name);
  const least = Math.min(...ahead.map(({ key }) => seen[key] ?? 0).filter((one) => one > 0));
  const from = Number.isFinite(least)
    ? `It comes from at least ${counted(least, "piece")} a stop in the last half year. `
    : "";
  return little.length === 0
    ? from
    : `${from}Fewer than ${ENOUGH} have left ${little.join(", ")}: there the time allowed is taken instead.`;
}

/** Pieces queueing at each stop, the longest wait first. */
export function Queues({ page }: { page: Known }) {
  const { flow, stops } = page;
  const fullest = Math.max(0, ...Object.values(flow.there).map((one) => one.all));
  return (
    <div className="mt-2 space-y-5">
      {stops.slice(0, -1).map(({ key, name, take }) => {
        const there = flow.likely.filter((one) => one.at === key).sort((a, b) => a.since - b.since);
        const all = flow.there[key]?.all ?? 0;
        return (
          <Part
            key={key}
            title={name}
            about={`${all} there${all === fullest && all > 1 ? ", the most" : ""}${take === null ? "" : `, ${sayTake(take)} allowed`}`}
            className=""
          >
            {there.length === 0 && <Aside className="mt-1">Nobody waits here.</Aside>}
            <Rows aria-label={name} className="">
              {there.map((one) => (
                <Waiting key={one.id} one={one} page={page} />
              ))}
            </Rows>
            {there.length < all && <Aside className="mt-1">and {all - there.length} more</Aside>}
          </Part>
        );
      })}
    </div>
  );
}

/** One piece on its way: since when it is there, and when it is likely to arrive. */
export function Waiting({ one, page }: { one: Likely; page: Known }) {
  const calendar = useCalendar();
  const { zone, now } = useClock();
  const piece = page.pieces[one.id];
  if (!piece) return null;
  const late = one.publishAt !== null && one.p50 > one.publishAt;
  return (
    <Row className="grid grid-cols-[minmax(0,1fr)] items-baseline gap-x-4 py-1 text-13 md:grid-cols-[minmax(0,1fr)_130px_minmax(0,270px)]">
      <Link to={`/pieces/${piece.slug}`} className="truncate font-semibold hover:text-blue">
        {piece.title}
      </Link>
      <span className="text-rail max-md:hidden">since {sayDate(one.since, zone, now)}</span>
      <span className={`md:text-right ${late ? "text-red" : ""}`}>
        likely <When at={one.p50} dateOnly />
        {one.publishAt !== null && `, ${saySlack(calendar, openTime(calendar, one.p50, one.publishAt))}`}
      </span>
    </Row>
  );
}

/** The stops as a table, beside the period before; to take along too. */
export function Table({ page: { flow, stops, names } }: { page: Known }) {
  const calendar = useCalendar();
  const words = useWords();
  const days = (minutes: number | undefined) => (minutes === undefined ? "" : workingDays(calendar, minutes * MINUTE));
  const order = new Map(stops.map(({ key }, i) => [key, i]));
  const rows = [...flow.measured].sort((a, b) => (order.get(a.state) ?? 99) - (order.get(b.state) ?? 99));
  return (
    <div className="mt-2 overflow-x-auto">
      <table className="w-full text-13 tabular-nums">
        <caption className="pb-2 text-left text-rail">
          In working days; in brackets what it was in as many weeks before.{" "}
          <TextLink to={`/flow/file?${words}`} reloadDocument>
            As CSV
          </TextLink>
        </caption>
        <Head names={["Stop", "left", "half", "85 of 100", "came back", "there now", "longest", "on average"]} />
        <tbody>
          {rows.map((one) => {
            const was = flow.before.find(({ state }) => state === one.state);
            return (
              <tr key={one.state} className="border-b border-rule text-right">
                <th scope="row" className="py-1.5 pr-2 text-left font-semibold">
                  {names[one.state] ?? `${one.state} (gone)`}
                </th>
                <Beside now={one.left} was={was?.left} />
                <Beside now={days(one.p50)} was={days(was?.p50)} />
                <Beside now={days(one.p85)} was={days(was?.p85)} />
                <Beside now={share(one.returned)} was={share(was?.returned)} />
                <td className="px-2">{one.now}</td>
                <td className="px-2">{days(one.oldest)}</td>
                <Beside now={one.waiting} was={was?.waiting} />
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** The head of a table of numbers: what its rows are, and what stands in them. */
export const Head = ({ names }: { names: readonly string[] }) => (
  <thead className="border-b border-ink text-right">
    <tr>
      {names.map((name) => (
        <th key={name} scope="col" className="px-2 py-1 font-semibold first:pl-0 first:text-left">
          {name}
        </th>
      ))}
    </tr>
  </thead>
);

const share = (one: number | undefined) => (one === undefined ? "" : `${Math.round(one * 100)} %`);

const Beside = ({ now, was }: { now: number | string; was: number | string | undefined }) => (
  <td className="px-2 whitespace-nowrap">
    {now}
    {was !== undefined && was !== "" && <span className="text-rail"> ({was})</span>}
  </td>
);
