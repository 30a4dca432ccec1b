import { type ReactNode, useRef } from "react";
import { Link } from "react-router";
import { ButtonLink, TextLink } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { useLastList } from "#app/views/frame/arrival.ts";
import { Strip } from "#app/views/line/strip.tsx";
import { When } from "#app/views/time/clock.tsx";
import { ERRANDS } from "#core/assist/errand.ts";
import type { Refusal } from "#core/refusal.ts";
import { list } from "#core/words/say.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import { Brought } from "./brought.tsx";
import { Commission } from "./commission.tsx";
import type { Draft } from "./draft.ts";
import { type PanelProps, Since } from "./framed.tsx";
import type { PiecePage } from "./page.ts";
import { Turn } from "./whose-turn.tsx";

/** Above the text: the piece's way, what can happen next, whose turn it is, and whether the text is safe. */
export function Head({ page, draft, answer }: Pick<PanelProps, "page" | "answer"> & { draft: Draft }) {
  const { row, decision } = page;
  const back = useLastList();
  const to = `/pieces/${row.slug}`;
  return (
    <div className="border-b border-ink px-4 py-4 md:px-6">
      <p className="mb-2 text-13 text-rail">
        <Link data-back to={back.to} className="hover:text-blue">
          {back.name}
        </Link>{" "}
        / {row.section} / {row.kind} ·{" "}
        {page.configure ? (
          <Link
            to={`${to}?do=line`}
            preventScrollReset
            title="Put it on another line"
            className="underline underline-offset-3 hover:text-blue"
          >
            {page.workflow}
          </Link>
        ) : (
          page.workflow
        )}
        {page.invites && !row.private && (
          <>
            {" · "}
            <Link to={`${to}?do=guests`} preventScrollReset className="underline underline-offset-3 hover:text-blue">
              {page.guests.length === 0
                ? "no guests"
                : page.guests.length === 1
                  ? "1 guest"
                  : `${page.guests.length} guests`}
            </Link>
          </>
        )}
        {page.next && <Next next={page.next} />}
      </p>
      <div className="grid items-start gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,1fr)_auto]">
        <div className="max-w-160 overflow-x-auto">
          <div className="min-w-80">
            <Strip stops={row.stops} seats={row.seats} likely={row.likely} names />
          </div>
        </div>
        <div className="flex max-w-120 flex-wrap gap-2 lg:justify-end">
          {page.steps.map((step, i) =>
            step.refusal ? (
              <Closed
                key={step.key}
                name={step.name}
                refusal={step.refusal}
                why={whyAt(row.slug, `step:${step.key}`, `step-${step.key}`)}
              />
            ) : (
              <ButtonLink
                key={step.key}
                look={i === 0 && !decision && !page.schedulable ? "go" : "plain"}
                to={`${to}?do=step-${step.key}`}
                preventScrollReset
              >
                {step.name}
              </ButtonLink>
            ),
          )}
          {page.schedulable && (
            <ButtonLink
              look={page.plan && !page.plan.confirmable ? "plain" : "go"}
              to={`${to}?do=plan`}
              preventScrollReset
            >
              {page.plan ? (page.plan.confirmable ? "Confirm the date" : "Change the plan") : "Plan the release"}
            </ButtonLink>
          )}
          {page.planClosed && (
            <Closed name="Plan the release" refusal={page.planClosed} why={whyAt(row.slug, "piece.schedule")} />
          )}
          {page.decideClosed && (
            <Closed name="Decide" refusal={page.decideClosed} why={whyAt(row.slug, "review.decide", "decide")} />
          )}
          {decision && (
            <ButtonLink look="go" to={`${to}?do=decide`} preventScrollReset title="a" data-key="a">
              {decision.decided ? "Decide anew" : "Decide"}
            </ButtonLink>
          )}
          <ButtonLink look="quiet" to={`${to}?do=more`} preventScrollReset>
            What else
          </ButtonLink>
        </div>
      </div>
      <div className="mt-3 flex flex-wrap items-end justify-between gap-x-8 gap-y-1">
        <p className="max-w-160">
          <Turn page={page} /> <Since page={page} keys="d" />
        </p>
        <Heard draft={draft} />
        <p className="text-13 text-rail">
          version {draft.version} · <Saved page={page} draft={draft} />
          {" · "}
          <Link to={`${to}/preview`} className="underline underline-offset-3 hover:text-blue">
            preview
          </Link>
          {" · "}
          <Link to={`${to}?do=take`} preventScrollReset className="underline underline-offset-3 hover:text-blue">
            take along
          </Link>
          {!page.editable && (
            <>
              {" · "}
              <Link to={whyAt(row.slug, "piece.edit")} className="underline underline-offset-3 hover:text-blue">
                read only: why?
              </Link>
            </>
          )}
        </p>
      </div>
      <Commission page={page} answer={answer} />
      <Brought page={page} />
      <Assisted page={page} />
      {page.cameBack && (
        <div role="note" className="mt-3 border-l-3 border-yellow bg-paper py-1.5 pl-3 text-13">
          <p className="font-semibold">It came back from {page.cameBack.from}.</p>
          {page.cameBack.said.map(({ who, note }) => (
            <p key={`${who} ${note}`} className="whitespace-pre-line break-words">
              {note ? `“${note}”` : "Without a note"} <span className="text-rail">{who}</span>
            </p>
          ))}
        </div>
      )}
      {page.row.stateKind === "ready" && page.fileProblems.length > 0 && (
        <div className="mt-3">
          <Message more={page.fileProblems.map((problem) => problem.sentence)}>
            It cannot reach readers with its files as they are.
          </Message>
        </div>
      )}
      {page.round?.stuck && (
        <Notice to={page.routing ? `${to}?do=pass` : null} lead="Mend it">
          The review is stuck. {page.round.stuck}
        </Notice>
      )}
      {page.plan && page.plan.holds.length > 0 && (
        <div className="mt-3">
          <Message more={page.plan.holds}>
            The release {page.plan.status === "proposed" ? "proposed" : "planned"} for <When at={page.plan.at} />{" "}
            {page.plan.status === "held" ? "is held." : "will be held."}
          </Message>
        </div>
      )}
      {page.withdrawn !== null && row.live === null && (
        <p className="mt-3 border-l-3 border-track pl-3 text-13">
          It was taken away from readers, who find: “{page.withdrawn}”
        </p>
      )}
      {page.overriddenAt !== null && (
        <p className="mt-3 border-l-3 border-track pl-3 text-13">
          <b className="font-semibold">Moved past its rules</b> <When at={page.overriddenAt} />
          {page.overridden && (
            <>
              {" "}
              by {page.overridden.who}: {page.overridden.words}. “{page.overridden.note}”
            </>
          )}
        </p>
      )}
    </div>
  );
}

/** What an assistant brought that nobody took or left, and whose words the text began with. */
function Assisted({ page: { assisted, row } }: { page: PiecePage }) {
  const { waits, taken } = assisted;
  const what = (one: (typeof waits)[number]) => `${ERRANDS[one.errand].name} by ${one.name}`;
  return (
    <>
      {waits.length > 0 && (
        <p className="mt-3 border-l-3 border-yellow bg-paper py-1.5 pl-3 text-13">
          {list(waits.map(what))} {waits.length === 1 ? "waits" : "wait"} for a person.{" "}
          <TextLink to={`/pieces/${row.slug}/assistant?errand=${waits[0]?.id}`}>Look at it</TextLink>
        </p>
      )}
      {taken.length > 0 && (
        <p className="mt-2 text-13 text-rail">
          {taken.map((one) => (
            <span key={one.id}>
              {what(one)}, taken by {one.endedBy} {one.endedAt !== null && <When at={one.endedAt} />}.{" "}
            </span>
          ))}
          <TextLink to={`/pieces/${row.slug}/assistant`}>What it was sent</TextLink>
        </p>
      )}
    </>
  );
}

/** The next thing that waits on one, so that ten in a row are ten; Shift J goes there. */
const Next = ({ next }: { next: NonNullable<PiecePage["next"]> }) => (
  <span className="float-right max-w-full truncate pl-4">
    Next on your turn:{" "}
    <Link
      data-key="J"
      to={`/pieces/${next.slug}${next.asked === "decide" ? "?do=decide" : ""}`}
      title="Shift J"
      className="font-semibold text-blue hover:underline"
    >
      {next.title} →
    </Link>
  </span>
);

/** What is said aloud of saving: only that it fails, and once that it works again. */
function Heard({ draft: { state } }: { draft: Draft }) {
  const failed = useRef(false);
  const fails = state.kind === "kept" || state.kind === "refused" || state.kind === "apart";
  if (fails) failed.current = true;
  const says = fails
    ? `Not saved${state.kind === "kept" ? `: ${state.reason}` : ""}. What you wrote is kept here.`
    : failed.current && state.kind === "saved"
      ? "Saved again."
      : "";
  return (
    <p role="status" className="sr-only">
      {says}
    </p>
  );
}

/** @param wanted what is done instead where it is open by then */
const whyAt = (slug: string, action: string, wanted?: string) =>
  `/why?piece=${slug}&action=${action}${wanted ? `&do=${wanted}` : ""}`;

/** Something that is amiss, with the way to mend it for who may. */
function Notice({ to, lead, children }: { to: string | null; lead: string; children: ReactNode }) {
  return (
    <div className="mt-3">
      <Message>
        {children}
        {to && (
          <>
            {" "}
            <Link to={to} className="text-blue underline">
              {lead}
            </Link>
          </>
        )}
      </Message>
    </div>
  );
}

const SHORT: Record<string, string> = {
  fields: "fields not complete",
  checklist: "checklist open",
  "comments-open": "comments open",
  "not-yours": "not yours",
  "not-granted": "not granted",
  "not-author": "not by the author",
  "may-not-release": "not yours to let out",
  "not-your-turn": "not your turn",
  "no-seat": "no seat",
  "round-closed": "no review open",
  "no-such-move": "no step leads out",
};

/** What is closed stays visible, with its reason and who could; it leads to the whole of why. */
function Closed({ name, refusal, why }: { name: string; refusal: Refusal; why: string }) {
  const short = SHORT[refusal.code] ?? "not now";
  const reason = [
    refusal.sentence,
    refusal.missing?.join("; "),
    refusal.who?.length ? `Open to: ${list(refusal.who)}.` : "",
  ]
    .filter(Boolean)
    .join(" ");
  return (
    <Link
      to={why}
      aria-label={`${name} · ${short}, closed: ${reason} Why?`}
      className="group relative inline-flex h-7 items-center whitespace-nowrap rounded border border-rule px-3 text-13 font-semibold text-rail"
    >
      {name}
      <span aria-hidden="true" className="font-normal">
        &nbsp;· {short}
      </span>
      <span
        aria-hidden="true"
        className="pointer-events-none absolute right-0 top-8 z-20 hidden w-64 whitespace-normal border-2 border-ink bg-paper p-2 text-left font-normal text-ink group-hover:block group-focus:block"
      >
        {reason} <span className="font-semibold text-blue">Why?</span>
      </span>
    </Link>
  );
}

function Saved({ page, draft }: { page: PiecePageData; draft: Draft }) {
  const { state } = draft;
  if (!page.editable)
    return (
      <>
        saved by {page.version.author}, <When at={page.version.at} />
      </>
    );
  if (state.kind === "saved")
    return (
      <>
        saved <When at={state.at ?? page.version.at} />
      </>
    );
  if (state.kind === "kept") return <b className="text-red">not saved: {state.reason}, kept here</b>;
  if (state.kind === "refused") return <b className="text-red">not saved, kept here</b>;
  return <>saving …</>;
}
