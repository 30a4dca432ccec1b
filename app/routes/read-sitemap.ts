import { sitemap } from "#server/reader/sitemap.ts";
import type { Route } from "./+types/read-sitemap.ts";

export async function loader({ context }: Route.LoaderArgs) {
  return new Response(await sitemap(context.db, context.baseUrl), {
    headers: { "Content-Type": "application/xml; charset=utf-8" },
  });
}
