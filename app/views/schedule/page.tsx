import { memo, useCallback, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { type Packed, rowsOf, usePacked } from "#app/packed.ts";
import { Empty, Message } from "#app/ui/message.tsx";
import { useAtOnce } from "#app/views/lists/at-once.ts";
import { ChosenBar } from "#app/views/lists/choosing.tsx";
import { useChoosing } from "#app/views/lists/chosen.ts";
import { Narrowing } from "#app/views/lists/narrowing.tsx";
import type { Setting } from "#core/release/carry.ts";
import { openBetween } from "#core/release/window.ts";
import { dayOf as workingDay } from "#core/time/calendar.ts";
import { type DaysOnEnd, dayAfter, daysOnEnd, localDate } from "#core/time/local.ts";
import type { Mark } from "#server/schedule/mark.ts";
import { useCalendar, useClock } from "../time/clock.tsx";
import { Carried, LookAt, Opened, ToConfirm, WithoutDate } from "./beside.tsx";
import { useCarrying } from "./carrying.ts";
import type { SchedulePage, ScheduleSent } from "./data.ts";
import { Days, Head, Spans } from "./heads.tsx";
import { Listing } from "./listing.tsx";
import { Legend } from "./marks.tsx";
import { movesOf, useSending } from "./sending.ts";
import { type Cursor, type Lane, said, Timetable } from "./timetable.tsx";

/** What leaves when: the timetable, its chosen days as a list, and beside them what is carried, to be confirmed, to look at. */
export const ScheduleView = memo(function ScheduleView({ packed }: { packed: Packed<ScheduleSent> }) {
  const data = usePacked(packed);
  const page = useMemo((): SchedulePage => ({ ...data, marks: rowsOf(data.marks) }), [data]);
  const { now, zone } = useClock();
  const calendar = useCalendar();
  const [words, setWords] = useSearchParams();
  const { from, weeks, by, listFrom, listUntil } = page.wanted;
  const [site] = page.channels;
  const span = useMemo(() => daysOnEnd(from, weeks * 7, zone), [from, weeks, zone]);
  const { days, starts } = span;
  const until = starts[days.length] ?? 0;
  const { lanes, laneOf } = useLanes(page);
  const [cursor, setCursor] = useState<Cursor>(() => ({
    lane: 0,
    day: Math.max(0, days.indexOf(localDate(now, zone))),
  }));
  const [opened, setOpened] = useState<{ lane: string; day: string } | null>(null);
  const sent = useSending(page);
  const { carrying, acts: carry } = useCarrying(zone, (carrying) => sent.move(movesOf(carrying, zone)));
  const dayOf = useCallback(
    (mark: Mark) => days[span.placeOf(mark.at)] ?? localDate(mark.at, zone),
    [days, span, zone],
  );
  const inList = useMemo(
    () => page.marks.filter((mark) => listFrom <= dayOf(mark) && dayOf(mark) < listUntil),
    [page.marks, dayOf, listFrom, listUntil],
  );
  const listed = useAtOnce(inList, SENT);
  const ids = useMemo(() => listed.flatMap((mark) => mark.pieceId ?? []), [listed]);
  const choosing = useChoosing(ids);
  const name = useCallback(
    (id: string) =>
      [...page.sections, ...page.kinds]
        .find((one) => one.id === id)
        ?.name.split(" / ")
        .at(-1) ?? "it",
    [page.sections, page.kinds],
  );
  const titles = useMemo(() => new Map(page.marks.map(({ id, title }) => [id, title])), [page.marks]);
  const saying = {
    now,
    zone,
    until,
    name,
    title: (id: string) => titles.get(id) ?? "a piece",
    channel: (key: string) => (key === site?.key ? null : (page.channels.find((one) => one.key === key)?.name ?? null)),
  };
  const closed = useClosed(page, span);
  const settings = useMemo(
    () =>
      new Map(
        page.channels.map(({ key, windows, lookout }) => [
          key,
          {
            calendar,
            windows,
            lookout,
            leavings: page.marks.filter((mark) => mark.channel === key && mark.what !== "ends"),
            findings: page.findings.filter((one) => one.channel === key),
            span: { from: starts[0] ?? 0, until },
            zone,
          },
        ]),
      ),
    [page.channels, page.marks, page.findings, calendar, starts, until, zone],
  );
  const settingOf = (channel: string) => settings.get(channel) ?? (settings.get(site?.key ?? "") as Setting);
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
  // The timetable is not drawn anew for it.
  const opens = useRef(open);
  opens.current = open;
  const onOpen = useCallback((lane: string, day: string) => opens.current(lane, day), []);
  const takeUp = (mark: Mark) => {
    const day = days.indexOf(localDate(mark.at, zone));
    setCursor((was) => ({ ...was, day: Math.max(0, day) }));
    carry.take([mark], true);
    carry.over(days[Math.max(0, day)] ?? "");
    document.querySelector<HTMLElement>("[role=grid]")?.focus();
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
              dayOf={dayOf}
              zone={zone}
              now={now}
              closed={closed}
              listFrom={listFrom}
              listUntil={listUntil}
              cursor={cursor}
              onCursor={setCursor}
              onOpen={onOpen}
              carrying={carrying}
              carry={carry}
            />
            <Legend />
          </>
        )}
        <Days days={days} marks={page.marks} dayOf={dayOf} listFrom={listFrom} />
        {inList.length === 0 && lanes.length > 0 && (
          <Empty>
            Nothing leaves between {said(listFrom)} and {said(dayAfter(listUntil, -1))}.
          </Empty>
        )}
        <Listing marks={listed} page={page} choosing={choosing} carry={carry} />
        <ChosenBar choosing={choosing} shown={ids} />
      </div>
      <aside aria-label="Beside the schedule" className="space-y-6 border-rule px-4 py-5 lg:border-l">
        {carrying && <Carried carrying={carrying} settingOf={settingOf} saying={saying} />}
        {opened && (
          <Opened
            name={lanes.find((lane) => lane.key === opened.lane)?.name ?? ""}
            day={opened.day}
            marks={page.marks.filter((mark) => laneOf(mark) === opened.lane && dayOf(mark) === opened.day)}
            leave={leave}
          />
        )}
        <ToConfirm page={page} confirm={sent.confirm} busy={sent.busy} />
        <WithoutDate page={page} carry={carry} takeUp={takeUp} />
        <LookAt page={page} saying={saying} show={show} />
        {by === "section" && site && !site.windowed && site.lookout.rhythms.length === 0 && (
          <p className="text-12 text-rail">
            Windows and rhythms of the reader site are set under Publication, Channels.
          </p>
        )}
      </aside>
    </div>
  );
});

const LANE = { section: "sectionId", kind: "kindId", person: "authorId" } as const;

/** What stands down, in the order of its names, as far as anything of it leaves. */
function useLanes({ marks, sections, kinds, people, channels, wanted: { by } }: SchedulePage) {
  const laneOf = useCallback(
    // A whole edition stands in its channel's lane, whatever else stands down.
    (mark: Mark) => (by === "channel" || mark.edition ? mark.channel : mark[LANE[by]]),
    [by],
  );
  const lanes = useMemo((): Lane[] => {
    const there = new Set(marks.map(laneOf));
    const first = channels.map(({ key, name }) => ({ id: key, name, editions: by !== "channel" }));
    const rest = { section: sections, kind: kinds, person: people, channel: [] }[by];
    return [...first, ...rest.map((one) => ({ ...one, editions: false }))]
      .filter((one) => there.has(one.id))
      .map(({ id, name, editions }) => ({ key: id, name: name.split(" / ").at(-1) ?? name, editions }));
  }, [marks, laneOf, by, sections, kinds, people, channels]);
  return { lanes, laneOf };
}

/** So many rows of the list come with the page as it is first sent. */
const SENT = 25;

/** On which days nothing leaves: of each channel with windows by these, of the others by the working days. */
function useClosed({ channels }: SchedulePage, { days, starts }: DaysOnEnd): (lane: string) => readonly boolean[] {
  const calendar = useCalendar();
  return useMemo(() => {
    const by = channels.map(({ key, windowed, windows }) => {
      const isClosed = (start: number, i: number) =>
        windowed
          ? openBetween(windows, start, starts[i + 1] ?? start).length === 0
          : workingDay(calendar, start + 12 * 3_600_000).open.length === 0;
      return [key, starts.slice(0, days.length).map(isClosed)] as const;
    });
    const closed = new Map(by);
    return (lane) => closed.get(lane) ?? by[0]?.[1] ?? [];
  }, [channels, calendar, days, starts]);
}
