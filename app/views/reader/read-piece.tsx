import { lazy, Suspense } from "react";
import type { InPlace } from "#server/reader/in-place.ts";
import type { ReaderPiece } from "#server/reader/piece.ts";
import { Article, Withdrawn } from "./article.tsx";

/** Fetched by who is signed in to the workshop, and by no reader. */
const InPlaceBar = lazy(() => import("./in-place.tsx"));

/** A released piece, or what readers find in its place; above it what the workshop is told, where it looks. */
export function ReadPieceView({
  piece,
  slug,
  gone,
  here,
}: {
  piece: ReaderPiece | null;
  /** Its address on the reader site. */
  slug: string | null;
  gone: { notice: string; at: number } | null;
  here: InPlace | null;
}) {
  return (
    <>
      {here && (
        <div className="-mx-5 mb-8">
          <Suspense>
            <InPlaceBar here={here} look={null} />
          </Suspense>
        </div>
      )}
      {piece ? <Article piece={piece} /> : gone && <Withdrawn {...gone} />}
      {piece && slug && (
        <p className="mt-10 font-sans text-13">
          <a href={`/read/${slug}/say`} rel="nofollow" className="text-rail underline underline-offset-3">
            Something not right here?
          </a>
        </p>
      )}
    </>
  );
}
