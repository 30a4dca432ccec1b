import { notFound } from "#app/request.ts";
import { Article } from "#app/views/reader/article.tsx";
import { asReadersSee } from "#server/reader/feeds.ts";
import { readReleased } from "#server/reader/queries.ts";
import type { Route } from "./+types/read-piece.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const one = await readReleased(context.db, params.slug);
  if (!one) throw notFound();
  return asReadersSee(one, "/read");
}

export const meta: Route.MetaFunction = ({ loaderData }) => [{ title: loaderData?.title ?? "Read" }];

export default function ReadPiece({ loaderData: piece }: Route.ComponentProps) {
  return (
    <div className="@container">
      <Article piece={piece} />
    </div>
  );
}
