import { useCallback, useEffect, useMemo, useState } from "react";
import { Link, useFetcher, useSearchParams } from "react-router";
import { type Packed, usePacked } from "#app/packed.ts";
import { TextLink } from "#app/ui/button.tsx";
import { Empty, Message } from "#app/ui/message.tsx";
import { useToast } from "#app/ui/toast.tsx";
import { ChosenBar } from "#app/views/lists/choosing.tsx";
import { useChoosing } from "#app/views/lists/chosen.ts";
import { Narrowing } from "#app/views/lists/narrowing.tsx";
import { useWords } from "#app/views/lists/words.ts";
import { openBetween } from "#core/release/window.ts";
import { dayOf } from "#core/time/calendar.ts";
import { dayAfter, localDate, mondayOf, sameTimeOn, startOf } from "#core/time/local.ts";
import { sayDate } from "#core/time/words.ts";
import { capital, counted } from "#core/words/say.ts";
import type { Moved } from "#server/pieces/moving.ts";
import type { Mark } from "#server/pieces/timetable.ts";
import { useCalendar, useClock } from "../time/clock.tsx";
import { Carried, LookAt, Opened, ToConfirm, WithoutDate } from "./beside.tsx";
import { type Carrying, useCarrying } from "./carrying.ts";
import { BY, type SchedulePage, WEEKS } from "./data.ts";
import { Listing } from "./listing.tsx";
import { Legend } from "./marks.tsx";
import { type Cursor, type Lane, said, Timetable } from "./timetable.tsx";

type Answer = { intent: string; done: Moved[] } | undefined;

/** What leaves when: the timetable, its chosen days as a list, and beside them what is carried, to be confirmed, to look at. */
export function ScheduleView({ packed }: { packed: Packed<SchedulePage> }) {
  const page = usePacked(packed);
  const { now, zone } = useClock();
  const calendar = useCalendar();
  const [words, setWords] = useSearchParams();
  const { from, weeks, by, listFrom, listUntil } = page.wanted;
  const days = useMemo(() => Array.from({ length: weeks * 7 }, (_, i) => dayAfter(from, i)), [from, weeks]);
  const { lanes, laneOf } = useLanes(page);
  const [cursor, setCursor] = useState<Cursor>(() => ({
    lane: 0,
    day: Math.max(0, days.indexOf(localDate(now, zone))),
  }));
  const [opened, setOpened] = useState<{ lane: string; day: string } | null>(null);
  const sent = useSending(page);
  const carry = useCarrying(zone, (carrying) => sent.move(movesOf(carrying, zone)));
  const inList = page.marks.filter((mark) => {
    const day = localDate(mark.at, zone);
    return listFrom <= day && day < listUntil;
  });
  const ids = useMemo(() => inList.map((mark) => mark.pieceId), [inList]);
  const choosing = useChoosing(ids);
  const name = useCallback(
    (id: string) =>
      [...page.sections, ...page.kinds]
        .find((one) => one.id === id)
        ?.name.split(" / ")
        .at(-1) ?? "it",
    [page.sections, page.kinds],
  );
  const saying = {
    now,
    zone,
    until: startOf(dayAfter(from, weeks * 7), zone),
    name,
    title: (id: string) => page.marks.find((mark) => mark.pieceId === id)?.title ?? "a piece",
  };
  const isClosed = useCallback(
    (day: string) => {
      const start = startOf(day, zone);
      if (page.windowed) return openBetween(page.windows, start, startOf(dayAfter(day, 1), zone)).length === 0;
      return dayOf(calendar, start + 12 * 3_600_000).open.length === 0;
    },
    [calendar, page.windowed, page.windows, zone],
  );
  const leavings = useMemo(() => page.marks.filter((mark) => mark.what !== "ends"), [page.marks]);
  const setting = {
    calendar,
    windows: page.windows,
    lookout: page.lookout,
    leavings,
    findings: page.findings,
    span: { from: startOf(from, zone), until: startOf(dayAfter(from, weeks * 7), zone) },
    zone,
  };
  const show = (day: string) => {
    const next = new URLSearchParams(words);
    next.set("day", day);
    setWords(next, { preventScrollReset: true, replace: true });
    const at = days.indexOf(day);
    if (at >= 0) setCursor((was) => ({ ...was, day: at }));
  };
  const open = (lane: string, day: string) => {
    setOpened({ lane, day });
    if (day < listFrom || day >= listUntil) show(day);
    requestAnimationFrame(() => document.querySelector<HTMLElement>("[data-opened]")?.focus());
  };
  const leave = () => {
    setOpened(null);
    document.querySelector<HTMLElement>("[role=grid]")?.focus();
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_252px]">
      <div className="min-w-0 px-4 py-5 md:px-6">
        <Head page={page} />
        <div className="flex flex-wrap items-center justify-between gap-x-4">
          <Narrowing
            label="Narrow the schedule"
            by={[
              { name: "section", every: "Every section", options: page.sections },
              { name: "kind", every: "Every kind", options: page.kinds },
            ]}
          />
          <Spans page={page} />
        </div>
        {sent.refused.length > 0 && (
          <Message more={sent.refused.map((one) => `${one.title || "A piece"}: ${one.refused}`)}>
            {sent.refused.length === 1 ? "One could not be moved." : `${sent.refused.length} could not be moved.`}
          </Message>
        )}
        <p id="timetable-keys" className="sr-only">
          Arrows walk. Enter opens what leaves that day beside. m takes it up, arrows carry it, Enter drops it, Esc puts
          it back.
        </p>
        {lanes.length === 0 ? (
          <Empty>Nothing leaves in these weeks. Approved pieces wait beside for a date.</Empty>
        ) : (
          <>
            <Timetable
              days={days}
              lanes={lanes}
              marks={page.marks}
              laneOf={laneOf}
              zone={zone}
              now={now}
              isClosed={isClosed}
              span={{ from: listFrom, until: listUntil }}
              cursor={cursor}
              onCursor={setCursor}
              onOpen={open}
              carry={carry}
            />
            <Legend />
          </>
        )}
        <Days days={days} marks={page.marks} zone={zone} listFrom={listFrom} />
        {inList.length === 0 && lanes.length > 0 && (
          <Empty>
            Nothing leaves between {said(listFrom)} and {said(dayAfter(listUntil, -1))}.
          </Empty>
        )}
        <Listing marks={inList} page={page} choosing={choosing} carry={carry} />
        <ChosenBar choosing={choosing} shown={ids} />
      </div>
      <aside aria-label="Beside the schedule" className="space-y-6 border-rule px-4 py-5 lg:border-l">
        {carry.carrying && <Carried carrying={carry.carrying} setting={setting} saying={saying} />}
        {opened && (
          <Opened
            name={lanes.find((lane) => lane.key === opened.lane)?.name ?? ""}
            day={opened.day}
            marks={page.marks.filter((mark) => laneOf(mark) === opened.lane && localDate(mark.at, zone) === opened.day)}
            leave={leave}
          />
        )}
        <ToConfirm page={page} confirm={sent.confirm} busy={sent.busy} />
        <WithoutDate page={page} carry={carry} />
        <LookAt page={page} saying={saying} show={show} />
        {by === "section" && !page.windowed && page.lookout.rhythms.length === 0 && (
          <p className="text-12 text-rail">
            Windows and rhythms of the reader site are set under Publication, Channels.
          </p>
        )}
      </aside>
    </div>
  );
}

/** In one sentence what the weeks hold. */
function Head({ page }: { page: SchedulePage }) {
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
function Spans({ page: { wanted } }: { page: SchedulePage }) {
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
function Days({
  days,
  marks,
  zone,
  listFrom,
}: {
  days: readonly string[];
  marks: readonly Mark[];
  zone: string;
  listFrom: string;
}) {
  const [words] = useSearchParams();
  const counts = new Map<string, number>();
  for (const mark of marks) {
    const day = localDate(mark.at, zone);
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
}

/** What stands down, in the order of its names, as far as anything of it leaves. */
function useLanes({ marks, sections, kinds, people, wanted: { by } }: SchedulePage) {
  const laneOf = useCallback(
    (mark: Mark) => (by === "section" ? mark.sectionId : by === "kind" ? mark.kindId : mark.authorId),
    [by],
  );
  const lanes = useMemo((): Lane[] => {
    const there = new Set(marks.map(laneOf));
    const all = by === "section" ? sections : by === "kind" ? kinds : people;
    return all
      .filter((one) => there.has(one.id))
      .map(({ id, name }) => ({ key: id, name: name.split(" / ").at(-1) ?? name }));
  }, [marks, laneOf, by, sections, kinds, people]);
  return { lanes, laneOf };
}

type Move = { pieceId: string; revision: number; at: number };

/** All that is carried goes by as many days as the first. */
function movesOf({ marks, from, day }: Carrying, zone: string): Move[] {
  const by = Math.round((Date.parse(day) - Date.parse(from)) / 86_400_000);
  return marks.map(({ pieceId, revision, at }) => ({
    pieceId,
    revision,
    at: sameTimeOn(at, dayAfter(localDate(at, zone), by), zone),
  }));
}

/** Sends moves and confirmations; says what was done, with the way back, and keeps what was refused. */
function useSending(page: SchedulePage) {
  const fetcher = useFetcher<Answer>();
  const say = useToast();
  const { now, zone } = useClock();
  const [answer, setAnswer] = useState<Answer>(undefined);
  const submit = (intent: string, what: unknown) =>
    fetcher.submit({ intent, what: JSON.stringify(what) }, { method: "post" });
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer is heard once, once the page is as it made it
  useEffect(() => {
    if (fetcher.state !== "idle" || !fetcher.data || fetcher.data === answer) return;
    setAnswer(fetcher.data);
    const { intent, done } = fetcher.data;
    const went = done.filter((one) => one.refused === null);
    if (went.length === 0) return;
    const first = page.marks.find((mark) => mark.pieceId === went[0]?.pieceId);
    const back = went.flatMap(({ pieceId, before }): Move[] => {
      const mark = page.marks.find((one) => one.pieceId === pieceId);
      return mark && before !== null ? [{ pieceId, revision: mark.revision, at: before }] : [];
    });
    const what = went.length === 1 ? went[0]?.title : counted(went.length, "piece");
    const when = first && went.length === 1 ? ` to ${sayDate(first.at, zone, now)}` : "";
    say(
      intent === "confirm" ? `${what}: confirmed` : `${what} moved${when}`,
      back.length > 0 && intent === "move" ? () => submit("move", back) : undefined,
    );
  }, [fetcher.state, fetcher.data, page.marks]);
  return {
    busy: fetcher.state !== "idle",
    refused: answer?.done.filter((one) => one.refused !== null) ?? [],
    move: (moves: Move[]) => void submit("move", moves),
    confirm: (some: SchedulePage["beside"]["proposed"]) =>
      void submit(
        "confirm",
        some.map(({ pieceId, revision }) => ({ pieceId, revision })),
      ),
  };
}
