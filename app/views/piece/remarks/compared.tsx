import { useEffect, useRef, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { rangeOf } from "#app/views/text/run.ts";
import type { Told } from "#server/remarks/queries.ts";

/** The remarks on the newer of two compared texts: their words are marked in it, each leads to them. */
export function RemarksCompared({ threads, shown }: { threads: readonly Told[]; shown: unknown }) {
  const list = useRef<HTMLElement>(null);
  const [places, setPlaces] = useState<ReadonlyMap<string, Range>>(new Map());
  // biome-ignore lint/correctness/useExhaustiveDependencies: another comparison is marked anew
  useEffect(() => {
    const page = list.current?.closest("section[aria-label=Comparison]");
    const found = new Map<string, Range>();
    for (const { id, field, anchor } of threads) {
      const root = page?.querySelector<HTMLElement>(`[data-after="${field}"]`);
      const place = root && anchor && !anchor.gone ? rangeOf(root, anchor) : null;
      if (place) found.set(id, place);
    }
    setPlaces(found);
    CSS.highlights?.set("remarks", new Highlight(...found.values()));
    return () => void CSS.highlights?.delete("remarks");
  }, [threads, shown]);
  const standing = threads.filter(({ id }) => places.has(id));
  return (
    <aside ref={list} aria-label="Remarks on what is shown" className="mb-4 text-13">
      {standing.length > 0 && (
        <>
          <h2 className="text-rail">Open remarks in these words</h2>
          <ul>
            {standing.map(({ id, author, madeOn, comments }) => (
              <li key={id}>
                <Button
                  look="word"
                  type="button"
                  onClick={() => places.get(id)?.startContainer.parentElement?.scrollIntoView({ block: "center" })}
                >
                  “{madeOn?.slice(0, 80)}”
                </Button>{" "}
                <b className="font-semibold">{author}</b> {comments[0]?.body}
              </li>
            ))}
          </ul>
        </>
      )}
    </aside>
  );
}
