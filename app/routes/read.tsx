import { ReadView } from "#app/views/reader/list.tsx";
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

export default function Read(props: Route.ComponentProps) {
  return <ReadView {...props} />;
}
