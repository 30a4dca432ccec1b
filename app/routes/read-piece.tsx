import { data } from "react-router";
import { notFound } from "#app/request.ts";
import { Article, Withdrawn } from "#app/views/reader/article.tsx";
import { filesBelow } from "#core/text/html.ts";
import { readersPiece } from "#server/reader/piece.ts";
import { readReleased, readWithdrawn } from "#server/reader/queries.ts";
import type { Route } from "./+types/read-piece.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const one = await readReleased(context.db, params.slug);
  if (one) return data({ piece: await readersPiece(context.db, one, filesBelow(`/read/${one.slug}`)), gone: null });
  const gone = await readWithdrawn(context.db, params.slug);
  if (!gone) throw notFound();
  return data({ piece: null, gone }, { status: 410 });
}

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData?.piece?.title ?? "Read" },
  ...(loaderData?.gone ? [{ name: "robots", content: "noindex" }] : []),
];

export default function ReadPiece({ loaderData: { piece, gone } }: Route.ComponentProps) {
  return piece ? <Article piece={piece} /> : gone && <Withdrawn {...gone} />;
}
