import { useEffect, useMemo, useState } from "react";
import type { PiecePage } from "../page.ts";
import type { Thread } from "./remarks.ts";

const NONE: readonly Thread[] = [];

/** A page with all its remarks: of very many the first come along with it, the others once it stands. */
export function useAllRemarks<P extends Pick<PiecePage, "row" | "threads" | "further">>(page: P): P {
  const [others, setOthers] = useState(NONE);
  const { slug } = page.row;
  useEffect(() => {
    if (!page.further) return setOthers(NONE);
    const leaving = new AbortController();
    fetch(`/pieces/${slug}/remarks`, { signal: leaving.signal })
      .then(async (answer) => answer.ok && setOthers((await answer.json()) as Thread[]))
      .catch(() => undefined);
    return () => leaving.abort();
  }, [page, slug]);
  return useMemo(() => {
    if (others === NONE) return page;
    // What came with the page is the newer.
    const all = new Map([...others, ...page.threads].map((one) => [one.id, one]));
    return { ...page, threads: [...all.values()].toSorted((a, b) => a.at - b.at) };
  }, [page, others]);
}
