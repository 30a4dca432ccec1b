import { notFound } from "#app/request.ts";
import { jsonFeed, placeIn } from "#server/reader/feeds.ts";
import type { Route } from "./+types/feed-json.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const after = placeIn(new URL(request.url).searchParams.get("after"));
  if (after === null) throw notFound();
  const feed = await jsonFeed(context.db, context.baseUrl, after);
  return Response.json(feed, { headers: { "Content-Type": "application/feed+json; charset=utf-8" } });
}
