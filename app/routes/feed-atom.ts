import { notFound } from "#app/request.ts";
import { atomFeed, placeIn } from "#server/reader/feeds.ts";
import type { Route } from "./+types/feed-atom.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const after = placeIn(new URL(request.url).searchParams.get("after"));
  if (after === null) throw notFound();
  const feed = await atomFeed(context.db, context.baseUrl, after);
  return new Response(feed, { headers: { "Content-Type": "application/atom+xml; charset=utf-8" } });
}
