import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { Dialog } from "#app/ui/layers.tsx";
import { isForPage, useRowKeys } from "#app/ui/rows.tsx";

const KEYS = [
  ["j, k", "next and previous row"],
  ["Enter", "open what is selected"],
  ["x", "in a list: choose the row; Shift click chooses all between"],
  ["Esc", "step back"],
  ["Shift J", "on a piece: the next that waits on you"],
  ["d", "on a piece: what changed since you decided"],
  ["a", "on a piece: decide"],
  ["n, p", "on a piece: next and previous remark"],
  ["m, w", "on selected words: a remark, other wording; with Ctrl Alt while one writes"],
  ["m", "in the schedule, or at the stops of a line: take it up; arrows carry it, Enter drops it, Esc puts it back"],
  ["o", "on a piece: the words as they were, without what is proposed"],
  ["v", "in place: the next way to look"],
  ["L", "leave, while you see as somebody else"],
  ["Ctrl K", "find a piece, a place or words"],
  ["Ctrl F", "in a text: find and replace"],
  ["Ctrl Alt 2, 3, 4", "in a text: headings"],
  ["Ctrl Shift L, N", "in a text: link, note"],
  ["Alt ← →", "in the studio: move a stop along the line"],
  ["F2, Delete", "in the studio: rename a stop, take it out"],
  ["Ctrl Z", "undo; with Shift, redo"],
  ["?", "this list"],
] as const;

/** The keys of every page: Esc steps back one layer, and `?` lists them all. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useRowKeys();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented) return stepBack(event, navigate);
      if (!isForPage(event)) return;
      if (event.key === "?") setOpen(true);
      document.querySelector<HTMLElement>(`[data-key="${CSS.escape(event.key)}"]`)?.click();
      if (event.key === "l" || event.key === "L")
        document.querySelector<HTMLButtonElement>("[data-leave] button")?.click();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [navigate]);
  return (
    <Dialog title="Keys" open={open} onLeave={() => setOpen(false)}>
      <dl className="grid grid-cols-[120px_1fr] gap-y-1.5 text-13">
        {KEYS.map(([key, does]) => (
          <div key={key} className="contents">
            <dt className="font-semibold">{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}

/** Of the ways back the innermost; from within a field the keyboard first leaves the field. */
function stepBack({ target }: KeyboardEvent, navigate: (to: string) => unknown): void {
  const ways = [...document.querySelectorAll<HTMLAnchorElement>("a[data-back]")];
  const back = ways.at(-1);
  if (target instanceof HTMLElement && (target.isContentEditable || target.matches("input, textarea"))) {
    const own = ways.findLast((way) => way.closest("section, aside")?.contains(target));
    if (own) own.focus();
    else target.blur();
  } else if (back) navigate(back.getAttribute("href") ?? "/");
}
