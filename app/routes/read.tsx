import { Link } from "react-router";
import { Teaser } from "#app/views/reader/article.tsx";
import { filesBelow } from "#core/text/html.ts";
import { listReleased } from "#server/reader/queries.ts";
import { teased } from "#server/reader/shown.ts";
import type { Route } from "./+types/read.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const pieces = await listReleased(context.db);
  return {
    pieces: pieces.map((one) => ({ slug: one.slug, ...teased(one, filesBelow(`/read/${one.slug}`)) })),
  };
}

export const meta: Route.MetaFunction = ({ matches }) => [
  { title: (matches[1]?.loaderData as { publication?: string } | undefined)?.publication ?? "Read" },
];

export default function Read({ loaderData }: Route.ComponentProps) {
  const { pieces } = loaderData;
  if (pieces.length === 0) return <p className="text-center text-19 text-rail">Nothing has been released yet.</p>;
  return (
    <ul className="space-y-7">
      {pieces.map((one) => (
        <li key={one.slug}>
          <Teaser piece={one}>
            <Link to={`/read/${one.slug}`} className="hover:underline">
              {one.title}
            </Link>
          </Teaser>
        </li>
      ))}
    </ul>
  );
}
