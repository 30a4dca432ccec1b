import { Link } from "react-router";
import { When } from "#app/views/time/clock.tsx";
import type { PiecePageData } from "#server/pieces/page.ts";

type Entry = PiecePageData["passage"][number];

/** Every step of a piece from the ledger, the newest first; saves in a row are one line. */
export function Passage({ slug, entries }: { slug: string; entries: readonly Entry[] }) {
  return (
    <section aria-label="Passage">
      <h2 className="text-rail">Passage</h2>
      <Link to={`/pieces/${slug}/passage`} className="inline-block py-1 text-13 font-semibold text-blue">
        All of it, stop by stop
      </Link>
      <ol className="mt-2 space-y-2 text-13">
        {entries
          .filter((entry, i) => !(entry.action === "version.saved" && savedNext(entries[i - 1], entry)))
          .map((entry) => (
            <li key={entry.seq}>
              <p>
                <b className="font-semibold">{entry.who ?? "Elenco"}</b>
                {entry.for && ` for ${entry.for}`} {entry.words}
              </p>
              {entry.note && <p className="border-l-3 border-rule pl-2">{entry.note}</p>}
              <p className="text-12 text-rail">
                <When at={entry.at} />
              </p>
            </li>
          ))}
      </ol>
    </section>
  );
}

const savedNext = (newer: Entry | undefined, entry: Entry) =>
  newer?.action === "version.saved" && newer.who === entry.who;
