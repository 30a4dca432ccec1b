import type { Route } from "./+types/robots.ts";

/** What machines that read may read (RFC 9309): the reader site, nothing of the workshop. */
export function loader({ context }: Route.LoaderArgs) {
  const lines = [
    "User-agent: *",
    "Allow: /read",
    "Disallow: /",
    "",
    `Sitemap: ${context.baseUrl}/read/sitemap.xml`,
    "",
  ];
  return new Response(lines.join("\n"), { headers: { "Content-Type": "text/plain; charset=utf-8" } });
}
