import { type RefObject, useEffect, useLayoutEffect, useState } from "react";
import type { Thread } from "./remarks.ts";

/** What is being written, among the cards. */
export const NEW = "new";
/** From this width on there is a margin beside the text. */
const WIDE = "(min-width: 1024px)";
/** So far above and below what is seen cards are drawn, and after so much scrolling it is looked again, in pixels. */
const NEAR = 800;
const STEP = 400;

/** Whether there is no room for a margin beside the text. */
export function useNarrow(): boolean {
  const [narrow, setNarrow] = useState(false);
  useEffect(() => {
    const wide = window.matchMedia(WIDE);
    const look = () => setNarrow(!wide.matches);
    look();
    wide.addEventListener("change", look);
    return () => wide.removeEventListener("change", look);
  }, []);
  return narrow;
}

/** At which height the words of threads stand, in pixels below the top of the margin; measured anew as the text grows. */
export function useWants(
  box: RefObject<HTMLElement | null>,
  threads: readonly Thread[],
  composing: object | null,
): ReadonlyMap<string, number> {
  const [wants, setWants] = useState<ReadonlyMap<string, number>>(new Map());
  // biome-ignore lint/correctness/useExhaustiveDependencies: other threads stand elsewhere
  useLayoutEffect(() => {
    const article = document.querySelector("article");
    const measure = () => {
      const top = box.current?.getBoundingClientRect().top ?? 0;
      const found = new Map<string, number>();
      for (const words of document.querySelectorAll<HTMLElement>("article [data-thread]")) {
        const at = words.getBoundingClientRect().top - top;
        for (const id of (words.dataset.thread ?? "").split(" ")) if (!found.has(id)) found.set(id, Math.max(0, at));
      }
      const selection = composing ? document.getSelection() : null;
      if (selection && selection.rangeCount > 0) {
        const at = selection.getRangeAt(0).getBoundingClientRect().top - top;
        found.set(NEW, Math.max(0, at));
      }
      setWants((was) => {
        if (composing && was.has(NEW)) found.set(NEW, was.get(NEW) ?? 0);
        return same(was, found) ? was : found;
      });
    };
    measure();
    // Marks of the text one writes in are drawn a moment later.
    const soon = requestAnimationFrame(measure);
    const observer = new ResizeObserver(measure);
    if (article) observer.observe(article);
    if (box.current) observer.observe(box.current);
    document.fonts.ready.then(measure);
    return () => {
      cancelAnimationFrame(soon);
      observer.disconnect();
    };
  }, [box, threads.map(({ id }) => id).join(), composing]);
  return wants;
}

const same = (one: ReadonlyMap<string, number>, other: ReadonlyMap<string, number>) =>
  one.size === other.size && [...one].every(([key, value]) => other.get(key) === value);

/** Which heights of the margin are near what is seen; all of them where so few stand there that it matters nothing. */
export function useWindowOn(box: RefObject<HTMLElement | null>, matters: boolean): { near(top: number): boolean } {
  const [seen, setSeen] = useState(0);
  useEffect(() => {
    if (!matters) return;
    const look = () => {
      const top = -(box.current?.getBoundingClientRect().top ?? 0);
      setSeen(Math.round(top / STEP) * STEP);
    };
    look();
    document.addEventListener("scroll", look, { passive: true, capture: true });
    return () => document.removeEventListener("scroll", look, { capture: true });
  }, [box, matters]);
  const height = typeof window === "undefined" ? 800 : window.innerHeight;
  return { near: (top) => !matters || (top > seen - NEAR && top < seen + height + NEAR) };
}
