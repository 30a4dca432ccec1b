import { Outlet } from "react-router";
import { type Clock, ClockOf } from "#app/views/time/clock.tsx";

/** What stands around the pages of whoever has no account: the publication's name, and nothing of the workshop. */
export function AskingView({ publication, clock }: { publication: string; clock: Clock }) {
  return (
    <div className="min-h-screen bg-paper">
      <header className="mx-auto max-w-160 px-5 pt-10">
        <a href="/read" className="font-serif text-[24px]/[30px] font-semibold tracking-tight">
          {publication}
        </a>
        <hr className="mt-4 w-16 border-ink" />
      </header>
      <main className="mx-auto max-w-160 px-5 py-8">
        <ClockOf clock={clock}>
          <Outlet />
        </ClockOf>
      </main>
    </div>
  );
}
