import { type KeyboardEvent, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { useCarried } from "#app/ui/drag.tsx";
import { Input } from "#app/ui/field.tsx";
import { StopMark } from "#app/views/line/stop-mark.tsx";
import { stopNote } from "#app/views/workflow/line.tsx";
import { PITCH, type Stop } from "#core/workflow/drawing/layout.ts";
import { changeState, moveState, removeState } from "#core/workflow/editing/edit.ts";
import { KIND_WORDS } from "#core/workflow/migrate.ts";
import type { Here } from "#server/workflows/queries.ts";
import type { PanelProps } from "./state-panel.tsx";

/** A stop in the studio: chosen by a click, dragged, moved by Alt and the arrows, renamed in place, taken out by Delete. */
export function StopButton({
  stop: { state, x, y, order },
  here,
  chosen,
  lit,
  workflow,
  locked,
  change,
  select,
}: {
  stop: Stop;
  here: Here | undefined;
  chosen: boolean;
  lit: boolean;
} & Omit<PanelProps, "people">) {
  const [renaming, setRenaming] = useState(false);
  const { thing, isCarried } = useCarried(state.key, locked);
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
      <Input
        look="small"
        autoFocus
        aria-label={`Name of ${state.name}`}
        defaultValue={state.name}
        maxLength={80}
        style={{ left: onLine ? x - PITCH / 2 + 4 : x + 14, top: onLine ? y + 20 : y - 12, width: PITCH - 8 }}
        className="absolute z-20 border-blue text-center font-semibold"
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => {
          if (event.key === "Escape") event.currentTarget.value = state.name;
          if (event.key !== "Enter" && event.key !== "Escape") return event.stopPropagation();
          event.preventDefault();
          event.currentTarget.blur();
        }}
        onBlur={(event) => {
          const name = event.target.value.trim();
          if (name && name !== state.name) change((now) => changeState(now, state.key, { name }));
          setRenaming(false);
        }}
      />
    );
  return (
    <Button
      look="bare"
      ref={thing}
      type="button"
      aria-pressed={chosen}
      onClick={() => select({ state: state.key })}
      onDoubleClick={() => !locked && setRenaming(true)}
      onKeyDown={keys}
      style={{
        left: onLine ? x - PITCH / 2 + 16 : x - 14,
        top: y - 14,
        width: onLine ? PITCH - 32 : 190,
      }}
      className={`absolute flex touch-none ${onLine ? "flex-col items-center" : "items-center gap-1 text-left"} ${isCarried ? "z-20 opacity-80" : ""} ${locked ? "" : "cursor-grab"}`}
    >
      <svg width={28} height={28} viewBox="-14 -14 28 28" aria-hidden="true" className="shrink-0 overflow-visible">
        {lit && <circle r={18} fill="var(--yellow)" />}
        <StopMark state={state} colour={colour} />
      </svg>
      <span
        className={`px-1 ${onLine ? "mt-2.5 text-center" : ""} ${chosen ? "bg-wash outline outline-1 outline-yellow" : ""}`}
      >
        <span
          className={`line-clamp-2 max-w-24 text-13 leading-4 font-semibold ${onLine ? "mx-auto" : "max-w-44!"} ${chosen ? "text-blue" : ""}`}
        >
          {state.name}
          <span className="sr-only"> {KIND_WORDS[state.kind]}</span>
        </span>
        <span className="block whitespace-nowrap text-12 text-rail">
          {here?.late ? (
            <>
              {stopNote(state, { ...here, late: 0 })}, <span className="font-semibold text-red">{here.late} late</span>
            </>
          ) : (
            stopNote(state, here)
          )}
        </span>
      </span>
    </Button>
  );
}
