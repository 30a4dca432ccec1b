import { useCallback, useEffect, useRef, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { isForPage } from "#app/ui/rows.tsx";
import { runSelected } from "#app/views/text/run.ts";
import { anchorAt } from "#core/text/anchor.ts";
import type { Content } from "#core/text/fields.ts";
import { type Place, useRemarks } from "./remarks.ts";

/** Beside what is selected: to say something of it, or to word it otherwise; by `m` and `w` too. */
export function Selecting({ content }: { content: Content }) {
  const { compose, composing, selected } = useRemarks();
  const [at, setAt] = useState<{ left: number; top: number } | null>(null);
  const latest = useRef(content);
  latest.current = content;
  const begin = useCallback(
    (proposes: boolean) => {
      const place = placeSelected(latest.current, selected);
      if (!place) return;
      const range = document.getSelection()?.getRangeAt(0);
      // The words stay marked while the keyboard is in the margin.
      if (range) CSS.highlights?.set("composing", new Highlight(range.cloneRange()));
      compose({ place, proposes });
      setAt(null);
    },
    [compose, selected],
  );
  useEffect(() => {
    const onSelect = () => {
      const selection = document.getSelection();
      const field = selection && fieldOf(selection);
      if (!selection || !field || selection.isCollapsed) return setAt(null);
      const rects = selection.getRangeAt(0).getClientRects();
      const last = rects[rects.length - 1];
      if (!last) return setAt(null);
      const left = Math.min(last.right + window.scrollX, document.documentElement.clientWidth - 210);
      setAt({ left: Math.max(8, left), top: last.bottom + window.scrollY + 6 });
    };
    const onKey = (event: KeyboardEvent) => {
      const plain = isForPage(event);
      const within = event.ctrlKey && event.altKey;
      if (!plain && !within) return;
      const key = event.key.toLowerCase();
      if ((key !== "m" && key !== "w") || !fieldOf(document.getSelection())) return;
      event.preventDefault();
      begin(key === "w");
    };
    document.addEventListener("selectionchange", onSelect);
    document.addEventListener("keydown", onKey);
    return () => {
      document.removeEventListener("selectionchange", onSelect);
      document.removeEventListener("keydown", onKey);
    };
  }, [begin]);
  useEffect(() => {
    if (!composing) CSS.highlights?.delete("composing");
  }, [composing]);
  if (!at || composing) return null;
  return (
    <div
      role="toolbar"
      aria-label="What is selected"
      className="absolute z-20 flex gap-1 border-2 border-ink bg-paper p-1 font-sans shadow-lg"
      style={at}
      // The selection stays what it is while one presses.
      onMouseDown={(event) => event.preventDefault()}
    >
      <Button type="button" look="quiet" title="m; in a text Ctrl Alt M" onClick={() => begin(false)}>
        Remark
      </Button>
      <Button type="button" look="quiet" title="w; in a text Ctrl Alt W" onClick={() => begin(true)}>
        Other wording
      </Button>
    </div>
  );
}

const fieldOf = (selection: Selection | null): HTMLElement | null => {
  const node = selection?.anchorNode;
  const element = node instanceof Element ? node : node?.parentElement;
  return element?.closest<HTMLElement>("[data-field]") ?? null;
};

/** What is selected, as a remark stands on it; null where it is nothing one can speak of. */
export function placeSelected(content: Content, selected: ReturnType<typeof useRemarks>["selected"]): Place | null {
  const selection = document.getSelection();
  const section = fieldOf(selection);
  const field = section?.dataset.field;
  if (!selection || !section || !field) return null;
  const range = selected.get(field)?.() ?? runSelected(section, selection);
  const anchor = range && anchorAt(field === "title" ? content.title : content.fields[field], range);
  if (!anchor) return null;
  const { start, end, exact, prefix, suffix } = anchor;
  return { field, range: { start, end }, quote: { exact, prefix, suffix } };
}
