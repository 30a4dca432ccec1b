import { Link } from "react-router";
import { Teaser } from "#app/views/reader/article.tsx";
import type { Route } from "../../routes/+types/read.ts";

/** What is released, newest first. */
export function ReadView({ loaderData }: Route.ComponentProps) {
  const { pieces } = loaderData;
  if (pieces.length === 0) return <p className="text-center text-19 text-rail">Nothing has been released yet.</p>;
  return (
    <>
      <h1 className="sr-only">What is released</h1>
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
    </>
  );
}
