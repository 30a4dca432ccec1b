import { notFound } from "#app/request.ts";
import { Article } from "#app/views/reader/article.tsx";
import { filesBelow } from "#core/text/html.ts";
import { filesOf } from "#server/files/queries.ts";
import { readReleased } from "#server/reader/queries.ts";
import { asReadersSee } from "#server/reader/shown.ts";
import type { Route } from "./+types/read-piece.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const one = await readReleased(context.db, params.slug);
  if (!one) throw notFound();
  return asReadersSee(one, filesBelow(`/read/${one.slug}`), await filesOf(context.db, one.id));
}

export const meta: Route.MetaFunction = ({ loaderData }) => [{ title: loaderData?.title ?? "Read" }];

export default function ReadPiece({ loaderData: piece }: Route.ComponentProps) {
  return <Article piece={piece} />;
}
