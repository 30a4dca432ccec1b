import { useEffect } from "react";

/** What the search is called in its page. */
export const FIND = "find";

/** Lets Ctrl or ⌘ K take one to the search, from the page's first moment: it is there to be written in before it hears. */
export function useFindKey(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key !== "k") return;
      event.preventDefault();
      document.getElementById(FIND)?.focus();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
}
