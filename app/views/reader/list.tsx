import { Teaser } from "#app/views/reader/article.tsx";
import { counted } from "#core/words/say.ts";
import type { Teased } from "#server/reader/shown.ts";

interface Page {
  pieces: readonly (Teased & { slug: string })[];
  /** Where the older ones begin. */
  next: string | null;
  sections: readonly { key: string; name: string }[];
  heading?: string;
}

/** What is released, newest first: all, of a section or of a month. */
export function ReadView({ page }: { page: Page }) {
  const { pieces, next, sections, heading } = page;
  return (
    <>
      <nav aria-label="Sections" className="-mt-2 mb-8 flex flex-wrap justify-center gap-x-5 gap-y-1 font-sans text-13">
        {sections.map(({ key, name }) => (
          <a
            key={key}
            href={`/read/in/${key}`}
            aria-current={name === heading ? "page" : undefined}
            className="py-1 hover:underline aria-[current]:font-semibold"
          >
            {name}
          </a>
        ))}
      </nav>
      <h1 className={heading ? "mb-6 font-serif text-[28px]/[34px]!" : "sr-only"}>{heading ?? "What is released"}</h1>
      {pieces.length === 0 && (
        <p className="text-center text-19 text-rail">Nothing has been released {heading ? "here" : "yet"}.</p>
      )}
      <ul className="space-y-7">
        {pieces.map((one) => (
          <li key={one.slug}>
            <Teaser piece={one}>
              <a href={`/read/${one.slug}`} className="hover:underline">
                {one.title}
              </a>
            </Teaser>
          </li>
        ))}
      </ul>
      <p className="mt-8 flex justify-between font-sans text-13">
        {next ? (
          <a rel="next" href={`?after=${next}`} className="py-1 text-blue underline">
            Older
          </a>
        ) : (
          <span />
        )}
        <a href="/read/archive" className="py-1 text-blue underline">
          Everything, by month
        </a>
      </p>
    </>
  );
}

/** The months in which anything came out. */
export function ArchiveView({ months }: { months: readonly { month: string; name: string; pieces: number }[] }) {
  return (
    <>
      <h1 className="mb-6 font-serif text-[28px]/[34px]!">Everything, by month</h1>
      <ul className="font-sans">
        {months.map(({ month, name, pieces }) => (
          <li key={month} className="flex justify-between border-b border-rule py-2">
            <a href={`/read/archive/${month}`} className="hover:underline">
              {name}
            </a>
            <span className="text-13 text-rail">{counted(pieces, "piece")}</span>
          </li>
        ))}
      </ul>
      {months.length === 0 && <p className="text-19 text-rail">Nothing has been released yet.</p>}
    </>
  );
}
