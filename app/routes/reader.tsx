import { Link, Outlet } from "react-router";
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

/** The reading page: quiet, in the publication's name, clearly not the workshop. */
export default function Reader({ loaderData }: Route.ComponentProps) {
  return (
    <div className="min-h-screen bg-paper font-serif">
      <header className="mx-auto max-w-[72ch] px-5 pt-12 text-center">
        <Link to="/read" className="text-[34px]/[40px] font-semibold tracking-tight">
          {loaderData.publication}
        </Link>
        <hr className="mx-auto mt-6 w-16 border-ink" />
      </header>
      <main className="@container mx-auto max-w-[72ch] px-5 py-8">
        <Outlet />
      </main>
      <footer className="mx-auto max-w-[72ch] border-t border-rule px-5 py-6 font-sans text-13 text-rail">
        <a className="underline underline-offset-3" href="/read/feed.atom">
          Atom feed
        </a>{" "}
        ·{" "}
        <a className="underline underline-offset-3" href="/read/feed.json">
          JSON feed
        </a>
      </footer>
    </div>
  );
}
