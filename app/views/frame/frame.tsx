import { Fragment, type ReactNode, useRef, useState } from "react";
import { Form, Link, NavLink, useLocation, useNavigation } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { later } from "#app/ui/later.tsx";
import { Menu, MenuAct, MenuChoice, MenuLink, MenuNote, MenuRule } from "#app/ui/layers.tsx";
import { Toasts } from "#app/ui/toast.tsx";
import { Tooltips } from "#app/ui/tooltip.tsx";
import { Unsaved } from "#app/views/piece/unsaved.tsx";
import { type Clock, ClockOf } from "#app/views/time/clock.tsx";
import type { Calendar } from "#core/time/calendar.ts";
import { useArrival } from "./arrival.ts";
import { DatesOf } from "./dates.tsx";
import { useFindKey } from "./find-key.ts";
import { Keys } from "./keys.tsx";
import { useLive } from "./live.ts";
import { DENSITIES, type Look, lookIn, showAs, THEMES } from "./look.ts";
import { Reaching, useScriptsAhead } from "./reaching.tsx";

/** What stands around every page of the workshop. */
export interface FrameData {
  publication: string;
  me: { id: string; name: string; roles: string };
  turn: { waiting: number; late: number };
  unread: number;
  places: { to: string; name: string }[];
  /** Kept ways of narrowing the pieces. */
  filters: { id: string; name: string; query: string }[];
  seenBy: string | null;
  standIns: boolean;
  /** Where the ledger ended when the page was asked for. */
  ledgerEnd: number;
  clock: Clock;
  calendar: Calendar;
}

const Find = later(async () => (await import("./find.tsx")).Find);

/** The slim bar, the places, and the page. */
export function FrameView({ frame, children }: { frame: FrameData; children: ReactNode }) {
  const { me, seenBy, unread } = frame;
  const standing = useLive(me.id, frame.ledgerEnd);
  useArrival();
  useFindKey();
  useScriptsAhead();
  return (
    <ClockOf clock={frame.clock} calendar={frame.calendar}>
      <DatesOf now={frame.clock.now} zone={frame.clock.zone} calendar={frame.calendar}>
        <Tooltips>
          <Toasts>
            <div className="insensible grid min-h-screen print:block grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_1fr] md:grid-cols-[152px_minmax(0,1fr)] md:grid-rows-[44px_1fr]">
              <a href="#main" className="sr-only focus:not-sr-only">
                To the page
              </a>
              <header className="flex h-11 items-center gap-3 border-b-2 border-ink px-4 sm:gap-4 md:col-span-2 md:px-5">
                <Link to="/turn" className="truncate font-bold tracking-tight [font-stretch:110%]">
                  {frame.publication}
                </Link>
                <OnTheWay />
                <Find />
                <Link to="/notices" className={`whitespace-nowrap text-13 ${unread ? "font-semibold text-blue" : ""}`}>
                  {unread || <span className="max-sm:sr-only">No</span>}
                  <span className="max-sm:sr-only"> {unread === 1 ? "notice" : "notices"}</span>
                  {unread > 0 && <span className="sm:hidden">&nbsp;new</span>}
                </Link>
                <AccountMenu me={me} seenBy={seenBy} standIns={frame.standIns} />
              </header>
              {seenBy && <SeeingAs name={me.name} />}
              <Places places={frame.places} turn={frame.turn} filters={frame.filters} />
              <main id="main" tabIndex={-1} className={`min-w-0 outline-none ${seenBy ? "pb-10" : ""}`}>
                {standing === "signed out" && <SignedOut />}
                <Unsaved />
                {children}
              </main>
            </div>
            <Keys />
            <Reaching />
          </Toasts>
        </Tooltips>
      </DatesOf>
    </ClockOf>
  );
}

/** Says that another page, or what became of an act, is on its way. */
function OnTheWay() {
  const busy = useNavigation().state !== "idle";
  return (
    <span role="status" className={`hidden whitespace-nowrap text-13 text-rail sm:block ${busy ? "" : "invisible"}`}>
      one moment …
    </span>
  );
}

/** Who one is here, how the pages look, and the way out. */
function AccountMenu({ me, seenBy, standIns }: Pick<FrameData, "me" | "seenBy" | "standIns">) {
  const out = useRef<HTMLFormElement>(null);
  const [look, setLook] = useState<Look>({ theme: "system", density: "close" });
  const show = (part: Partial<Look>) => {
    const next = { ...look, ...part };
    setLook(next);
    showAs(next);
  };
  return (
    <>
      <Menu
        trigger={
          <Button
            type="button"
            look="bare"
            // What the browser keeps is read as the menu opens.
            onPointerDown={() => setLook(lookIn(document.cookie))}
            onKeyDown={() => setLook(lookIn(document.cookie))}
            className={`max-w-40 truncate whitespace-nowrap text-13 font-bold ${seenBy ? "rounded bg-blue px-2 py-1 text-paper" : ""}`}
          >
            {seenBy ? `seeing as ${me.name}` : me.name}
          </Button>
        }
      >
        <MenuNote>{me.roles || "no role"}</MenuNote>
        <MenuRule />
        <MenuLink to="/me">You: days away, password, sessions</MenuLink>
        <MenuLink to="/notices/how">How you are told; your calendar file</MenuLink>
        <MenuLink to="/read" outside>
          Reader site
        </MenuLink>
        {standIns && (
          <>
            <MenuLink to="/standins/post" outside>
              Mail stand-in
            </MenuLink>
            <MenuLink to="/standins/chat" outside>
              Chat stand-in
            </MenuLink>
            <MenuLink to="/standins/assistant/manner" outside>
              Assistant (stand-in)
            </MenuLink>
            <MenuLink to="/standins/clock" outside>
              Clock stand-in
            </MenuLink>
          </>
        )}
        <MenuRule />
        <MenuChoice
          label="Colours"
          value={look.theme}
          choices={THEMES}
          onChoose={(theme) => show({ theme: theme as Look["theme"] })}
        />
        <MenuChoice
          label="Rows"
          value={look.density}
          choices={DENSITIES}
          onChoose={(density) => show({ density: density as Look["density"] })}
        />
        <MenuRule />
        <MenuAct onAct={() => out.current?.requestSubmit()}>Sign out</MenuAct>
      </Menu>
      <Form ref={out} method="post" action="/sign-out" reloadDocument hidden />
    </>
  );
}

function Places({ places, turn, filters }: Pick<FrameData, "places" | "turn" | "filters">) {
  const { pathname, search } = useLocation();
  return (
    <nav
      aria-label="Places"
      className="flex overflow-x-auto border-b border-rule md:block md:border-b-0 md:border-r md:py-4"
    >
      {places.map((place) => (
        <Fragment key={place.to}>
          <NavLink
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
          {place.to === "/pieces" &&
            filters.map(({ id, name, query }) => {
              const here = pathname === "/pieces" && search === `?${query}`;
              return (
                <Link
                  key={id}
                  to={`/pieces?${query}`}
                  aria-current={here ? "page" : undefined}
                  className={`block min-h-6 truncate py-0.5 pl-4 pr-3 text-13 md:pl-8 ${here ? "font-semibold text-blue" : "text-rail hover:text-blue"}`}
                >
                  {name}
                </Link>
              );
            })}
        </Fragment>
      ))}
    </nav>
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
      <Button look="bare" name="intent" value="leave" className="rounded border border-paper px-2 font-semibold">
        Leave <kbd className="font-normal">(key L)</kbd>
      </Button>
    </Form>
  );
}
