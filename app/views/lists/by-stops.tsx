import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button, TextLink } from "#app/ui/button.tsx";
import { DragArea, useCarried, useLanding } from "#app/ui/drag.tsx";
import { Aside } from "#app/ui/message.tsx";
import { isForPage, Row, Rows } from "#app/ui/rows.tsx";
import { Mark } from "#app/views/line/mark.tsx";
import { useCalendar, useClock } from "#app/views/time/clock.tsx";
import { openTime } from "#core/time/due.ts";
import { workingDays } from "#core/time/slack.ts";
import { sayDue, sayTake } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import { ChooseBox } from "./choosing.tsx";
import type { Choosing } from "./chosen.ts";
import type { ByStop, PiecesPage } from "./pieces-data.ts";
import { Holders } from "./pieces-table.tsx";

type Queue = ByStop["stops"][number];
type Queued = Queue["rows"][number];

/** The panels of a piece are much, and needed once something is carried. */
const CarriedPanel = lazy(() => import("./carried.tsx").then((room) => ({ default: room.CarriedPanel })));

interface Props {
  page: PiecesPage;
  queues: ByStop;
  choosing: Choosing;
  answer: FormAnswer | null;
}

/** What is carried by keyboard, from where, and the stop it is held over. */
interface Held {
  row: Queued;
  from: string;
  over: string;
}

/**
 * A line from its first stop down to its last, what queues at each beside it, the longest wait first. A piece carried to
 * another stop takes the step that leads there.
 */
export function ByStops({ page, queues, choosing, answer }: Props) {
  const { stops, steps, lines, line } = queues;
  const [words] = useSearchParams();
  const navigate = useNavigate();
  const [held, setHeld] = useState<Held | null>(null);
  const [said, setSaid] = useState("");
  const at = useMemo(() => new Map(stops.flatMap((stop) => stop.rows.map((row) => [row.id, { stop, row }]))), [stops]);
  const fullest = Math.max(2, ...stops.map((stop) => stop.all));
  const nameOf = (key: string) => stops.find((stop) => stop.key === key)?.name ?? at.get(key)?.row.title ?? key;
  const drop = (id: string, to: string) => {
    const found = at.get(id);
    if (!found || found.stop.key === to) return;
    const step = steps.find((one) => one.from === found.stop.key && one.to === to);
    if (!step) {
      setSaid(`No step leads from ${found.stop.name} to ${nameOf(to)}: “${found.row.title}” stays where it is.`);
      return;
    }
    setSaid("");
    const next = new URLSearchParams(words);
    next.set("piece", found.row.slug);
    next.set("do", step.decides ? "decide" : `step-${step.key}`);
    void navigate(`?${next}`, { preventScrollReset: true });
  };
  useCarryKeys({ stops, at, held, setHeld, drop });
  useBackAtPiece(words.get("piece"));
  return (
    <DragArea
      nameOf={nameOf}
      instructions="Press m to take it up; the arrows carry it to another stop, Enter puts it down, Esc puts it back."
      byKeyboard={false}
      onDrop={drop}
    >
      {lines.length > 1 && (
        <nav aria-label="Lines" className="mb-3 flex flex-wrap gap-x-5 gap-y-1 text-13">
          {lines.map(({ key, name, pieces }) => (
            <TextLink
              key={key}
              to={`?${new URLSearchParams([...[...words].filter(([word]) => !["line", "piece", "do"].includes(word)), ["line", key]])}`}
              aria-current={key === line.key ? "page" : undefined}
              className={key === line.key ? "font-semibold text-ink!" : ""}
            >
              {name} {pieces}
            </TextLink>
          ))}
        </nav>
      )}
      <p role="status" className="min-h-5 text-13 font-semibold">
        {held
          ? `“${held.row.title}” over ${nameOf(held.over)}: ${leads(steps, held.from, held.over) ?? "no step leads there"}. Enter puts it down, Esc puts it back.`
          : said}
      </p>
      <div className={page.desk ? "grid grid-cols-[minmax(0,1fr)] gap-x-6 lg:grid-cols-[minmax(0,1fr)_316px]" : ""}>
        <ol aria-label={`Stops of ${line.name}`} className="mt-2">
          {stops.map((stop) => (
            <Stop
              key={stop.key}
              stop={stop}
              fullest={stop.all === fullest}
              choosing={choosing}
              held={held}
              taken={held?.row.slug ?? words.get("piece")}
              leadsHere={held ? leads(steps, held.from, stop.key) : null}
              onTake={(row) => setHeld({ row, from: stop.key, over: stop.key })}
              list={`/pieces?${new URLSearchParams({ state: stop.key, line: line.key, sort: "waits" })}`}
            />
          ))}
        </ol>
        {page.desk && (
          <Suspense>
            <CarriedPanel desk={page.desk} answer={answer} />
          </Suspense>
        )}
      </div>
      <Aside className="mt-3">
        Carry a piece by its ⠿ to another stop, or press m on it: it takes the step that leads there.
      </Aside>
    </DragArea>
  );
}

const leads = (steps: ByStop["steps"], from: string, to: string) =>
  from === to ? "where it is" : (steps.find((one) => one.from === from && one.to === to)?.name ?? null);

/** Takes up by `m`, carries by the arrows, puts down by Enter and back by Esc. */
function useCarryKeys({
  stops,
  at,
  held,
  setHeld,
  drop,
}: {
  stops: readonly Queue[];
  at: ReadonlyMap<string, { stop: Queue; row: Queued }>;
  held: Held | null;
  setHeld(next: Held | null): void;
  drop(id: string, to: string): void;
}) {
  const latest = useRef({ stops, at, held, drop });
  latest.current = { stops, at, held, drop };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const now = latest.current;
      const carried = now.held;
      if (!carried) {
        if (event.key !== "m" || !isForPage(event)) return;
        const id = document.activeElement?.closest<HTMLElement>("[data-piece]")?.dataset.piece;
        const found = id === undefined ? undefined : now.at.get(id);
        if (found) setHeld({ row: found.row, from: found.stop.key, over: found.stop.key });
        return;
      }
      const by = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
      const place = now.stops.findIndex((stop) => stop.key === carried.over);
      const next = now.stops[place + by];
      if (by !== 0 && next) setHeld({ ...carried, over: next.key });
      if (event.key === "Enter" || event.key === "Escape") setHeld(null);
      if (event.key === "Enter") now.drop(carried.row.id, carried.over);
      if (by === 0 && event.key !== "Enter" && event.key !== "Escape") return;
      event.preventDefault();
      event.stopPropagation();
    };
    document.addEventListener("keydown", onKey, true);
    return () => document.removeEventListener("keydown", onKey, true);
  }, [setHeld]);
}

/** Whoever is through with a piece, or leaves it, is at it again where it is now. */
function useBackAtPiece(slug: string | null) {
  const was = useRef(slug);
  useEffect(() => {
    if (was.current && slug === null)
      document.querySelector<HTMLElement>(`[data-piece] a[href="/pieces/${CSS.escape(was.current)}"]`)?.focus();
    was.current = slug;
  }, [slug]);
}

function Stop({
  stop,
  fullest,
  choosing,
  held,
  taken,
  leadsHere,
  list,
  onTake,
}: {
  stop: Queue;
  fullest: boolean;
  choosing: Choosing;
  held: Held | null;
  /** The slug of what is carried, or asked about. */
  taken: string | null;
  leadsHere: string | null;
  list: string;
  onTake(row: Queued): void;
}) {
  const { place, isOver, isAnyCarried } = useLanding(stop.key);
  const over = isOver || held?.over === stop.key;
  const { all, over: late, take, rows } = stop;
  return (
    <li
      ref={place}
      aria-label={stop.name}
      className={`grid grid-cols-[24px_minmax(0,1fr)] gap-x-3 ${over ? "bg-wash outline-2 -outline-offset-2 outline-yellow" : ""}`}
    >
      <span
        aria-hidden="true"
        className={`relative before:absolute before:inset-y-0 before:left-1/2 before:-translate-x-1/2 before:border-l-3 ${stop.aside ? "before:border-dotted before:border-rail" : "before:border-ink"}`}
      >
        <span className="relative block size-6 fill-enamel stroke-current stroke-2">
          <Mark kind={stop.kind} when={stop.off ? "off" : all > 0 ? "now" : "ahead"} />
        </span>
      </span>
      <div className="min-w-0 pb-3">
        <h2 className="flex flex-wrap items-baseline gap-x-3 text-15!">
          {stop.name}
          <span className={`text-13 font-normal ${fullest ? "font-semibold!" : "text-rail"}`}>
            {stop.off ? "switched off" : all === 0 ? "nobody" : `${all} there${fullest ? ", the most" : ""}`}
          </span>
          {take !== null && all > 0 && <span className="text-13 font-normal text-rail">{sayTake(take)} allowed</span>}
          {late > 0 && <span className="text-13 font-normal text-red">{late} for longer</span>}
          {(held || isAnyCarried) && leadsHere && <span className="text-13 font-semibold text-blue">{leadsHere}</span>}
        </h2>
        {rows.length > 0 && (
          <Rows aria-label={`At ${stop.name}`} className="mt-1 grid gap-x-6 border-t border-ink xl:grid-cols-2">
            {rows.map((row) => (
              <QueuedRow
                key={row.id}
                row={row}
                choosing={choosing}
                taken={taken === row.slug}
                onTake={() => onTake(row)}
              />
            ))}
          </Rows>
        )}
        {rows.length < all && (
          <p className="mt-1 text-13">
            <TextLink to={list}>and {all - rows.length} more</TextLink>
          </p>
        )}
      </div>
    </li>
  );
}

/** A piece in a queue: what it is, whose turn, for how long, until when. */
function QueuedRow({
  row,
  choosing,
  taken,
  onTake,
}: {
  row: Queued;
  choosing: Choosing;
  taken: boolean;
  onTake(): void;
}) {
  const calendar = useCalendar();
  const { now } = useClock();
  const { thing, handle, isCarried } = useCarried(row.id);
  const late = row.dueAt !== null && row.dueAt < now;
  return (
    <Row
      ref={thing}
      data-piece={row.id}
      className={`grid grid-cols-[24px_28px_minmax(0,1fr)_auto] gap-x-1 items-start py-0.5 text-13 ${isCarried || taken ? "bg-wash" : ""}`}
    >
      <Button
        ref={handle}
        type="button"
        look="bare"
        aria-label={`Carry ${row.title}`}
        title="Drag it to another stop, or press m"
        className="min-h-6 min-w-6 cursor-grab text-rail hover:text-ink"
        onClick={onTake}
      >
        ⠿
      </Button>
      <ChooseBox id={row.id} title={row.title} choosing={choosing} />
      <span className="min-w-0">
        <Link
          to={`/pieces/${row.slug}`}
          aria-label={`${row.title}, ${row.kind}, ${row.state}`}
          className="block truncate font-semibold hover:text-blue"
        >
          {row.title}
        </Link>
        <span className="text-rail">
          <Holders row={row} />
        </span>
      </span>
      <span className="whitespace-nowrap pl-3 text-right tabular-nums">
        {workingDays(calendar, openTime(calendar, row.since, now))} wd here
        <span className={`block ${late ? "text-red" : "text-rail"}`}>
          {row.dueAt === null ? counted(row.openComments, "open remark") : sayDue(row.dueAt, now)}
        </span>
      </span>
    </Row>
  );
}
