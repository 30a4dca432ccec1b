import { notFound } from "#app/request.ts";
import { Article } from "#app/views/reader/article.tsx";
import { filesBelow } from "#core/text/html.ts";
import { readersPiece } from "#server/reader/piece.ts";
import { readReleased } from "#server/reader/queries.ts";
import type { Route } from "./+types/read-piece.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const one = await readReleased(context.db, params.slug);
  if (!one) throw notFound();
  return readersPiece(context.db, one, filesBelow(`/read/${one.slug}`));
}

export const meta: Route.MetaFunction = ({ loaderData }) => [{ title: loaderData?.title ?? "Read" }];

export default function ReadPiece({ loaderData: piece }: Route.ComponentProps) {
  return <Article piece={piece} />;
}
