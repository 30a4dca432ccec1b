import { Outlet } from "react-router";
import { ClockOf } from "#app/views/time/clock.tsx";
import type { Route } from "../../routes/+types/reader.ts";

/** The reading page: quiet, in the publication's name, clearly not the workshop. */
export function ReaderView({ loaderData }: Route.ComponentProps) {
  return (
    <div className="min-h-screen bg-paper font-serif">
      <header className="mx-auto max-w-[72ch] px-5 pt-12 text-center">
        <a href="/read" className="text-[34px]/[40px] font-semibold tracking-tight">
          {loaderData.publication}
        </a>
        <hr className="mx-auto mt-6 w-16 border-ink" />
      </header>
      <main className="@container mx-auto max-w-[72ch] px-5 py-8">
        <ClockOf clock={loaderData.clock}>
          <Outlet />
        </ClockOf>
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
