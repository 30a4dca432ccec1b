import { useCallback, useEffect, useMemo, useRef, useSyncExternalStore } from "react";
import { useOwner } from "#app/views/frame/kept-here.ts";

/** What is chosen in a list: some pieces, or all the list is narrowed to. */
export type Choice = { ids: readonly string[] } | { all: string; total: number };

const NOTHING: Choice = { ids: [] };
const keyOf = (owner: string) => `elenco:chosen:${owner}`;
const heard = new Set<() => void>();

/** How many pieces a choice is. */
export const sizeOf = (choice: Choice) => ("ids" in choice ? choice.ids.length : choice.total);

function read(owner: string): string {
  return sessionStorage.getItem(keyOf(owner)) ?? "";
}

function parse(kept: string): Choice {
  if (kept === "") return NOTHING;
  return JSON.parse(kept) as Choice;
}

/** Chooses pieces in this window, for as long as it is open. */
export function keepChoice(owner: string, choice: Choice): void {
  if (sizeOf(choice) === 0) sessionStorage.removeItem(keyOf(owner));
  else sessionStorage.setItem(keyOf(owner), JSON.stringify(choice));
  for (const tell of heard) tell();
}

const subscribe = (tell: () => void) => {
  heard.add(tell);
  return () => void heard.delete(tell);
};

/** What somebody chose in this window; on the server nothing yet. */
export function useChoice(): [Choice, (choice: Choice) => void] {
  const owner = useOwner();
  const kept = useSyncExternalStore(
    subscribe,
    () => read(owner),
    () => "",
  );
  const choice = useMemo(() => parse(kept), [kept]);
  return [choice, useCallback((next) => keepChoice(owner, next), [owner])];
}

/**
 * What is chosen once a row is chosen or let go.
 *
 * @param shown the ids of the rows, in order
 * @param last the row chosen last
 * @param through whether all rows from that one to this are meant; they become as this one does
 */
export function toggled(
  ids: ReadonlySet<string>,
  shown: readonly string[],
  last: string | null,
  id: string,
  through: boolean,
): string[] {
  const [from, to] = [shown.indexOf(last ?? ""), shown.indexOf(id)];
  const meant = through && from >= 0 ? shown.slice(Math.min(from, to), Math.max(from, to) + 1) : [id];
  const next = new Set(ids);
  for (const one of meant) ids.has(id) ? next.delete(one) : next.add(one);
  return [...next];
}

/** What a list needs to let pieces be chosen. */
export interface Choosing {
  choice: Choice;
  set(choice: Choice): void;
  has(id: string): boolean;
  /** @param through whether all from the one chosen last to this are meant */
  toggle(id: string, through: boolean): void;
}

/**
 * Choosing rows of a list: one by one, from one through another, all shown.
 *
 * @param shown the ids of the rows, in order
 */
export function useChoosing(shown: readonly string[]): Choosing {
  const [choice, set] = useChoice();
  const last = useRef<string | null>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "x" || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const row = document.activeElement?.closest("[data-row]");
      const typing = document.activeElement?.matches("input:not([type=checkbox]), textarea, [contenteditable=true]");
      if (row && !typing) row.querySelector<HTMLInputElement>("input[data-choose]")?.click();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
  return useMemo(() => {
    const ids = "ids" in choice ? new Set(choice.ids) : new Set(shown);
    return {
      choice,
      set,
      has: (id) => ids.has(id),
      toggle(id, through) {
        set({ ids: toggled(ids, shown, last.current, id, through) });
        last.current = id;
      },
    };
  }, [choice, set, shown]);
}
