import type { ReactNode } from "react";
import { When } from "#app/views/time/clock.tsx";
import type { ReaderPiece } from "#server/reader/piece.ts";
import type { Teased } from "#server/reader/shown.ts";

/** A piece as readers read it: on the reader site, and before it is there. */
export function Article({
  piece,
  title = piece.title,
  children,
}: {
  piece: ReaderPiece;
  /** Its title and its text, where they are shown with marks readers do not see. */
  title?: ReactNode;
  children?: ReactNode;
}) {
  return (
    <article>
      <p className="font-sans text-13 text-rail">
        {piece.section} · {piece.author}
        {piece.firstLiveAt !== null && (
          <>
            {" "}
            · <When at={piece.firstLiveAt} dateOnly />
          </>
        )}
        {piece.liveAt !== null && piece.liveAt !== piece.firstLiveAt && (
          <>
            , brought up to date <When at={piece.liveAt} dateOnly />
          </>
        )}
      </p>
      <h1 className="mt-1 break-words font-serif text-[36px]/[42px]">{title}</h1>
      {piece.standfirst && <p className="mt-4 text-[21px]/[31px] italic">{piece.standfirst}</p>}
      {piece.facts.length > 0 && (
        <dl className="mt-6 grid grid-cols-2 gap-x-8 gap-y-2 border-y border-ink py-3 font-sans text-13 @lg:grid-cols-3">
          {piece.facts.map((fact) => (
            <div key={fact.name}>
              <dt className="text-rail">{fact.name}</dt>
              <dd className="break-words font-semibold">
                {fact.href ? (
                  <a href={fact.href} className="text-blue underline">
                    {fact.value}
                  </a>
                ) : (
                  fact.value
                )}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {children ?? (
        // biome-ignore lint/security/noDangerouslySetInnerHtml: our own renderer, which escapes everything
        <div className="manuscript mt-6" dangerouslySetInnerHTML={{ __html: piece.html }} />
      )}
      {piece.corrections.length > 0 && (
        <ul aria-label="Corrections" className="mt-8 space-y-1 border-t border-rule pt-3 font-sans text-13">
          {piece.corrections.map(({ at, words }) => (
            <li key={at} className="break-words">
              Corrected <When at={at} dateOnly />: {words}
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}

/** A piece as a list of the reader site shows it. */
export function Teaser({
  piece,
  children,
}: {
  piece: Teased;
  /** Its title, as a link where there is somewhere to go. */
  children: React.ReactNode;
}) {
  const { picture } = piece;
  return (
    <div className={picture ? "grid gap-x-6 gap-y-3 @md:grid-cols-[minmax(0,1fr)_200px]" : ""}>
      <div>
        <p className="font-sans text-13 text-rail">
          {piece.section}
          {piece.firstLiveAt !== null && (
            <>
              {" "}
              · <When at={piece.firstLiveAt} dateOnly />
            </>
          )}
        </p>
        <h2 className="break-words font-serif text-[24px]/[30px]! font-semibold tracking-tight">{children}</h2>
        {piece.standfirst && <p className="mt-1 text-19">{piece.standfirst}</p>}
      </div>
      {picture && (
        <img
          src={picture.src}
          alt={picture.alt}
          loading="lazy"
          className="aspect-3/2 w-full object-cover max-@md:row-start-1"
        />
      )}
    </div>
  );
}

/** What readers find in place of a piece that was withdrawn. */
export function Withdrawn({ notice, at }: { notice: string; at: number }) {
  return (
    <article>
      <p className="font-sans text-13 text-rail">
        Withdrawn <When at={at} dateOnly />
      </p>
      <p className="mt-4 break-words text-[21px]/[31px]">{notice}</p>
    </article>
  );
}
