import { Form, Link, useNavigation, useSearchParams } from "react-router";
import type { FoundDays } from "#app/away-form.ts";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { DayInput } from "#app/ui/date-field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Leaving, Waiting } from "#server/people/leaving.ts";
import type { HeldRow, PersonPage } from "#server/people/queries.ts";
import { DaysAway } from "./days-away.tsx";
import { ASKED, EndAccess } from "./end-access.tsx";
import { type Choices, GrantFields } from "./grant-fields.tsx";
import { Refused } from "./refused.tsx";

interface Props {
  page: PersonPage;
  choices: Choices;
  people: { id: string; key: string; name: string; away: boolean }[];
  waiting: Waiting[];
  remains: Leaving | null;
  self: boolean;
  mayLook: boolean;
  answer: FormAnswer | FoundDays | null;
}

/** One person: what they hold, through what and until when; their days away; what can be done about them. */
export function PersonView(props: Props) {
  const { page, choices, people, waiting, remains, self, mayLook, answer } = props;
  const busy = useNavigation().state !== "idle";
  const [words] = useSearchParams();
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_332px]">
      <div className="min-w-0 px-4 py-5 md:px-6">
        <p className="mb-1 text-13 text-rail">
          <Link data-back to="/people" className="hover:text-blue">
            People
          </Link>{" "}
          / {page.email}
        </p>
        <div className="flex flex-wrap items-start gap-2">
          <h1 className="mr-auto min-w-0 break-words">{page.name}</h1>
          <ButtonLink to={`/why?person=${page.key}`}>Why?</ButtonLink>
          {mayLook && (
            <Form method="post" action="/see-as" reloadDocument>
              <Button name="person" value={page.id}>
                See as {page.name.split(" ")[0]}
              </Button>
            </Form>
          )}
          {page.active && !self && !remains && <ButtonLink to="?do=end">End their access</ButtonLink>}
        </div>
        <Standing page={page} busy={busy} answer={answer} />
        {remains ? (
          <EndAccess page={page} remains={remains} people={people} answer={answer} />
        ) : (
          <>
            <Holds page={page} answer={answer} busy={busy} ending={words.get("grant")} />
            <WaitsOn waiting={waiting} />
          </>
        )}
      </div>
      {page.active && !remains && (
        <aside className="space-y-8 border-rule px-4 py-5 lg:border-l">
          <Give answer={answer} choices={choices} busy={busy} />
          <DaysAway page={page} people={people} answer={answer} />
        </aside>
      )}
    </div>
  );
}

function Standing({ page, busy, answer }: { page: PersonPage; busy: boolean; answer: FormAnswer | null }) {
  return (
    <div className="mt-2 text-13">
      {!page.active ? (
        <ActForm intent="restore" answer={answer} className="flex flex-wrap items-center gap-3">
          <p className="font-semibold">Access ended {page.endedAt && <When at={page.endedAt} />}.</p>
          <Button busy={busy}>Let them in again</Button>
        </ActForm>
      ) : page.invited ? (
        <ActForm intent="again" answer={answer} className="flex flex-wrap items-center gap-3">
          <p>
            Invited, not here yet.{" "}
            {page.invitedUntil ? (
              <>
                The link is good until <When at={page.invitedUntil} />.
              </>
            ) : (
              "No link of theirs is good any more."
            )}
          </p>
          <Button busy={busy}>Send another</Button>
          {answer?.intent === "again" && !answer.refusal && <span role="status">It is on its way.</span>}
        </ActForm>
      ) : (
        <>
          <p className="text-rail">
            {page.awayNow ? "Away today. " : ""}
            {page.secondFactor ? "Signs in with a second factor." : "Signs in with a password alone."}
          </p>
          <Lost page={page} busy={busy} answer={answer} />
        </>
      )}
    </div>
  );
}

/** For the day a machine or an authenticator of theirs is lost. */
function Lost({ page, busy, answer }: { page: PersonPage; busy: boolean; answer: FormAnswer | null }) {
  const done = (intent: string) => answer?.intent === intent && !answer.refusal;
  return (
    <Fold
      summary="Lost a device?"
      className="mt-1"
      open={answer?.intent === "everywhere" || answer?.intent === "factors"}
    >
      <Refused answer={answer} intent="everywhere" />
      <Refused answer={answer} intent="factors" />
      <Form method="post" preventScrollReset className="mt-2 flex flex-wrap items-center gap-2">
        <Button name="intent" value="everywhere" busy={busy}>
          Sign them out everywhere
        </Button>
        {page.secondFactor && (
          <Button name="intent" value="factors" busy={busy}>
            Take their second factors away
          </Button>
        )}
        <span role="status" className="text-rail">
          {done("everywhere") && "They are signed out."}
          {done("factors") && "They are taken away, and they are signed out."}
        </span>
      </Form>
    </Fold>
  );
}

const WHEN = { now: "Held now", later: "Held later", over: "Over" } as const;

function Holds({
  page,
  answer,
  busy,
  ending,
}: {
  page: PersonPage;
  answer: FormAnswer | null;
  busy: boolean;
  ending: string | null;
}) {
  return (
    <div className="mt-5 space-y-6">
      {page.holds.every((one) => one.when === "over") && (
        <p className="text-rail">
          {page.active
            ? "They hold no role: they see only what they write themselves. Give one beside this."
            : "They hold nothing any more."}
        </p>
      )}
      <Refused answer={answer} intent="end-grant" shown={["until"]} />
      {(["now", "later", "over"] as const).map((when) => {
        const rows = page.holds.filter((one) => one.when === when);
        if (rows.length === 0) return null;
        return (
          <section key={when} aria-label={WHEN[when]}>
            <h2 className="border-b border-ink pb-1">{WHEN[when]}</h2>
            <ul>
              {rows.map((one) => (
                <Held
                  key={one.id}
                  one={one}
                  busy={busy}
                  open={ending === one.id}
                  answer={answer}
                  active={page.active}
                />
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

function Held({
  one,
  busy,
  open,
  answer,
  active,
}: {
  one: HeldRow;
  busy: boolean;
  open: boolean;
  answer: FormAnswer | null;
  active: boolean;
}) {
  const period = [one.from !== null && one.when === "later" ? "from" : "", one.until !== null ? "until" : ""];
  const errors = fieldErrors(answer, "end-grant");
  return (
    <li
      data-row
      className={`border-b border-rule py-1.5 focus-within:bg-wash ${one.when === "over" ? "text-rail" : ""}`}
    >
      <div className="flex flex-wrap items-baseline gap-x-4">
        <span className="min-w-0 grow break-words">
          <b className="font-semibold">{one.role}</b> {one.words.slice(one.role.length)}
          {one.group && <span className="text-rail"> · through the group {one.group}</span>}
        </span>
        <span className="text-13 text-rail">
          {period[0] && (
            <>
              from <When at={one.from ?? 0} dateOnly />{" "}
            </>
          )}
          {period[1] ? (
            <>
              until <When at={(one.until ?? 1) - 1} dateOnly />
            </>
          ) : (
            "without an end"
          )}
        </span>
        {active && one.when !== "over" && !one.group && (
          <Link to={open ? "?" : `?grant=${one.id}`} preventScrollReset className="text-13 font-semibold text-blue">
            {open ? "Leave it" : "End it"}
          </Link>
        )}
        {one.group && (
          <Link to="/people/groups" className="text-13 font-semibold text-blue">
            The group
          </Link>
        )}
      </div>
      {one.covered && <p className="text-13 text-rail">Adds nothing while this is held: {one.covered}.</p>}
      {open && (
        <ActForm
          intent="end-grant"
          answer={answer}
          sends={{ grantId: one.id }}
          className="mt-1 flex flex-wrap items-center gap-2 pb-1 text-13"
        >
          <Button name="when" value="now" busy={busy}>
            End it now
          </Button>
          or
          <label className="flex items-center gap-2">
            after
            <DayInput look="small" name="until" />
          </label>
          <Button name="when" value="after" busy={busy}>
            Keep that day
          </Button>
          {one.until !== null && (
            <Button look="quiet" name="when" value="never" busy={busy}>
              Without an end
            </Button>
          )}
          {errors.until && <span className="text-red">{errors.until}</span>}
        </ActForm>
      )}
    </li>
  );
}

function WaitsOn({ waiting }: { waiting: readonly Waiting[] }) {
  if (waiting.length === 0) return null;
  return (
    <section aria-label="What waits on them" className="mt-6">
      <h2 className="border-b border-ink pb-1">What waits on them</h2>
      <ul>
        {waiting.map((one) => (
          <li
            key={one.sort + one.pieceId}
            data-row
            className="flex min-h-9 items-center gap-4 border-b border-rule focus-within:bg-wash"
          >
            <Link to={`/pieces/${one.slug}`} className="min-w-0 grow truncate hover:text-blue">
              {one.title}
            </Link>
            <span className="shrink-0 text-13 text-rail">{ASKED[one.sort]}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Give({ choices, answer, busy }: { choices: Choices; answer: FormAnswer | null; busy: boolean }) {
  const errors = fieldErrors(answer, "give");
  return (
    <section aria-label="Give a role">
      <h2 className="mb-3 text-15! font-bold">Give a role</h2>
      <ActForm intent="give" answer={answer}>
        <GrantFields choices={choices} errors={errors} />
        <Button look="go" busy={busy}>
          Give it
        </Button>
      </ActForm>
    </section>
  );
}
