import { notFound } from "#app/request.ts";
import { standInEntries } from "#server/standins/feed.ts";
import type { Route } from "./+types/standin-feed.ts";

/** The feed of an invented avalanche service, as an outside service gives one out. */
export function loader({ context, request }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  const { etag, atom } = standInEntries(context.now, context.baseUrl);
  if (request.headers.get("If-None-Match") === etag) return new Response(null, { status: 304 });
  return new Response(atom, { headers: { "Content-Type": "application/atom+xml; charset=utf-8", ETag: etag } });
}
