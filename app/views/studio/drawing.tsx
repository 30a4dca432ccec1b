import { memo, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Button } from "#app/ui/button.tsx";
import { DragArea, useLanding } from "#app/ui/drag.tsx";
import { branchLabel, cut, inWords } from "#app/views/workflow/line.tsx";
import { type Lit, Track } from "#app/views/workflow/track.tsx";
import type { People } from "#core/people/document.ts";
import { fitting, type Layout, layOut, PITCH, type Rail, shapeOf } from "#core/workflow/drawing/layout.ts";
import { moveState } from "#core/workflow/editing/edit.ts";
import type { Here } from "#server/workflows/queries.ts";
import { AddStop } from "./add-stop.tsx";
import type { Chosen, PanelProps } from "./state-panel.tsx";
import { StopButton } from "./stop-button.tsx";

const NARROW = 560;
/** What a printed sheet has room for, in CSS pixels: A4 upright within its margins. */
const SHEET = { width: 680, height: 900 };
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
export const Drawing = memo(function Drawing({
  workflow,
  people,
  here,
  chosen,
  lit,
  locked: held,
  change,
  select,
}: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 760, height: 420 });
  const [zoom, setZoom] = useState<number | "fit">("fit");
  useEffect(() => {
    const watched = place.current;
    if (!watched) return;
    const measure = () => setSize({ width: watched.clientWidth, height: watched.clientHeight });
    const watcher = new ResizeObserver(measure);
    // A browser prints what is there the moment this returns.
    const print = () => flushSync(() => setSize(SHEET));
    watcher.observe(watched);
    window.addEventListener("beforeprint", print);
    window.addEventListener("afterprint", measure);
    return () => {
      watcher.disconnect();
      window.removeEventListener("beforeprint", print);
      window.removeEventListener("afterprint", measure);
    };
  }, []);
  // On a phone the line is looked at, not built: its handles would be too small for a finger.
  const locked = held || size.width < NARROW;
  const shape = shapeOf(workflow);
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the workflow only its shape matters here
  const fit = useMemo(() => fitting(workflow, { width: size.width, height: size.height - 44 }), [shape, size]);
  const scale = zoom === "fit" ? fit : zoom;
  const layout = layOut(workflow, Math.max(PITCH * 2, size.width / scale));
  const step = (by: number) => {
    const at = ZOOMS.findIndex((one) => one >= scale - 0.01);
    setZoom(ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, at + by))] as number);
  };
  const dropped = (stop: string, before: string) =>
    change((now) => moveState(now, stop, before === "end" ? null : before));
  const nameOf = (id: string) =>
    workflow.states.find((state) => state.key === id)?.name ?? (id === "siding" ? "beside the line" : "the line’s end");
  return (
    <div className="relative flex min-h-0 flex-1 flex-col">
      <section
        ref={place}
        aria-label={inWords(workflow)}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing wider than its place must scroll by keyboard too
        tabIndex={0}
        className="min-h-64 flex-1 overflow-auto print:overflow-visible"
      >
        <DragArea
          nameOf={nameOf}
          instructions="Alt and the arrow keys move this stop along the line."
          byKeyboard={false}
          onDrop={dropped}
        >
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
                  {...{ workflow, locked, change, select }}
                />
              ))}
            </div>
          </div>
          {!locked && <SidingDrop />}
        </DragArea>
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
});

function Tool({ label, onClick, children }: { label: string; onClick(): void; children: string }) {
  return (
    <Button
      look="bare"
      type="button"
      aria-label={`${children} ${label}`}
      title={label}
      className="h-6 min-w-6 rounded border border-rule px-1.5 text-12 hover:border-ink"
      onClick={onClick}
    >
      {children}
    </Button>
  );
}

/** The names of the steps, where they run; each chooses its step. */
function Steps({ layout, chosen, select }: { layout: Layout; chosen: Chosen; select: PanelProps["select"] | null }) {
  const label = (key: string, name: string, x: number, y: number, room: number) => (
    <Button
      look="bare"
      key={`${key} ${x} ${y}`}
      type="button"
      title={name}
      disabled={select === null}
      onClick={() => select?.({ transition: key })}
      style={{ left: x, top: y }}
      className={`absolute -translate-x-1/2 -translate-y-1/2 whitespace-nowrap bg-enamel px-1 text-12 leading-[26px] hover:text-blue ${chosen && "transition" in chosen && chosen.transition === key ? "font-semibold text-blue" : "text-rail"}`}
    >
      {cut(name, room)}
    </Button>
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
  const { place, isOver } = useLanding(to.state.key);
  const x = turnsAt === null ? (from.x + to.x) / 2 : from.x + 40;
  return (
    <div
      ref={place}
      style={{ left: x - 30, top: from.y - 32, width: 60, height: 64 }}
      className={`pointer-events-none absolute flex items-center justify-center ${isOver ? "bg-wash outline-2 outline-yellow" : ""}`}
    >
      <span className="no-print pointer-events-auto">
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
  const { place, isOver } = useLanding("end");
  const last = layout.stops.findLast((stop) => stop.order !== null);
  if (!last) return null;
  return (
    <div
      ref={place}
      style={{ left: last.x + 24, top: last.y - 32, width: 44, height: 64 }}
      className={`pointer-events-none absolute ${isOver ? "bg-wash outline-2 outline-yellow" : ""}`}
    />
  );
}

/** Below the line: where a dragged stop is let go to lie beside it. */
function SidingDrop() {
  const { place, isOver, isAnyCarried } = useLanding("siding");
  return (
    <div
      ref={place}
      className={`mx-6 h-10 text-center text-12 leading-10 text-rail ${isAnyCarried ? "border border-dashed border-track" : ""} ${isOver ? "bg-wash" : ""}`}
    >
      {isAnyCarried ? "Let go here to put it beside the line" : ""}
    </div>
  );
}
