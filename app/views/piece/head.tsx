import { Link } from "react-router";
import { ButtonLink } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import type { Step } from "#server/pieces/offers.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { Draft } from "./draft.ts";
import type { PiecePage } from "./page.ts";

/** Above the text: the piece's way, what can happen next, whose turn it is, and whether the text is safe. */
export function Head({ page, draft }: { page: PiecePage; draft: Draft }) {
  const { row, decision } = page;
  const to = `/pieces/${row.slug}`;
  return (
    <div className="border-b border-ink px-4 py-4 md:px-6">
      <p className="mb-2 text-13 text-rail">
        <Link data-back to="/pieces" className="hover:text-blue">
          Pieces
        </Link>{" "}
        / {row.section} / {row.kind} ·{" "}
        {page.configure ? (
          <Link
            to={`${to}?do=line`}
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
            <Link to={`${to}?do=guests`} className="underline underline-offset-3 hover:text-blue">
              {page.guests.length === 0
                ? "no guests"
                : page.guests.length === 1
                  ? "1 guest"
                  : `${page.guests.length} guests`}
            </Link>
          </>
        )}
      </p>
      <div className="grid items-start gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,1fr)_auto]">
        <div className="max-w-160 overflow-x-auto">
          <div className="min-w-80">
            <Strip stops={row.stops} seats={row.seats} names />
          </div>
        </div>
        <div className="flex max-w-120 flex-wrap gap-2 lg:justify-end">
          {page.steps.map((step, i) =>
            step.refusal ? (
              <Closed key={step.key} step={step} slug={row.slug} />
            ) : (
              <ButtonLink
                key={step.key}
                look={i === 0 && !decision && !page.schedulable ? "go" : "plain"}
                to={`${to}?do=step-${step.key}`}
              >
                {step.name}
              </ButtonLink>
            ),
          )}
          {page.schedulable && (
            <ButtonLink look={page.plan ? "plain" : "go"} to={`${to}?do=plan`}>
              {page.plan ? "Change the plan" : "Plan the release"}
            </ButtonLink>
          )}
          {decision && (
            <ButtonLink look="go" to={`${to}?do=decide`}>
              {decision.decided ? "Decide anew" : "Decide"}
            </ButtonLink>
          )}
        </div>
      </div>
      <div className="mt-3 flex flex-wrap items-end justify-between gap-x-8 gap-y-1">
        <p className="max-w-160">
          <Turn page={page} />
        </p>
        <p role="status" className="text-13 text-rail">
          version {draft.version} · <Saved page={page} draft={draft} />
          {" · "}
          <Link to={`${to}/preview`} className="underline underline-offset-3 hover:text-blue">
            preview
          </Link>
          {" · "}
          <Link to={`${to}?do=take`} className="underline underline-offset-3 hover:text-blue">
            take along
          </Link>
          {!page.editable && (
            <>
              {" · "}
              <Link
                to={`/why?piece=${row.slug}&action=piece.edit`}
                className="underline underline-offset-3 hover:text-blue"
              >
                read only: why?
              </Link>
            </>
          )}
        </p>
      </div>
      {page.row.stateKind === "ready" && page.fileProblems.length > 0 && (
        <div className="mt-3">
          <Message more={page.fileProblems.map((problem) => problem.sentence)}>
            It cannot reach readers with its files as they are.
          </Message>
        </div>
      )}
      {page.plan?.status === "held" && (
        <div className="mt-3">
          <Message more={page.plan.holds.map((hold) => hold.sentence)}>
            The release planned for <When at={page.plan.at} /> is held.
          </Message>
        </div>
      )}
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
};

/** A step that cannot be taken stays visible, with its reason and who could; it leads to the whole of why. */
function Closed({ step, slug }: { step: Step; slug: string }) {
  const { refusal } = step;
  const short = (refusal && SHORT[refusal.code]) ?? "not now";
  const reason = [
    refusal?.sentence,
    refusal?.missing?.join("; "),
    refusal?.who?.length ? `Open to: ${refusal.who.join(", ")}.` : "",
  ]
    .filter(Boolean)
    .join(" ");
  return (
    <Link
      to={`/why?piece=${slug}&action=step:${step.key}`}
      aria-label={`${step.name} · ${short}, closed: ${reason} Why?`}
      className="group relative inline-flex h-7 items-center whitespace-nowrap rounded border border-rule px-3 text-13 font-semibold text-rail"
    >
      {step.name}
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

/** One sentence: whose turn it is, since when, by when. */
function Turn({ page }: { page: PiecePageData }) {
  const { row, round, decision, plan } = page;
  const { now } = useClock();
  const asked =
    round?.seats
      .filter((seat) => seat.status === "open")
      .map((seat) => (seat.for ? `${seat.person} for ${seat.for}` : seat.person)) ?? [];
  const flags = round?.seats.flatMap((seat) => (seat.flag ? [seat.flag] : [])) ?? [];
  const whose =
    decision && !decision.decided
      ? `Your turn${decision.for ? `, for ${decision.for}` : ""}`
      : asked.length > 0
        ? `${asked.join(", ")} to decide`
        : row.stateKind === "live"
          ? "Live"
          : row.stateKind === "writing"
            ? `With ${row.author}`
            : `In ${row.state}`;
  const rule =
    round &&
    {
      any: "the first answer decides",
      all: "all must approve",
      count: `${round.count} approvals are asked`,
      "in-order": "one after another",
    }[round.rule];
  return (
    <>
      <b className="font-semibold">{whose}</b> since <When at={row.since} />
      {row.dueAt && (
        <>
          ,{" "}
          <span className={row.dueAt < now ? "font-semibold text-red" : ""}>
            due <When at={row.dueAt} />
          </span>
        </>
      )}
      {rule && `; ${rule}`}.{flags.map((flag) => ` ${flag}.`)}
      {plan?.status === "planned" ? (
        <>
          {" "}
          Goes live <When at={plan.at} />.
        </>
      ) : (
        row.publishAt && (
          <>
            {" "}
            Wished for <When at={row.publishAt} />.
          </>
        )
      )}
      {page.revised && page.live !== null && (
        <>
          {" "}
          A revision: readers go on seeing{" "}
          <Link
            to={`/pieces/${row.slug}/versions?from=${page.live}&to=${page.version.number}`}
            className="underline underline-offset-3 hover:text-blue"
          >
            version {page.live}
          </Link>{" "}
          until this is released
          {page.abandonable && (
            <>
              {", or "}
              <Link to={`/pieces/${row.slug}?do=abandon`} className="underline underline-offset-3 hover:text-blue">
                give it up
              </Link>
            </>
          )}
          .
        </>
      )}
      {row.private && " Only you see it until it is sent."}
    </>
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
