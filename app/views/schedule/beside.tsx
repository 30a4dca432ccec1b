import type { KeyboardEvent } from "react";
import { Link } from "react-router";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Aside } from "#app/ui/message.tsx";
import { isForPage, Row, Rows } from "#app/ui/rows.tsx";
import { type Setting, wouldBe } from "#core/release/carry.ts";
import { SITE, type Usual } from "#core/release/channel.ts";
import { fromLocalInput, localDate, sameTimeOn } from "#core/time/local.ts";
import { saySlack } from "#core/time/slack.ts";
import { sayDate, sayInstant, sayTime } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Mark } from "#server/schedule/mark.ts";
import { useCalendar, useClock } from "../time/clock.tsx";
import type { Carrying } from "./carriage.ts";
import type { Carry } from "./carrying.ts";
import type { SchedulePage } from "./data.ts";
import { said } from "./timetable.tsx";
import { type Saying, sayFinding, sayStanding } from "./words.ts";

const Heading = ({ name, count }: { name: string; count?: number }) => (
  <h2 className="flex justify-between border-b border-ink pb-1.5">
    {name}
    {count !== undefined && <span className="font-normal text-rail">{count}</span>}
  </h2>
);

/** What the carried would do where it is held; nothing has moved yet. */
export function Carried({
  carrying,
  settingOf,
  saying,
}: {
  carrying: Carrying;
  settingOf(channel: string): Setting;
  saying: Saying;
}) {
  const { now, zone } = useClock();
  const calendar = useCalendar();
  const [first, ...others] = carrying.marks;
  if (!first) return null;
  const wish = sameTimeOn(first.at, carrying.day, zone);
  const setting = settingOf(first.channel);
  const would = wouldBe(first, wish, setting);
  const missing = (first.edition?.coming ?? []).flatMap(({ title, way }) => {
    const { slack } = wouldBe({ ...first, way }, wish, setting);
    return slack !== null && slack < 0 ? [{ title, slack }] : [];
  });
  const short = would.slack !== null && would.slack < 0;
  return (
    <section aria-label="Carrying" aria-live="polite" className="text-13">
      <h2 className="flex justify-between border-b border-ink pb-1.5">
        Carrying <span className="font-normal text-rail">Esc puts it back</span>
      </h2>
      <p className="mt-2 font-semibold break-words">
        {first.title}
        {others.length > 0 && ` and ${counted(others.length, "other")}`}
      </p>
      <p className="mt-1">
        From {sayDate(first.at, zone, now)} to <b className="font-semibold">{said(carrying.day)}</b>
        {would.leaves === null
          ? ": no window opens after that."
          : would.leaves === wish
            ? `, leaves ${sayTime(wish, zone)}.`
            : `, leaves ${sayInstant(would.leaves, zone, now)} in its window.`}
      </p>
      {wish <= now && <p className="mt-1 font-semibold text-red">That has passed.</p>}
      {would.slack !== null && (
        <p className={`mt-1 ${short ? "font-semibold text-red" : ""}`}>
          It would be {saySlack(calendar, would.slack).replace("too late", "short")}.
        </p>
      )}
      {would.late.length > 0 && (
        <ul className="mt-1 text-red">
          {would.late.map(({ key, reachBy, by }) => (
            <li key={key}>
              {key} by {sayInstant(reachBy, zone, now)}: {saySlack(calendar, -by)}
            </li>
          ))}
        </ul>
      )}
      {missing.length > 0 && (
        <ul className="mt-1 text-red">
          {missing.map(({ title, slack }) => (
            <li key={title}>
              {title}: {saySlack(calendar, slack)}
            </li>
          ))}
        </ul>
      )}
      {would.clashes.map((clash) => {
        const { headline, more } = sayFinding({ ...clash, channel: first.channel }, saying);
        return (
          <p key={clash.code} className="mt-1 text-red">
            {headline}: {more}
          </p>
        );
      })}
    </section>
  );
}

/** What leaves on a day of a lane, opened beside. */
export function Opened({
  name,
  day,
  marks,
  leave,
}: {
  name: string;
  day: string;
  marks: readonly Mark[];
  leave(): void;
}) {
  const clock = useClock();
  return (
    <section
      aria-label={`${name}, ${said(day)}`}
      className="text-13"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.preventDefault();
        event.stopPropagation();
        leave();
      }}
    >
      <h2 className="flex justify-between gap-2 border-b border-ink pb-1.5">
        <span>
          {said(day)} <span className="font-normal text-rail">{name}</span>
        </span>
        <Button look="word" onClick={leave} data-opened>
          Leave
        </Button>
      </h2>
      {marks.length === 0 && <Aside className="mt-2">Nothing leaves.</Aside>}
      <Rows className="" aria-label="What leaves that day">
        {marks.map((mark) => (
          <Row key={mark.id} className="py-1.5">
            <Link to={mark.to} className="block py-0.5 font-semibold break-words hover:text-blue">
              {mark.title}
            </Link>
            <span className={mark.holds.length > 0 || mark.expected !== null ? "text-red" : "text-rail"}>
              {sayTime(mark.at, clock.zone)}, {sayStanding(mark, clock)}
            </span>
            {mark.movable && mark.ready && mark.pieceId && (
              <TextLink to={`${mark.to}?do=${mark.channel === SITE ? "plan" : "through"}`} className="ml-2">
                {mark.what === "wished" ? "Plan it" : "Another time"}
              </TextLink>
            )}
          </Row>
        ))}
      </Rows>
    </section>
  );
}

/** Proposed dates, to be confirmed one by one or all. */
export function ToConfirm({
  page: { beside },
  confirm,
  busy,
}: {
  page: SchedulePage;
  confirm(some: SchedulePage["beside"]["proposed"]): void;
  busy: boolean;
}) {
  const { now, zone } = useClock();
  const mine = beside.proposed.filter((one) => one.confirmable && one.at > now);
  if (beside.proposed.length === 0) return null;
  return (
    <section aria-label="To confirm">
      <Heading name="To confirm" count={beside.proposed.length} />
      <Rows className="" aria-label="To confirm">
        {beside.proposed.map((one) => (
          <Row key={`${one.channel} ${one.pieceId}`} className="py-1.5 text-13">
            <Link
              to={`/pieces/${one.slug}?do=${one.channel === SITE ? "plan" : "through"}`}
              className="block truncate font-semibold hover:text-blue"
            >
              {one.title}
            </Link>
            <span className="text-rail">
              {one.by} proposes {sayInstant(one.at, zone, now)}
            </span>
            {mine.includes(one) && (
              <Button
                look="word"
                busy={busy}
                className="ml-2"
                aria-label={`Confirm ${one.title}`}
                onClick={() => confirm([one])}
              >
                Confirm
              </Button>
            )}
          </Row>
        ))}
      </Rows>
      {mine.length > 1 && (
        <Button busy={busy} className="mt-2" onClick={() => confirm(mine)}>
          Confirm all {mine.length}
        </Button>
      )}
    </section>
  );
}

/** What is ready and not planned yet: carried into the timetable, or given one on its page. */
export function WithoutDate({
  page: { beside, channels },
  carry,
  takeUp,
}: {
  page: SchedulePage;
  carry: Carry;
  /** Takes something up into the timetable by keyboard. */
  takeUp(mark: Mark): void;
}) {
  const { now, zone } = useClock();
  if (beside.undated.length === 0) return null;
  const usual = channels[0]?.usual;
  return (
    <section aria-label="Ready, not planned">
      <Heading name="Ready, not planned" count={beside.undated.length} />
      <Rows className="" aria-label="Ready, not planned">
        {beside.undated.map((one) => (
          <Row
            key={one.pieceId}
            className={`py-1.5 text-13 ${one.schedulable ? "cursor-grab" : ""}`}
            {...(one.schedulable && {
              title: "Drag it onto a day, or press m",
              onPointerDown: carry.press([asMark(one, now, zone, usual)], true),
              onKeyDown: (event: KeyboardEvent) => {
                if (event.key !== "m" || !isForPage(event)) return;
                event.preventDefault();
                takeUp(asMark(one, now, zone, usual));
              },
            })}
          >
            <Link
              draggable={false}
              to={`/pieces/${one.slug}${one.schedulable ? "?do=plan" : ""}`}
              className="block truncate font-semibold hover:text-blue"
              onClick={(event) => carry.wasCarried() && event.preventDefault()}
            >
              {one.title}
            </Link>
            <span className="text-rail">
              {one.kind} ·{" "}
              {one.wish === null
                ? `ready since ${sayDate(one.since, zone, now)}`
                : `wished for ${sayDate(one.wish, zone, now)}`}
            </span>
          </Row>
        ))}
      </Rows>
    </section>
  );
}

/** The time at which something without one is carried in, local, where none is usual. */
const NOON = "12:00";

function asMark(one: SchedulePage["beside"]["undated"][number], now: number, zone: string, usual?: Usual): Mark {
  const noon = fromLocalInput(`${localDate(now, zone)}T${usual?.at ?? NOON}`, zone) ?? now;
  return {
    ...one,
    id: one.pieceId,
    to: `/pieces/${one.slug}`,
    channel: SITE,
    edition: null,
    what: "planned",
    at: one.wish !== null && one.wish > now ? one.wish : noon,
    sectionIds: [],
    subject: "",
    way: null,
    ready: true,
    expected: null,
    replaces: one.live !== null,
    holds: [],
    by: null,
    movable: true,
    confirmable: false,
  };
}

/** Clashes and gaps, each with the way to where it is. */
export function LookAt({ page, saying, show }: { page: SchedulePage; saying: Saying; show(day: string): void }) {
  const { findings } = page;
  if (findings.length === 0) return null;
  return (
    <section aria-label="Look at">
      <Heading name="Look at" count={findings.length} />
      <Rows className="" aria-label="Look at">
        {findings.slice(0, 20).map((finding) => {
          const { headline, more } = sayFinding(finding, saying);
          return (
            <Row key={headline + more} className="py-1.5 text-13">
              <span className="block font-semibold">{headline}</span>
              <span className="text-rail">{more} </span>
              <Button
                look="word"
                onClick={() => show(localDate(finding.from, saying.zone))}
                aria-label={`Show me: ${headline}`}
              >
                Show me
              </Button>
            </Row>
          );
        })}
      </Rows>
    </section>
  );
}
