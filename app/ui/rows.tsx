import { type ComponentProps, type KeyboardEvent, useEffect } from "react";

/** Rows of one list; `j` and `k` walk them wherever the keyboard is, Enter opens what they lead to. */
export const Rows = ({ className = "border-t border-ink", ...rest }: ComponentProps<"ul">) => (
  <ul className={className} {...rest} />
);

/** One row; where the keyboard is in it, it is marked. */
export const Row = ({ className = "", ...rest }: ComponentProps<"li">) => (
  <li data-row className={`border-b border-rule focus-within:bg-wash ${className}`} {...rest} />
);

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.closest("input, textarea, select, [role=combobox], [role=listbox], [role=menu]"));

/** Whether a key is meant for the page: nothing is being typed, and no other key is held. */
export const isForPage = (event: globalThis.KeyboardEvent | KeyboardEvent) =>
  !event.ctrlKey && !event.metaKey && !event.altKey && !event.defaultPrevented && !typing(event.target);

/** Lets `j` and `k` walk the rows of the page. */
export function useRowKeys(): void {
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      if (isForPage(event) && (event.key === "j" || event.key === "k")) step(event.key === "j" ? 1 : -1);
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
}

function step(by: 1 | -1): void {
  const rows = [...document.querySelectorAll<HTMLElement>("[data-row]")];
  const at = rows.findIndex((row) => row.contains(document.activeElement));
  const next = rows[at < 0 ? (by > 0 ? 0 : rows.length - 1) : Math.min(rows.length - 1, Math.max(0, at + by))];
  next?.querySelector<HTMLElement>("a, button")?.focus();
  next?.scrollIntoView({ block: "nearest" });
}
