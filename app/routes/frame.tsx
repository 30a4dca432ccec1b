import { Form, Link, NavLink, Outlet, useNavigation } from "react-router";
import { requireViewer } from "#app/request.ts";
import { Find } from "#app/views/frame/find.tsx";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { Keys } from "#app/views/frame/keys.tsx";
import { useLive } from "#app/views/frame/live.ts";
import { open, PLACES } from "#app/views/frame/places.ts";
import { Unsaved } from "#app/views/piece/unsaved.tsx";
import { countTurn } from "#server/pieces/lists.ts";
import type { Route } from "./+types/frame.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const { unread, ...turn } = await countTurn(context.db, viewer);
  return {
    publication: viewer.places.name,
    me: {
      id: viewer.seenBy?.id ?? viewer.id,
      name: viewer.name,
      roles: [...new Set(viewer.grants.map((grant) => grant.roleName))].join(", "),
    },
    turn,
    unread,
    places: open(PLACES, viewer, viewer.now).map(({ to, name }) => ({ to, name })),
    seenBy: viewer.seenBy?.name ?? null,
    standIns: context.standIns,
    clock: { now: viewer.now, zone: viewer.zone, publicationZone: viewer.calendar.timeZone },
  };
}

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

export default function Frame({ loaderData }: Route.ComponentProps) {
  const standing = useLive(loaderData.me.id);
  useKept(clientLoader, loaderData);
  const busy = useNavigation().state !== "idle";
  const { publication, me, turn, unread, places, seenBy, standIns } = loaderData;
  return (
    <div className="grid min-h-screen print:block grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_1fr] md:grid-cols-[152px_minmax(0,1fr)] md:grid-rows-[44px_1fr]">
      <a href="#main" className="sr-only focus:not-sr-only">
        To the page
      </a>
      <header className="flex h-11 items-center gap-4 border-b-2 border-ink px-4 md:col-span-2 md:px-5">
        <Link to="/turn" className="truncate font-bold tracking-tight [font-stretch:110%]">
          {publication}
        </Link>
        <span role="status" className={`text-13 text-rail ${busy ? "" : "invisible"}`}>
          one moment …
        </span>
        <Find />
        <Link
          to="/notices"
          className={`ml-auto whitespace-nowrap text-13 sm:ml-0 ${unread ? "font-semibold text-blue" : ""}`}
        >
          {unread === 1 ? "1 notice" : `${unread || "No"} notices`}
        </Link>
        <details className="relative">
          <summary
            className={`list-none whitespace-nowrap text-13 font-bold ${seenBy ? "rounded bg-blue px-2 py-1 text-paper" : ""}`}
          >
            {seenBy ? `seeing as ${me.name}` : me.name}
          </summary>
          <div className="absolute right-0 top-7 z-20 w-56 border-2 border-ink bg-paper p-3 text-13 shadow-lg">
            <p className="mb-2 text-rail">{me.roles || "no role"}</p>
            <Link className="block py-1 hover:text-blue" to="/me">
              You: days away, password, sessions
            </Link>
            <a className="block py-1 hover:text-blue" href="/read">
              Reader site
            </a>
            {standIns && (
              <>
                <a className="block py-1 hover:text-blue" href="/standins/post">
                  Mail stand-in
                </a>
                <a className="block py-1 hover:text-blue" href="/standins/clock">
                  Clock stand-in
                </a>
              </>
            )}
            <Form method="post" action="/sign-out" reloadDocument>
              <button type="submit" className="py-1 font-semibold text-blue">
                Sign out
              </button>
            </Form>
          </div>
        </details>
      </header>
      {seenBy && <SeeingAs name={me.name} />}
      <nav
        aria-label="Places"
        className="flex overflow-x-auto border-b border-rule md:block md:border-b-0 md:border-r md:py-4"
      >
        {places.map((place) => (
          <NavLink
            key={place.to}
            to={place.to}
            className={({ isActive }) =>
              `flex justify-between gap-2 whitespace-nowrap border-b-4 px-4 py-1.5 md:border-b-0 md:border-l-4 md:pr-5 ${isActive ? "border-blue font-semibold text-blue" : "border-transparent hover:bg-platform"}`
            }
          >
            {place.name}
            {place.to === "/turn" && turn.waiting > 0 && (
              <span
                className={`text-13 ${turn.late ? "font-semibold text-red" : "text-rail"}`}
                title={turn.late ? `${turn.late} late` : undefined}
              >
                {turn.waiting}
              </span>
            )}
          </NavLink>
        ))}
      </nav>
      <main id="main" className={`min-w-0 ${seenBy ? "pb-10" : ""}`}>
        {standing === "signed out" && <SignedOut />}
        <Unsaved />
        <Outlet />
      </main>
      <Keys />
    </div>
  );
}

/** The session is over; what is on the page, typed or not, stays until there is one again. */
function SignedOut() {
  return (
    <p role="status" className="border-b border-rule bg-paper px-4 py-1.5 text-13 md:px-6">
      <span className="font-semibold text-red">You are signed out.</span> What you typed stays here:{" "}
      <a
        className="font-semibold text-blue underline underline-offset-2"
        href="/sign-in"
        target="_blank"
        rel="noreferrer"
      >
        sign in in another window
      </a>
      , then go on.
    </p>
  );
}

/** Clearly marked, and one key to leave it: nothing on the screen below is one's own. */
function SeeingAs({ name }: { name: string }) {
  return (
    <Form
      method="post"
      action="/see-as"
      reloadDocument
      data-leave
      className="fixed inset-x-0 bottom-0 z-30 flex items-center justify-center gap-4 bg-blue px-4 py-1.5 text-13 text-paper"
    >
      <span role="status">
        This is what <b className="font-semibold">{name}</b> sees. Nothing can be changed here.
      </span>
      <button type="submit" name="intent" value="leave" className="rounded border border-paper px-2 font-semibold">
        Leave <kbd className="font-normal">(key L)</kbd>
      </button>
    </Form>
  );
}
