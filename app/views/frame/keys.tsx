import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";

const KEYS = [
  ["j, k", "next and previous row"],
  ["Enter", "open what is selected"],
  ["Esc", "step back"],
  ["L", "leave, while you see as somebody else"],
  ["Ctrl K", "find a piece or a place"],
  ["Alt ← →", "in the studio: move a stop along the line"],
  ["F2, Delete", "in the studio: rename a stop, take it out"],
  ["Ctrl Z", "in the studio: undo; with Shift, redo"],
  ["?", "this list"],
] as const;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Moves through rows marked `data-row` by j and k, and shows the list of keys on `?`. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
      if (event.key === "?") setOpen(true);
      if (event.key === "j" || event.key === "k") step(event.key === "j" ? 1 : -1);
      if (event.key === "l" || event.key === "L")
        document.querySelector<HTMLButtonElement>("[data-leave] button")?.click();
      if (event.key === "Escape" && !document.querySelector("[role=dialog], dialog[open]")) {
        const back = document.querySelector<HTMLAnchorElement>("a[data-back]");
        if (back) navigate(back.getAttribute("href") ?? "/");
      }
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [navigate]);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-1/4 z-20 w-80 -translate-x-1/2 border-2 border-ink bg-paper p-5 shadow-lg"
        >
          <Dialog.Title className="text-15 font-bold">Keys</Dialog.Title>
          <dl className="mt-3 grid grid-cols-[72px_1fr] gap-y-1.5 text-13">
            {KEYS.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-semibold">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function step(by: 1 | -1): void {
  const rows = [...document.querySelectorAll<HTMLElement>("[data-row]")];
  const at = rows.findIndex((row) => row.contains(document.activeElement));
  const next = rows[at < 0 ? (by > 0 ? 0 : rows.length - 1) : Math.min(rows.length - 1, Math.max(0, at + by))];
  next?.querySelector<HTMLElement>("a, button")?.focus();
  next?.scrollIntoView({ block: "nearest" });
}
