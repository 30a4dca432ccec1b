import { type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import type { Mark } from "#server/schedule/mark.ts";
import { type Carrying, carries, moves, over, takenUp } from "./carriage.ts";

/**
 * Carrying marks to other days, by pointer or by keyboard; nothing has moved before they are dropped.
 *
 * @param onDrop what is dropped, and over which day; not where it was taken
 */
export function useCarrying(zone: string, onDrop: (carrying: Carrying) => void) {
  const [carrying, setCarrying] = useState<Carrying | null>(null);
  const held = useRef<Carrying | null>(null);
  const pressed = useRef<{ marks: readonly Mark[]; fresh: boolean; x: number; y: number } | null>(null);
  /** Whether the pointer carried, so that letting go is no click. */
  const carried = useRef(false);
  const dropped = useRef(onDrop);
  dropped.current = onDrop;
  const acts = useMemo(() => {
    const set = (next: Carrying | null) => {
      held.current = next;
      setCarrying(next);
    };
    return {
      take(marks: readonly Mark[], fresh = false) {
        const taken = takenUp(marks, zone, fresh);
        if (taken) set(taken);
      },
      over(day: string) {
        const next = over(held.current, day);
        if (next !== held.current) set(next);
      },
      drop() {
        const now = held.current;
        set(null);
        if (now && moves(now)) dropped.current(now);
      },
      back: () => set(null),
      /** Lets something be taken up by pointer. */
      press:
        (marks: readonly Mark[], fresh = false) =>
        (event: PointerEvent) => {
          carried.current = false;
          if (event.button !== 0 || event.pointerType === "touch" || marks.length === 0) return;
          pressed.current = { marks, fresh, x: event.clientX, y: event.clientY };
        },
      /** Whether what was just let go of had been carried: then it is no click. */
      wasCarried: () => carried.current,
    };
  }, [zone]);
  useEffect(() => {
    const onMove = (event: globalThis.PointerEvent) => {
      const start = pressed.current;
      if (!start) return;
      if (!held.current) {
        if (!carries(start, event)) return;
        carried.current = true;
        acts.take(start.marks, start.fresh);
      }
      const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>("[data-day]");
      if (cell?.dataset.day) acts.over(cell.dataset.day);
      event.preventDefault();
    };
    const onUp = () => {
      const start = pressed.current;
      pressed.current = null;
      if (start && held.current) acts.drop();
    };
    const onCancel = () => {
      pressed.current = null;
      acts.back();
    };
    document.addEventListener("pointermove", onMove, { passive: false });
    document.addEventListener("pointerup", onUp);
    document.addEventListener("pointercancel", onCancel);
    return () => {
      document.removeEventListener("pointermove", onMove);
      document.removeEventListener("pointerup", onUp);
      document.removeEventListener("pointercancel", onCancel);
    };
  }, [acts]);
  return { carrying, acts };
}

/** What one may do to carry. */
export type Carry = ReturnType<typeof useCarrying>["acts"];
