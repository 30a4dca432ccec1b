import { type KeyboardEvent, type MouseEvent, memo, useMemo, useRef } from "react";
import { localDate } from "#core/time/local.ts";
import { sayDate } from "#core/time/words.ts";
import { groupBy } from "#core/words/group.ts";
import { counted, list } from "#core/words/say.ts";
import type { Mark } from "#server/schedule/mark.ts";
import type { Carrying } from "./carriage.ts";
import type { Carry } from "./carrying.ts";
import { EditionShape, MarkShape } from "./marks.tsx";

/** Where the keyboard is in the timetable: a lane and a day, by their places. */
export interface Cursor {
  lane: number;
  day: number;
}

export interface Lane {
  key: string;
  name: string;
  /** Whether the editions of a channel stand in it, whatever else stands down. */
  editions: boolean;
}

interface Props {
  days: readonly string[];
  lanes: readonly Lane[];
  marks: readonly Mark[];
  laneOf(mark: Mark): string;
  dayOf(mark: Mark): string;
  zone: string;
  now: number;
  /** Of each day whether nothing leaves then, in a lane. */
  closed(lane: string): readonly boolean[];
  /** The days the list below shows. */
  listFrom: string;
  listUntil: string;
  cursor: Cursor;
  onCursor(cursor: Cursor): void;
  onOpen(lane: string, day: string): void;
  carrying: Carrying | null;
  carry: Carry;
}

/** Days across, lanes down, a mark for each thing that leaves; walked and carried by keyboard as by pointer. */
export const Timetable = memo(function Timetable(props: Props) {
  const { days, lanes, marks, laneOf, dayOf, zone, now, closed, listFrom, listUntil, cursor, carrying, carry } = props;
  const { onCursor, onOpen } = props;
  /** Which of several in one cell is taken up next. */
  const turn = useRef(0);
  const cells = useMemo(() => groupBy(marks, (mark) => `${laneOf(mark)} ${dayOf(mark)}`), [marks, laneOf, dayOf]);
  const today = localDate(now, zone);
  const names = useMemo(() => days.map((day) => ({ day, name: said(day), monday: isMonday(day) })), [days]);
  const fits = days.length > 60 ? 1 : days.length > 20 ? 2 : 4;
  const at = (lane: number, day: number) => cells.get(`${lanes[lane]?.key} ${days[day]}`) ?? NONE;
  const walk = (lane: number, day: number) => {
    turn.current = 0;
    const next = {
      lane: Math.min(lanes.length - 1, Math.max(0, lane)),
      day: Math.min(days.length - 1, Math.max(0, day)),
    };
    onCursor(next);
    const over = days[next.day];
    if (carrying && over) carry.over(over);
  };
  const take = () => {
    const here = at(cursor.lane, cursor.day).filter((mark) => mark.movable);
    const mark = here[turn.current % Math.max(1, here.length)];
    turn.current += 1;
    if (mark) carry.take([mark]);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const [down, across] = STEPS[event.key] ?? [0, 0];
    if (event.key in STEPS) {
      // Carried, up and down are a week.
      if (carrying) walk(cursor.lane, cursor.day + across + down * 7);
      else walk(cursor.lane + down, cursor.day + across);
    } else if (event.key === "m") take();
    else if (event.key === "Enter" && carrying) carry.drop();
    else if (event.key === "Enter") onOpen(lanes[cursor.lane]?.key ?? "", days[cursor.day] ?? "");
    else if (event.key === "Escape" && carrying) {
      carry.back();
      walk(cursor.lane, days.indexOf(carrying.from));
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onClick = (event: MouseEvent) => {
    const cell = (event.target as HTMLElement).closest("td");
    const [, lane, day] = cell?.id.split("-").map(Number) ?? [];
    if (lane === undefined || day === undefined || carry.wasCarried()) return;
    onCursor({ lane, day });
    onOpen(lanes[lane]?.key ?? "", days[day] ?? "");
  };
  const here = `cell-${cursor.lane}-${cursor.day}`;
  return (
    <table
      tabIndex={0}
      // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a table that is walked by its arrows is a grid
      role="grid"
      aria-label="What leaves when"
      aria-activedescendant={here}
      aria-describedby="timetable-keys"
      onKeyDown={onKey}
      onClick={onClick}
      className="w-full table-fixed border-collapse text-12 select-none max-sm:hidden"
    >
      <colgroup>
        <col className="w-26" />
        {days.map((day) => (
          <col key={day} />
        ))}
      </colgroup>
      <thead className="bg-yellow text-on-yellow">
        <tr>
          <th scope="col" rowSpan={2} className="text-left">
            <span className="sr-only">Lane</span>
          </th>
          {months(days).map(({ name, span: width }) => (
            <th
              key={name}
              scope="colgroup"
              colSpan={width}
              className="overflow-visible pt-1 text-left whitespace-nowrap"
            >
              {width > 2 ? name : ""}
            </th>
          ))}
        </tr>
        <tr>
          {names.map(({ day, name, monday }) => (
            <th
              key={day}
              scope="col"
              data-day={day}
              title={name}
              className={`narrow pb-1 text-center whitespace-nowrap font-normal tabular-nums ${day === today ? "font-bold" : ""}`}
            >
              {days.length <= 45 || monday ? Number(day.slice(8)) : <span className="sr-only">{name}</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lanes.map((lane, i) => (
          <tr key={lane.key} className="border-b border-rule">
            <th scope="row" className="truncate pr-2 text-left text-13 font-normal" title={lane.name}>
              {lane.editions && <EditionShape />}
              {lane.name}
              {lane.editions && <span className="sr-only">, editions</span>}
            </th>
            {names.map(({ day, name, monday }, j) => (
              <Cell
                key={day}
                id={`cell-${i}-${j}`}
                day={day}
                name={`${lane.name}${lane.editions ? ", editions" : ""}, ${name}`}
                marks={at(i, j)}
                fits={fits}
                here={i === cursor.lane && j === cursor.day}
                ground={
                  carrying?.day === day
                    ? "bg-yellow/60"
                    : day === today
                      ? "bg-yellow/40"
                      : closed(lane.key)[j]
                        ? "bg-platform"
                        : listFrom <= day && day < listUntil
                          ? "bg-wash"
                          : ""
                }
                monday={monday}
                over={carrying?.day === day && carrying.marks.length > 0}
                taken={at(i, j).length > 0 ? carrying?.marks : undefined}
                carry={carry}
              />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
});

/** What a key walks: lanes down, days across. */
const STEPS: Record<string, readonly [down: number, across: number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  PageUp: [0, -7],
  PageDown: [0, 7],
  Home: [0, -400],
  End: [0, 400],
};

const NONE: readonly Mark[] = [];
/** So many of a cell are named where it is read out. */
const NAMED = 4;

const Cell = memo(function Cell({
  id,
  day,
  name,
  marks,
  fits,
  here,
  ground,
  monday,
  over,
  taken,
  carry,
}: {
  id: string;
  day: string;
  /** The lane and the day, in words. */
  name: string;
  marks: readonly Mark[];
  /** So many marks fit; more are counted. */
  fits: number;
  here: boolean;
  ground: string;
  monday: boolean;
  /** Whether what is carried is held over it. */
  over: boolean;
  /** What is carried, where it may be one of these. */
  taken: readonly Mark[] | undefined;
  carry: Carry;
}) {
  const rest = marks.length - NAMED;
  const titles = marks.slice(0, NAMED).map((mark) => mark.title);
  const holds =
    marks.length === 0 ? "nothing" : `${marks.length}, ${list([...titles, ...(rest > 0 ? [`${rest} more`] : [])])}`;
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: the grid has the keyboard, and says which of its cells is active
    <td
      id={id}
      // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: as above
      role="gridcell"
      data-day={day}
      aria-label={`${name}: ${holds}`}
      className={`h-6 p-0 text-center align-middle ${monday ? "border-l border-track" : ""} ${ground} ${here ? "outline-2 -outline-offset-2 outline-blue" : ""} ${marks.length > 0 ? "cursor-pointer" : ""}`}
    >
      {marks.length > fits ? (
        <b
          className={`narrow block font-bold ${marks.some((mark) => mark.holds.length > 0 || mark.expected !== null) ? "text-red" : ""}`}
          title={counted(marks.length, "thing")}
          onPointerDown={carry.press(marks.filter((mark) => mark.movable).slice(0, 1))}
        >
          {marks.length}
        </b>
      ) : (
        marks.length > 0 && (
          <span className="flex justify-center">
            {marks.map((mark) => (
              <span
                key={mark.id}
                title={mark.title}
                onPointerDown={mark.movable ? carry.press([mark]) : undefined}
                className={`min-w-0 ${mark.movable ? "cursor-grab" : ""} ${taken?.includes(mark) ? "opacity-40" : ""}`}
              >
                <MarkShape mark={mark} />
              </span>
            ))}
          </span>
        )
      )}
      {over && marks.length === 0 && <span className="mx-auto block size-1 bg-blue" />}
    </td>
  );
});

const isMonday = (day: string) => new Date(`${day}T00:00Z`).getUTCDay() === 1;

/** A local day in words. */
export function said(day: string): string {
  const noon = Date.parse(`${day}T12:00Z`);
  return sayDate(noon, "UTC", noon);
}

/** The months the days lie in, each with how many of its days there are. */
function months(days: readonly string[]): { name: string; span: number }[] {
  const name = new Intl.DateTimeFormat("en-GB", { month: "long", timeZone: "UTC" });
  return [...groupBy(days, (day) => day.slice(0, 7))].map(([month, some]) => ({
    name: name.format(Date.parse(`${month}-01T00:00Z`)),
    span: some.length,
  }));
}
