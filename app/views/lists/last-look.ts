import { useEffect, useState } from "react";
import { useFetcher } from "react-router";

/**
 * Has the server keep that one looks at this page now.
 *
 * @param looksOnly whether somebody looks with another's eyes, whose marks stay as they are
 */
export function useLook(looksOnly: boolean): void {
  const { submit } = useFetcher();
  useEffect(() => {
    if (!looksOnly) void submit({ intent: "looked" }, { method: "post" });
  }, [submit, looksOnly]);
}

/** When one looked at a page before this time; that one looks now is kept for the next. */
export function useLastLook(lookedAt: number | null, looksOnly: boolean): number | null {
  const [before] = useState(lookedAt);
  useLook(looksOnly);
  return before;
}
