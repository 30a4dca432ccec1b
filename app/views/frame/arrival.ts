import { useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";

const LISTS = ["/turn", "/pieces", "/schedule", "/notices"];
/** Whether one comes back from a piece to where one is: to a list, or to an edition it is in. */
const isList = (pathname: string) => LISTS.includes(pathname) || pathname.startsWith("/editions/");

/** The list one looked at last, by its address with its filter; a piece leads back to it. */
let lastList = "/pieces";

/** Whether one comes back to the list one looked at last. */
export function useCameBack(): boolean {
  const { pathname, search } = useLocation();
  const [back] = useState(() => pathname + search === lastList);
  return back;
}

/** Where a piece leads back to: the list one came from, as it was narrowed. */
export function useLastList(): { to: string; name: string } {
  const [to, setTo] = useState("/pieces");
  useEffect(() => setTo(lastList), []);
  return { to, name: NAMES.find(([start]) => to.startsWith(start))?.[1] ?? "Pieces" };
}

const NAMES = [
  ["/turn", "Your turn"],
  ["/schedule", "Schedule"],
  ["/notices", "Notices"],
  ["/editions", "The edition"],
] as const;

/**
 * Brings the keyboard along when the page changes: back in a list to the row one came from, else to
 * where the page begins, so that its heading is what is heard next. What takes the keyboard itself keeps it.
 */
export function useArrival(): void {
  const { pathname, search } = useLocation();
  const before = useRef<string | null>(null);
  useEffect(() => {
    if (isList(pathname)) lastList = pathname + search;
    const from = before.current;
    before.current = pathname;
    if (from === null || from === pathname) return;
    const main = document.getElementById("main");
    if (!main || (main.contains(document.activeElement) && document.activeElement !== main)) return;
    const row = main.querySelector<HTMLElement>(`[data-row] a[href="${CSS.escape(from)}"]`);
    if (!row) {
      // Its heading is what is heard of a page first.
      const there = main.querySelector<HTMLElement>("h1") ?? main;
      there.tabIndex = -1;
      return there.focus({ preventScroll: true });
    }
    row.focus({ preventScroll: true });
    row.scrollIntoView({ block: "center" });
  }, [pathname, search]);
}
