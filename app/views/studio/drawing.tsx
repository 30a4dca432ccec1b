import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { Popover } from "radix-ui";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { StopMark } from "#app/views/line/stop-mark.tsx";
import { branchLabel, cut, inWords, stopNote } from "#app/views/workflow/line.tsx";
import { type Lit, Track } from "#app/views/workflow/track.tsx";
import type { StateKind, Workflow } from "#core/workflow/document.ts";
import { addState, changeState, moveState, removeState } from "#core/workflow/edit.ts";
import { fitting, type Layout, layOut, PITCH, type Rail, type Stop } from "#core/workflow/layout.ts";
import { KIND_WORDS } from "#core/workflow/migrate.ts";
import type { People } from "#core/workflow/people.ts";
import type { Here } from "#server/workflows/queries.ts";
import { type Chosen, KINDS, type PanelProps, reviewerOf } from "./state-panel.tsx";

const NARROW = 560;
const ZOOMS = [0.5, 0.65, 0.8, 1, 1.25, 1.5];

interface Props extends Omit<PanelProps, "people"> {
  people: People;
  here: Record<string, Here>;
  chosen: Chosen;
  lit: Lit;
}

/**
 * The line in the studio: every stop and step can be chosen, stops are dragged along the line or
 * moved by Alt and the arrows, and a stop is put in between any two. It fits its place, or is
 * made larger and smaller.
 */
export function Drawing({ workflow, people, here, chosen, lit, locked: held, change, select }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 760, height: 420 });
  const [zoom, setZoom] = useState<number | "fit">("fit");
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  useEffect(() => {
    const watched = place.current;
    if (!watched) return;
    const watcher = new ResizeObserver(() => setSize({ width: watched.clientWidth, height: watched.clientHeight }));
    watcher.observe(watched);
    return () => watcher.disconnect();
  }, []);
  // On a phone the line is looked at, not built: its handles would be too small for a finger.
  const locked = held || size.width < NARROW;
  const scale = zoom === "fit" ? fitting(workflow, { width: size.width, height: size.height - 44 }) : zoom;
  const layout = layOut(workflow, Math.max(PITCH * 2, size.width / scale));
  const step = (by: number) => {
    const at = ZOOMS.findIndex((one) => one >= scale - 0.01);
    setZoom(ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, at + by))] as number);
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const before = String(over.id);
    change((now) => moveState(now, String(active.id), before === "end" ? null : before));
  };
  return (
    <div className="relative flex min-h-0 flex-1 flex-col">
      <section
        ref={place}
        aria-label={inWords(workflow)}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing wider than its place must scroll by keyboard too
        tabIndex={0}
        className="min-h-64 flex-1 overflow-auto"
      >
        <DndContext sensors={sensors} onDragEnd={dropped} id="line" accessibility={spoken(workflow)}>
          <div style={{ width: layout.width * scale, height: layout.height * scale }} className="relative">
            <div
              style={{ width: layout.width, height: layout.height, transform: `scale(${scale})` }}
              className="narrow absolute left-0 top-0 origin-top-left"
            >
              <svg width={layout.width} height={layout.height} aria-hidden="true" className="absolute">
                <Track layout={layout} lit={lit} />
              </svg>
              <Steps layout={layout} chosen={chosen} select={size.width < NARROW ? null : select} />
              {!locked &&
                layout.rails.map((rail) => (
                  <Between
                    key={rail.from.state.key}
                    rail={rail}
                    people={people}
                    workflow={workflow}
                    change={change}
                    select={select}
                  />
                ))}
              {!locked && <EndDrop layout={layout} />}
              {layout.stops.map((stop) => (
                <StopButton
                  key={stop.state.key}
                  stop={stop}
                  here={here[stop.state.key]}
                  chosen={chosen !== null && "state" in chosen && chosen.state === stop.state.key}
                  lit={lit.states.has(stop.state.key)}
                  scale={scale}
                  {...{ workflow, locked, change, select }}
                />
              ))}
            </div>
          </div>
          {!locked && <SidingDrop />}
        </DndContext>
      </section>
      <div className="no-print flex flex-wrap items-center gap-x-4 gap-y-1 px-4 pb-2 text-12 text-rail md:px-6">
        {!locked && (
          <>
            <AddStop label="Add a stop beside the line" after={null} {...{ workflow, people, change, select }} />
            <span>Drag a stop along the line, or press Alt ← and Alt → on it; F2 or a double click renames it.</span>
          </>
        )}
        <span className="ml-auto flex gap-1">
          <Tool label="Smaller" onClick={() => step(-1)}>
            −
          </Tool>
          <Tool label="Fit the line into its place" onClick={() => setZoom("fit")}>
            {zoom === "fit" ? "fits" : `${Math.round(scale * 100)} %`}
          </Tool>
          <Tool label="Larger" onClick={() => step(1)}>
            +
          </Tool>
        </span>
      </div>
    </div>
  );
}

/** What a screen reader says of dragging; by keyboard a stop is moved with Alt and the arrows. */
function spoken({ states }: Workflow) {
  const name = (id: string | number | undefined) => states.find((state) => state.key === id)?.name ?? "the line's end";
  return {
    screenReaderInstructions: { draggable: "Alt and the arrow keys move this stop along the line." },
    announcements: {
      onDragStart: ({ active }: { active: { id: string | number } }) => `${name(active.id)} is being moved.`,
      onDragOver: () => undefined,
      onDragEnd: ({ active, over }: { active: { id: string | number }; over: { id: string | number } | null }) =>
        over?.id === "siding"
          ? `${name(active.id)} lies beside the line.`
          : `${name(active.id)} is before ${name(over?.id)}.`,
      onDragCancel: ({ active }: { active: { id: string | number } }) => `${name(active.id)} stays where it was.`,
    },
  };
}

function Tool({ label, onClick, children }: { label: string; onClick(): void; children: string }) {
  return (
    <button
      type="button"
      aria-label={`${children} ${label}`}
      title={label}
      className="h-6 min-w-6 rounded border border-rule px-1.5 text-12 hover:border-ink"
      onClick={onClick}
    >
      {children}
    </button>
  );
}

function StopButton({
  stop: { state, x, y, order },
  here,
  chosen,
  lit,
  scale,
  workflow,
  locked,
  change,
  select,
}: {
  stop: Stop;
  here: Here | undefined;
  chosen: boolean;
  lit: boolean;
  scale: number;
} & Omit<PanelProps, "people">) {
  const [renaming, setRenaming] = useState(false);
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({
    id: state.key,
    disabled: locked,
  });
  const moved = transform ? `translate(${transform.x / scale}px, ${transform.y / scale}px)` : undefined;
  const onLine = order !== null;
  const keys = (event: KeyboardEvent) => {
    if (locked) return;
    if (event.key === "F2") setRenaming(true);
    if (event.key === "Delete" && workflow.states.length > 1) {
      event.preventDefault();
      change((now) => removeState(now, state.key));
      select(null);
    }
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!event.altKey || by === undefined) return;
    event.preventDefault();
    const { mainLine } = workflow;
    const at = mainLine.indexOf(state.key);
    const before = at < 0 ? (mainLine.at(-1) ?? null) : by < 0 ? mainLine[at - 1] : (mainLine[at + 2] ?? null);
    if (before !== undefined && !(at >= 0 && by > 0 && at === mainLine.length - 1))
      change((now) => moveState(now, state.key, before));
  };
  const colour = chosen ? "var(--blue)" : "var(--ink)";
  if (renaming)
    return (
      <input
        // biome-ignore lint/a11y/noAutofocus: it appears because the person asked to type here
        autoFocus
        aria-label={`Name of ${state.name}`}
        defaultValue={state.name}
        maxLength={80}
        style={{ left: onLine ? x - PITCH / 2 + 4 : x + 14, top: onLine ? y + 20 : y - 12, width: PITCH - 8 }}
        className="absolute z-20 h-6 rounded border border-blue bg-paper px-1 text-center text-13 font-semibold"
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => {
          if (event.key === "Escape") event.currentTarget.value = state.name;
          if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
          event.stopPropagation();
        }}
        onBlur={(event) => {
          const name = event.target.value.trim();
          if (name && name !== state.name) change((now) => changeState(now, state.key, { name }));
          setRenaming(false);
        }}
      />
    );
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      aria-pressed={chosen}
      aria-describedby={attributes["aria-describedby"]}
      onClick={() => select({ state: state.key })}
      onDoubleClick={() => !locked && setRenaming(true)}
      onKeyDown={keys}
      style={{
        left: onLine ? x - PITCH / 2 + 16 : x - 14,
        top: y - 14,
        width: onLine ? PITCH - 32 : 190,
        transform: moved,
      }}
      className={`absolute flex touch-none ${onLine ? "flex-col items-center" : "items-center gap-1 text-left"} ${isDragging ? "z-20 opacity-80" : ""} ${locked ? "" : "cursor-grab"}`}
    >
      <svg width={28} height={28} viewBox="-14 -14 28 28" aria-hidden="true" className="shrink-0 overflow-visible">
        {lit && <circle r={18} fill="var(--yellow)" />}
        <StopMark state={state} colour={colour} />
      </svg>
      <span
        className={`max-w-full px-1 ${onLine ? "mt-2.5" : ""} ${chosen ? "bg-wash outline outline-1 outline-yellow" : ""}`}
      >
        <span className={`line-clamp-2 text-13 leading-4 font-semibold ${chosen ? "text-blue" : ""}`}>
          {state.name}
          <span className="sr-only"> {KIND_WORDS[state.kind]}</span>
        </span>
        <span className={`block whitespace-nowrap text-12 text-rail ${onLine ? "-mx-4 text-center" : ""}`}>
          {here?.late ? (
            <>
              {stopNote(state, { ...here, late: 0 })}, <span className="font-semibold text-red">{here.late} late</span>
            </>
          ) : (
            stopNote(state, here)
          )}
        </span>
      </span>
    </button>
  );
}

/** The names of the steps, where they run; each chooses its step. */
function Steps({ layout, chosen, select }: { layout: Layout; chosen: Chosen; select: PanelProps["select"] | null }) {
  const label = (key: string, name: string, x: number, y: number, room: number) => (
    <button
      key={`${key} ${x} ${y}`}
      type="button"
      title={name}
      disabled={select === null}
      onClick={() => select?.({ transition: key })}
      style={{ left: x, top: y }}
      className={`absolute -translate-x-1/2 -translate-y-1/2 whitespace-nowrap bg-enamel px-1 text-12 leading-[26px] hover:text-blue ${chosen && "transition" in chosen && chosen.transition === key ? "font-semibold text-blue" : "text-rail"}`}
    >
      {cut(name, room)}
    </button>
  );
  return (
    <>
      {layout.branches.map((branch) => {
        const { x, y, words } = branchLabel(branch);
        const room = branch.stub ? 20 : Math.max(14, Math.round(Math.abs(branch.to.x - branch.from.x) / 6.5));
        return label(branch.step.key, words, x, y, room);
      })}
      {layout.rails.flatMap(({ from, to, turnsAt, steps }) =>
        steps
          .slice(0, 2)
          .map((step, i) =>
            label(
              step.key,
              step.name,
              turnsAt === null ? (from.x + to.x) / 2 : to.x + 60,
              turnsAt === null ? from.y - 27 - i * 26 : turnsAt + i * 15,
              17,
            ),
          ),
      )}
    </>
  );
}

/** Between two stops: where a dragged stop is let go, and where a new one is put in. */
function Between({
  rail: { from, to, turnsAt },
  ...rest
}: { rail: Rail; people: People } & Omit<PanelProps, "people" | "locked">) {
  const { setNodeRef, isOver } = useDroppable({ id: to.state.key });
  const x = turnsAt === null ? (from.x + to.x) / 2 : from.x + 40;
  return (
    <div
      ref={setNodeRef}
      style={{ left: x - 30, top: from.y - 32, width: 60, height: 64 }}
      className={`pointer-events-none absolute flex items-center justify-center ${isOver ? "bg-wash outline-2 outline-yellow" : ""}`}
    >
      <span className="pointer-events-auto">
        <AddStop
          label={`Add a stop between ${from.state.name} and ${to.state.name}`}
          after={from.state.key}
          small
          {...rest}
        />
      </span>
    </div>
  );
}

/** Behind the last stop: where a dragged stop is let go to become the last. */
function EndDrop({ layout }: { layout: Layout }) {
  const { setNodeRef, isOver } = useDroppable({ id: "end" });
  const last = layout.stops.findLast((stop) => stop.order !== null);
  if (!last) return null;
  return (
    <div
      ref={setNodeRef}
      style={{ left: last.x + 24, top: last.y - 32, width: 44, height: 64 }}
      className={`pointer-events-none absolute ${isOver ? "bg-wash outline-2 outline-yellow" : ""}`}
    />
  );
}

/** Below the line: where a dragged stop is let go to lie beside it. */
function SidingDrop() {
  const { setNodeRef, isOver, active } = useDroppable({ id: "siding" });
  return (
    <div
      ref={setNodeRef}
      className={`mx-6 h-10 text-center text-12 leading-10 text-rail ${active ? "border border-dashed border-track" : ""} ${isOver ? "bg-wash" : ""}`}
    >
      {active ? "Let go here to put it beside the line" : ""}
    </div>
  );
}

function AddStop({
  label,
  after,
  small = false,
  workflow,
  people,
  change,
  select,
}: { label: string; after: string | null; small?: boolean; people: People } & Omit<PanelProps, "people" | "locked">) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      {small ? (
        <Popover.Trigger
          aria-label={label}
          title={label}
          className="group flex size-[26px] items-center justify-center"
        >
          <span className="flex size-4.5 items-center justify-center rounded-full border border-ink bg-paper text-12 leading-none group-hover:border-blue group-hover:bg-blue group-hover:text-paper group-data-[state=open]:border-blue group-data-[state=open]:bg-wash">
            +
          </span>
        </Popover.Trigger>
      ) : (
        <Popover.Trigger className="h-6 rounded border border-track px-2 text-12 text-ink hover:border-ink">
          {label}
        </Popover.Trigger>
      )}
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          className="z-30 w-64 border-2 border-ink bg-paper p-3 shadow-lg"
          aria-label={label}
        >
          <form
            className="space-y-2"
            onSubmit={(event) => {
              event.preventDefault();
              const form = new FormData(event.currentTarget);
              const name = String(form.get("name")).trim();
              if (!name) return;
              const made = addState(workflow, name, String(form.get("kind")) as StateKind, after, reviewerOf(people));
              change(() => made.workflow);
              select({ state: made.key });
              setOpen(false);
            }}
          >
            <label className="block text-13">
              <span className="font-semibold">Name of the stop</span>
              <input
                name="name"
                required
                maxLength={80}
                autoComplete="off"
                className="mt-1 h-8 w-full rounded border border-track bg-paper px-2 text-13"
              />
            </label>
            <label className="block text-13">
              <span className="font-semibold">Kind</span>
              <select
                name="kind"
                defaultValue={after === null ? "parked" : "review"}
                className="mt-1 h-8 w-full rounded border border-track bg-paper px-2 text-13"
              >
                {KINDS.map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
            <Button look="go">Add</Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
