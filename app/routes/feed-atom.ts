import { atomFeed } from "#server/reader/feeds.ts";
import type { Route } from "./+types/feed-atom.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const feed = await atomFeed(context.db, context.baseUrl);
  return new Response(feed, { headers: { "Content-Type": "application/atom+xml; charset=utf-8" } });
}
