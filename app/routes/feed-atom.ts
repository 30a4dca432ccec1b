import { releasedFeed } from "#server/reader/feeds.ts";
import type { Route } from "./+types/feed-atom.ts";

export async function loader({ context }: Route.LoaderArgs) {
  return new Response(await releasedFeed(context.db, context.baseUrl, "atom"), {
    headers: { "Content-Type": "application/atom+xml; charset=utf-8" },
  });
}
