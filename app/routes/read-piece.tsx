import { data, redirect } from "react-router";
import { pieceHead } from "#app/reader-head.ts";
import { notFound } from "#app/request.ts";
import { ReadPieceView } from "#app/views/reader/read-piece.tsx";
import { filesBelow } from "#core/text/html.ts";
import { inPlaceOf } from "#server/reader/in-place.ts";
import { readersPiece } from "#server/reader/piece.ts";
import { readReleased, readWithdrawn } from "#server/reader/queries.ts";
import type { Route } from "./+types/read-piece.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const [one, viewer] = await Promise.all([readReleased(context.db, params.slug), context.viewer()]);
  const here = viewer && (await inPlaceOf(context.db, viewer, params.slug));
  const more = here ? { here } : {};
  if (one) {
    const piece = await readersPiece(context.db, one, filesBelow(`/read/${one.slug}`));
    return data({ piece: { ...piece, slug: one.slug }, baseUrl: context.baseUrl, gone: null, ...more });
  }
  const gone = await readWithdrawn(context.db, params.slug);
  if (!gone) throw notFound();
  if (gone.instead) throw redirect(`/read/${gone.instead}`);
  return data({ piece: null, baseUrl: context.baseUrl, gone, ...more }, { status: 410 });
}

export const meta: Route.MetaFunction = ({ loaderData, matches }) => {
  if (loaderData?.piece) return pieceHead(loaderData.piece, loaderData.baseUrl, matches);
  return [{ title: "Read" }, ...(loaderData?.gone ? [{ name: "robots", content: "noindex" }] : [])];
};

export default function ReadPiece({ loaderData }: Route.ComponentProps) {
  const { piece, gone } = loaderData;
  const here = ("here" in loaderData && loaderData.here) || null;
  return <ReadPieceView piece={piece} slug={piece?.slug ?? null} gone={gone} here={here} />;
}
