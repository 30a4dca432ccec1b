import { releasedFeed } from "#server/reader/feeds.ts";
import type { Route } from "./+types/feed-json.ts";

export async function loader({ context }: Route.LoaderArgs) {
  return new Response(await releasedFeed(context.db, context.baseUrl, "json"), {
    headers: { "Content-Type": "application/feed+json; charset=utf-8" },
  });
}
