import type { CSSProperties } from "react";
import { type Fan, sayFan } from "#core/flow/fan.ts";
import { sayDate, sayInstant, sayLength } from "#core/time/words.ts";
import { capital } from "#core/words/say.ts";
import type { Stop } from "#core/workflow/drawing/strip.ts";
import { useClock } from "../time/clock.tsx";
import { Mark } from "./mark.tsx";

interface Props {
  stops: readonly Stop[];
  seats?: readonly { name: string; decided: boolean }[];
  /** When it is likely at the last stop, where that lies ahead: the wider its fan, the less sure. */
  likely?: Fan | null;
  /** Whether the stops' names stand above them. */
  names?: boolean;
  /** Whether it is the marks alone, where there is no room for days and lengths. */
  bare?: boolean;
}

/** From so many stops on there is no room for a length beside the present one; from so many in a row of a list, for two days at one. */
const [CLOSE_STOPS, ONE_DAY_STOPS] = [7, 6];

/**
 * A piece's whole way in one row: time spent between the stops behind, how long it has been at the
 * present one, the day each stop ahead is due and, when that is later, the day it is expected.
 */
export function Strip({ stops, seats = [], likely = null, names = false, bare = false }: Props) {
  const clock = useClock();
  // A day ahead is known by its weekday; one that has passed needs its month.
  const day = (at: number) => {
    const said = sayDate(at, clock.zone, clock.now).replace(/ \d{4}$/, "");
    return at < clock.now ? said.replace(/^[A-Z][a-z]+ /, "") : said.replace(/ [A-Z][a-z]+$/, "");
  };
  const close = stops.length >= CLOSE_STOPS;
  const oneDay = close || (!names && stops.length >= ONE_DAY_STOPS);
  const fan = stops.at(-1)?.when === "ahead" ? likely : null;
  const saidFan = fan && `likely ${sayDate(fan.p50, clock.zone, clock.now)}, ${sayFan(fan, clock.zone, clock.now)}`;
  return (
    <ol
      className="strip"
      data-names={names ? "" : undefined}
      data-bare={bare ? "" : undefined}
      data-close={close ? "" : undefined}
      aria-label={[inWords(stops, clock), saidFan].filter(Boolean).join("; ")}
    >
      {stops.map((stop, i) => {
        const next = stops[i + 1];
        const expected = stop.late && stop.expectedAt ? day(stop.expectedAt) : null;
        const date = stop.dueAt ?? stop.expectedAt;
        return (
          <li
            key={`${stop.key}-${stop.when}`}
            aria-hidden="true"
            data-when={stop.when}
            data-late={stop.late ? "" : undefined}
            data-siding={stop.siding ? "" : undefined}
            {...(fan && !next && fanned(fan, saidFan ?? ""))}
          >
            {names && <b className="narrow">{stop.name}</b>}
            <Mark kind={stop.kind} when={stop.when} seats={stop.when === "now" ? seats : []} />
            <small>
              {stop.when === "now" && stop.spent !== undefined && `${sayLength(stop.spent)} here`}
              {stop.when === "ahead" &&
                date !== undefined &&
                (expected ? (oneDay ? expected : `${day(date)} → ${expected.split(" ").at(-1)}`) : day(date))}
              {(stop.when === "past" || stop.when === "off") && "\u00a0"}
            </small>
            {stop.when === "past" &&
              stop.spent !== undefined &&
              next &&
              (next.when === "past" || (next.when === "now" && !close)) && (
                <small data-between="">{sayLength(stop.spent)}</small>
              )}
          </li>
        );
      })}
    </ol>
  );
}

/** What draws a fan at the last stop, and says it where one points at it. */
const fanned = (fan: Fan, said: string) => ({
  "data-fan": "",
  style: { "--fan": `${opening(fan)}px` } as CSSProperties,
  title: capital(said),
});

/** How far a fan opens: a pixel a day between its ends, as high as a mark at most. */
const opening = ({ p10, p90 }: Fan) => Math.min(FAN_MOST, Math.max(FAN_LEAST, Math.round((p90 - p10) / DAY)));
const [FAN_LEAST, FAN_MOST, DAY] = [3, 18, 86_400_000];

/** The strip for who does not see it. */
function inWords(stops: readonly Stop[], clock: { zone: string; now: number }): string {
  return stops
    .filter((stop) => stop.when !== "off")
    .map((stop) => {
      if (stop.when === "past") return `${stop.name} passed`;
      if (stop.when === "now") return `now in ${stop.name}${stop.late ? ", late" : ""}`;
      return stop.dueAt ? `${stop.name} due ${sayInstant(stop.dueAt, clock.zone, clock.now)}` : stop.name;
    })
    .join("; ");
}
