import { type PointerEvent, useEffect, useRef, useState } from "react";
import { localDate } from "#core/time/local.ts";
import type { Mark } from "#server/pieces/timetable.ts";

/** What is carried, and the day it is held over. */
export interface Carrying {
  marks: readonly Mark[];
  /** The local day of the first of them, and the one it is held over. */
  from: string;
  day: string;
}

/** So far a pointer goes before it carries, in pixels. */
const SLACK = 5;

/**
 * Carrying marks to other days, by pointer or by keyboard; nothing has moved before they are dropped.
 *
 * @param onDrop what is dropped, and over which day; not where it was taken
 */
export function useCarrying(zone: string, onDrop: (carrying: Carrying) => void) {
  const [carrying, setCarrying] = useState<Carrying | null>(null);
  const held = useRef<Carrying | null>(null);
  const pressed = useRef<{ marks: readonly Mark[]; x: number; y: number } | null>(null);
  /** Whether the pointer carried, so that letting go is no click. */
  const carried = useRef(false);
  const set = (next: Carrying | null) => {
    held.current = next;
    setCarrying(next);
  };
  const take = (marks: readonly Mark[], day?: string) => {
    const [first] = marks;
    if (!first) return;
    const from = localDate(first.at, zone);
    set({ marks, from, day: day ?? from });
  };
  const over = (day: string) => held.current && held.current.day !== day && set({ ...held.current, day });
  const drop = () => {
    const now = held.current;
    set(null);
    if (now && now.day !== now.from) onDrop(now);
  };
  const back = () => set(null);
  useEffect(() => {
    const onMove = (event: globalThis.PointerEvent) => {
      const start = pressed.current;
      if (!start) return;
      if (!held.current) {
        if (Math.hypot(event.clientX - start.x, event.clientY - start.y) < SLACK) return;
        carried.current = true;
        take(start.marks);
      }
      const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>("[data-day]");
      if (cell?.dataset.day) over(cell.dataset.day);
      event.preventDefault();
    };
    const onUp = () => {
      const start = pressed.current;
      pressed.current = null;
      if (start && held.current) drop();
    };
    const onCancel = () => {
      pressed.current = null;
      back();
    };
    document.addEventListener("pointermove", onMove, { passive: false });
    document.addEventListener("pointerup", onUp);
    document.addEventListener("pointercancel", onCancel);
    return () => {
      document.removeEventListener("pointermove", onMove);
      document.removeEventListener("pointerup", onUp);
      document.removeEventListener("pointercancel", onCancel);
    };
  });
  /** Lets something be taken up by pointer. */
  const press = (marks: readonly Mark[]) => (event: PointerEvent) => {
    carried.current = false;
    if (event.button !== 0 || event.pointerType === "touch" || marks.length === 0) return;
    pressed.current = { marks, x: event.clientX, y: event.clientY };
  };
  /** Whether what was just let go of had been carried: then it is no click. */
  const wasCarried = () => carried.current;
  return { carrying, take, over, drop, back, press, wasCarried };
}
