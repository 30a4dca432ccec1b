import { type ReactNode, useCallback, useLayoutEffect, useMemo, useRef, useState } from "react";
import { Card } from "./card.tsx";
import { type CardProps, type Thread, useRemarks } from "./remarks.ts";
import { stack } from "./stack.ts";
import { NEW, useWants, useWindowOn } from "./use-beside.ts";

/** With more remarks beside the text than this they are folded, all but the one one is at. */
const UNFOLDED_MOST = 30;
/** How high a card is until it was measured, in pixels. */
const FOLDED = 48;
const UNFOLDED = 96;

/** The cards beside their words: none over another, only those drawn that are near what is seen. */
export function Beside({
  shown,
  composer,
  composingAt,
  ...props
}: Omit<CardProps, "thread" | "folded"> & {
  shown: readonly Thread[];
  composer: ReactNode;
  composingAt: { field: string } | null;
}) {
  const { chosen } = useRemarks();
  const box = useRef<HTMLDivElement>(null);
  const wants = useWants(box, shown, composingAt);
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const watch = useHeights(setHeights);
  const window_ = useWindowOn(box, shown.length > UNFOLDED_MOST);
  const folds = shown.length > UNFOLDED_MOST;
  const cards = useMemo(() => {
    const guess = folds ? FOLDED : UNFOLDED;
    const all = shown.map(({ id }, i) => ({
      id,
      wants: wants.get(id) ?? i * (guess + 8),
      height: heights.get(id) ?? guess,
    }));
    const own = composer ? [{ id: NEW, wants: wants.get(NEW) ?? 0, height: heights.get(NEW) ?? 220 }] : [];
    return [...all, ...own];
  }, [shown, wants, heights, folds, composer]);
  const { tops, end } = stack(cards, composer ? NEW : chosen);
  return (
    <div ref={box} className="relative mt-4" style={{ height: end }}>
      {composer && (
        <div ref={watch(NEW)} className="absolute inset-x-0 z-10" style={{ top: tops.get(NEW) ?? 0 }}>
          {composer}
        </div>
      )}
      {shown
        .filter(({ id }) => id === chosen || window_.near(tops.get(id) ?? 0))
        .map((thread) => (
          <div
            key={thread.id}
            ref={watch(thread.id)}
            className="absolute inset-x-0"
            style={{ top: tops.get(thread.id) ?? 0 }}
          >
            <Card thread={thread} folded={folds && thread.id !== chosen} {...props} />
          </div>
        ))}
    </div>
  );
}

/** Watches how high cards are. @returns for each card what its element is handed to */
function useHeights(tell: (grow: (heights: ReadonlyMap<string, number>) => ReadonlyMap<string, number>) => void) {
  const observer = useRef<ResizeObserver | null>(null);
  const names = useRef(new WeakMap<Element, string>());
  useLayoutEffect(() => () => observer.current?.disconnect(), []);
  return useCallback(
    (id: string) => (element: HTMLElement | null) => {
      if (!element || typeof ResizeObserver === "undefined") return;
      observer.current ??= new ResizeObserver((entries) =>
        tell((before) => {
          const after = new Map(before);
          for (const { target, contentRect } of entries) after.set(names.current.get(target) ?? "", contentRect.height);
          return after;
        }),
      );
      names.current.set(element, id);
      observer.current.observe(element);
    },
    [tell],
  );
}
