import { ReaderView } from "#app/views/reader/page.tsx";
import { masthead } from "#server/reader/queries.ts";
import type { Route } from "./+types/reader.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const { name, zone } = await masthead(context.db);
  return { publication: name, clock: { now: context.now, zone } };
}

export const meta: Route.MetaFunction = () => [
  { tagName: "link", rel: "alternate", type: "application/atom+xml", href: "/read/feed.atom" },
  { tagName: "link", rel: "alternate", type: "application/feed+json", href: "/read/feed.json" },
];

export default function Reader(props: Route.ComponentProps) {
  return <ReaderView {...props} />;
}
