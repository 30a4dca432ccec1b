import { jsonFeed } from "#server/reader/feeds.ts";
import type { Route } from "./+types/feed-json.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const feed = await jsonFeed(context.db, context.baseUrl);
  return Response.json(feed, { headers: { "Content-Type": "application/feed+json; charset=utf-8" } });
}
