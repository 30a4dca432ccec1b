import { useEffect, useState } from "react";
import type { loader } from "#app/routes/find.ts";

type Answer = Awaited<ReturnType<typeof loader>>;
export type Found = Answer["found"][number];

/** A word is asked for once typing rests this long, in milliseconds. */
const REST = 80;

/**
 * What the search finds for words while they are typed. It is asked apart from the router, whose fetchers
 * may lose an answer when the page refreshes meanwhile.
 *
 * @param words null while nothing is asked
 * @returns what was found last, and whether that is for these very words
 */
export function useFound(words: string | null): { found: readonly Found[]; settled: boolean } {
  const [answer, setAnswer] = useState<Answer | null>(null);
  useEffect(() => {
    if (words === null) return;
    const asking = new AbortController();
    const timer = setTimeout(
      () =>
        fetch(`/find?q=${encodeURIComponent(words)}`, { signal: asking.signal })
          .then((response) => response.json())
          .then(setAnswer)
          .catch(() => undefined),
      REST,
    );
    return () => {
      clearTimeout(timer);
      asking.abort();
    };
  }, [words]);
  const settled = words !== null && answer?.asked === words.trim();
  return { found: words === null ? [] : (answer?.found ?? []), settled };
}
