import { type KeyboardEvent, memo, useMemo } from "react";
import { Link, useNavigate } from "react-router";
import { Part } from "#app/ui/page.tsx";
import { Rows } from "#app/ui/rows.tsx";
import { useWords } from "#app/views/lists/words.ts";
import { useClock } from "#app/views/time/clock.tsx";
import { sayFan } from "#core/flow/fan.ts";
import { dayAfter, fromLocalInput, localDate, mondayOf } from "#core/time/local.ts";
import { sayDate, sayLength } from "#core/time/words.ts";
import { list } from "#core/words/say.ts";
import type { Known } from "./data.ts";
import { Waiting } from "./stops.tsx";

const DAY = 86_400_000;
/** How high a row of a stop is, what is above and below its rows, and the least a stop needs, in pixels. */
const [ROW, ROOM, LEAST] = [9, 16, 46];
/** Across the sheet is drawn in so many units, however wide it is. */
const ACROSS = 1_000;

/** Time across, the stops of the line down, the way of each piece over them; right of now what is likely. */
export function Sheet({ page }: { page: Known }) {
  const words = useWords();
  const navigate = useNavigate();
  const { now, zone } = useClock();
  const { flow, stops, pieces, from } = page;
  const until = now + Math.min(28 * DAY, (now - from) * 0.35);
  const chosenSlug = words.get("piece");
  const chosen = Object.keys(pieces).find((id) => pieces[id]?.slug === chosenSlug) ?? null;
  words.delete("piece");
  const beside = words.toString();
  const address = (slug: string | null) => addressOf(beside, slug);
  const walked = flow.likely.filter(({ id }) => pieces[id]);
  const onKey = (event: KeyboardEvent) => {
    const at = walked.findIndex(({ id }) => id === chosen);
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined && walked.length > 0) {
      const next = walked[(at + step + walked.length) % walked.length];
      navigate(address(pieces[next?.id ?? ""]?.slug ?? null), { replace: true, preventScrollReset: true });
    } else if (event.key === "Enter" && chosenSlug) navigate(`/pieces/${chosenSlug}`);
    else if (event.key === "Escape" && chosen) navigate(address(null), { replace: true, preventScrollReset: true });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <>
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing that is walked by its arrows is no set of fields */}
      <div
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: its arrows walk the ways
        tabIndex={0}
        aria-label="The ways of the pieces"
        aria-describedby="sheet-keys"
        onKeyDown={onKey}
        className="mt-1 overflow-x-auto max-sm:hidden"
      >
        <Drawn
          flow={flow}
          stops={stops}
          pieces={pieces}
          from={from}
          now={now}
          until={until}
          zone={zone}
          chosen={chosen}
          beside={beside}
        />
      </div>
      <p id="sheet-keys" className="mt-2 text-13 text-rail max-sm:hidden">
        Each way is a piece: level while it waits, falling when it moves on, rising when it comes back. Right of now is
        what is likely. Arrows walk those on their way, Enter opens.
      </p>
      <p role="status" className="mt-2 min-h-6 text-13">
        {chosen && pieces[chosen] && (
          <>
            <Link to={`/pieces/${chosenSlug}`} className="font-semibold text-blue">
              {pieces[chosen]?.title}
            </Link>
            : <Story id={chosen} page={page} />
          </>
        )}
      </p>
      <Part title="On their way" about="the likeliest to be late first" className="mt-4">
        <Rows aria-label="On their way" className="">
          <Walked page={page} />
        </Rows>
      </Part>
    </>
  );
}

const addressOf = (beside: string, slug: string | null) =>
  `?${beside}${slug ? `${beside && "&"}piece=${encodeURIComponent(slug)}` : ""}`;

/** Those on their way, a row each; which of the ways is chosen changes none. */
const Walked = memo(function Walked({ page }: { page: Known }) {
  return page.flow.likely.flatMap((one) =>
    page.pieces[one.id] ? [<Waiting key={one.id} one={one} page={page} />] : [],
  );
});

/** A piece's way in words: where it was for how long, what came back, and when it is likely to arrive. */
function Story({ id, page: { flow, stops, names } }: { id: string; page: Known }) {
  const { zone, now } = useClock();
  const way = flow.sheet.ways.filter((one) => one.piece === id).flatMap((one) => one.corners);
  const legs = way.flatMap((corner, i) => {
    const next = way[i + 1];
    if (i % 2 === 1 || !next) return [];
    const stop = stops[corner.stop];
    const before = way[i - 1];
    const back = before !== undefined && corner.stop < before.stop;
    return [`${back ? "back in " : ""}${names[stop?.key ?? ""] ?? ""} ${sayLength(next.at - corner.at)}`];
  });
  const likely = flow.likely.find((one) => one.id === id);
  const last = likely?.stops.at(-1);
  return (
    <>
      {list(legs)}
      {likely && last && (
        <>
          ; likely {sayDate(likely.p50, zone, now)}, {sayFan(last, zone, now)}
        </>
      )}
      .
    </>
  );
}

interface DrawnProps extends Pick<Known, "flow" | "stops" | "pieces" | "from"> {
  now: number;
  until: number;
  zone: string;
  chosen: string | null;
  /** The words of the address beside the one that chooses a way. */
  beside: string;
}

/** Where instants and rows of stops lie on the sheet. */
function groundOf({ flow, stops, from, until }: Pick<DrawnProps, "flow" | "stops" | "from" | "until">) {
  const heights = flow.sheet.rows.map((rows) => Math.max(LEAST, rows * ROW + ROOM));
  const tops = heights.map((_, i) => heights.slice(0, i).reduce((sum, one) => sum + one, 0));
  return {
    tops,
    height: heights.reduce((sum, one) => sum + one, 0),
    end: stops.length - 1,
    place: new Map(stops.map(({ key }, i) => [key, i])),
    x: (at: number) => ((Math.min(until, Math.max(from, at)) - from) / (until - from)) * ACROSS,
    y: (stop: number, row: number) => (tops[stop] ?? 0) + ROOM / 2 + (row + 0.5) * ROW,
  };
}

const Drawn = memo(function Drawn({ flow, stops, pieces, from, now, until, zone, chosen, beside }: DrawnProps) {
  const ground = useMemo(() => groundOf({ flow, stops, from, until }), [flow, stops, from, until]);
  const likely = useMemo(() => new Map(flow.likely.map((one) => [one.id, one])), [flow]);
  const { tops, height, x } = ground;
  const weeks = mondays(from, until, zone);
  // What is chosen is drawn last, over the others.
  const ways = [...flow.sheet.ways].sort((a, b) => Number(a.piece === chosen) - Number(b.piece === chosen));
  return (
    <div className="grid min-w-150 grid-cols-[112px_minmax(0,1fr)]">
      <span />
      <div className="relative h-7 bg-yellow text-12 text-on-yellow">
        {weeks.map((at) => (
          <span
            key={at}
            className="absolute top-1.5 pl-1 whitespace-nowrap"
            style={{ left: `${(x(at) / ACROSS) * 100}%` }}
          >
            {weeks.length > 14 ? "" : sayDate(at, zone, now).replace(/^\w+ /, "")}
          </span>
        ))}
      </div>
      <div className="relative text-13" style={{ height }}>
        {stops.map(({ key, name }, i) => {
          return (
            <span key={key} className="absolute right-2 left-0" style={{ top: (tops[i] ?? 0) + 6 }}>
              <b className="block truncate font-semibold" title={name}>
                {name}
              </b>
              {i < stops.length - 1 && (
                <span className="block text-12 text-rail">{flow.there[key]?.all ?? 0} there</span>
              )}
            </span>
          );
        })}
      </div>
      <svg
        aria-hidden="true"
        viewBox={`0 0 ${ACROSS} ${height}`}
        preserveAspectRatio="none"
        className="w-full"
        style={{ height }}
      >
        {weeks.map((at) => (
          <line key={at} x1={x(at)} x2={x(at)} y1={0} y2={height} className="stroke-rule" {...FINE} />
        ))}
        {tops.map((top) => (
          <line key={top} x1={0} x2={ACROSS} y1={top} y2={top} className="stroke-rule" {...FINE} />
        ))}
        {ways.map(({ piece, corners }) => {
          const known = pieces[piece];
          return (
            known && (
              <Way
                key={`${piece} ${corners[0]?.at}`}
                title={known.title}
                to={addressOf(beside, known.slug)}
                corners={corners}
                likely={likely.get(piece)}
                ground={ground}
                now={now}
                here={piece === chosen}
              />
            )
          );
        })}
        <line
          x1={x(now)}
          x2={x(now)}
          y1={0}
          y2={height}
          className="stroke-yellow"
          strokeWidth={3}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
    </div>
  );
});

interface WayProps {
  title: string;
  to: string;
  corners: Known["flow"]["sheet"]["ways"][number]["corners"];
  likely: Known["flow"]["likely"][number] | undefined;
  ground: ReturnType<typeof groundOf>;
  now: number;
  here: boolean;
}

/** One piece's way, with what is likely where it is still on it; chosen, with the fan of what is. */
const Way = memo(function Way({ title, to, corners, likely, ground: { x, y, place, end }, now, here }: WayProps) {
  const last = corners.at(-1);
  if (!last) return null;
  // What arrived is on its way no more, though it may have set out anew.
  const one = last.stop < end ? likely : undefined;
  const tardy = one && one.publishAt !== null && one.p50 > one.publishAt;
  const points = corners.map((corner) => `${x(corner.at)},${y(corner.stop, corner.row)}`).join(" ");
  const level = y(last.stop, last.row);
  const ahead = one?.stops.map((stop) => ({ ...stop, y: y(place.get(stop.state) ?? 0, last.row % 3) })) ?? [];
  return (
    <Link to={to} replace preventScrollReset tabIndex={-1}>
      <title>{title}</title>
      {here && ahead.length > 0 && <polygon points={fan(ahead, x)} className="fill-blue/15" />}
      <polyline
        points={points}
        fill="none"
        className={`${here ? "stroke-blue" : one ? "stroke-ink" : "stroke-ink/30"} hover:stroke-blue`}
        strokeWidth={here ? 3 : 1.4}
        vectorEffect="non-scaling-stroke"
      />
      {!one && <circle cx={x(last.at)} cy={level} r={2.5} className="fill-ink/40" />}
      {tardy && !here && (
        <polyline
          points={`${x(one.since)},${level} ${x(now)},${level}`}
          className="stroke-red"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
        />
      )}
      {one && (
        <polyline
          points={[`${x(now)},${level}`, ...steps(ahead, level, x)].join(" ")}
          fill="none"
          className={here ? "stroke-blue" : tardy ? "stroke-red/60" : "stroke-rail/60"}
          strokeDasharray="3 3"
          {...FINE}
        />
      )}
      <polyline points={points} fill="none" stroke="transparent" strokeWidth={9} vectorEffect="non-scaling-stroke" />
    </Link>
  );
});

const FINE = { strokeWidth: 1, vectorEffect: "non-scaling-stroke" } as const;

/** A likely way on, level while it waits, falling when it moves. */
function steps(ahead: readonly { p50: number; y: number }[], from: number, x: (at: number) => number): string[] {
  let before = from;
  return ahead.flatMap(({ p50, y }) => {
    const level = `${x(p50)},${before}`;
    before = y;
    return [level, `${x(p50)},${y}`];
  });
}

/** The middle eight of ten ways a piece may go on. */
const fan = (ahead: readonly { p10: number; p90: number; y: number }[], x: (at: number) => number) =>
  [...ahead.map(({ p10, y }) => `${x(p10)},${y}`), ...[...ahead].reverse().map(({ p90, y }) => `${x(p90)},${y}`)].join(
    " ",
  );

/** The Mondays between two instants, as they begin in a zone. */
function mondays(from: number, until: number, zone: string): number[] {
  const found: number[] = [];
  for (let day = dayAfter(mondayOf(localDate(from, zone)), 7); ; day = dayAfter(day, 7)) {
    const at = fromLocalInput(`${day}T00:00`, zone);
    if (at === null || at > until) return found;
    found.push(at);
  }
}
