import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { PickField } from "#app/ui/combobox.tsx";
import { TextField } from "#app/ui/field.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Pending } from "#server/people/second-factor.ts";
import type { SessionRow } from "#server/people/sessions.ts";
import { Refused } from "./refused.tsx";
import { Authenticator, RecoveryCodes } from "./second-factor.tsx";

interface Asked {
  answer: FormAnswer | null;
  busy: boolean;
}

const went = (answer: FormAnswer | null, intent: string) =>
  answer?.intent === intent && !answer.refusal && Object.keys(answer.fields).length === 0;

const Title = ({ children }: { children: string }) => (
  <h2 className="mb-3 border-b border-ink pb-1 text-15! font-bold">{children}</h2>
);

/** A new password, the present one given. */
export function Password({ answer, busy }: Asked) {
  const done = went(answer, "password");
  return (
    <section aria-label="Password">
      <Title>Password</Title>
      <ActForm intent="password" answer={answer} empties className="max-w-80 space-y-3">
        <TextField label="Your present password" name="old" type="password" autoComplete="current-password" required />
        <TextField
          label="A new one"
          name="password"
          type="password"
          autoComplete="new-password"
          required
          hint="At least ten characters."
        />
        <Button busy={busy}>Change it</Button>
        {done && (
          <p role="status" className="text-13">
            It is changed. Every other session of yours has ended.
          </p>
        )}
      </ActForm>
    </section>
  );
}

/** Setting the second factor up, or taking it away. */
export function SecondFactor({
  has,
  demanded,
  pending,
  codes,
  answer,
  busy,
}: Asked & { has: boolean; demanded: boolean; pending: Pending | null; codes: readonly string[] | null }) {
  const errors = fieldErrors(answer, "set-up");
  return (
    <section aria-label="Second factor">
      <Title>Second factor</Title>
      {codes && <RecoveryCodes codes={codes} />}
      {pending ? (
        <ActForm intent="set-up" answer={answer} className="max-w-80 space-y-3">
          <Authenticator pending={pending} why="From then on each sign-in asks for a code." />
          <TextField label="Code" name="code" autoComplete="one-time-code" required error={errors.code} />
          <Button look="go" busy={busy}>
            Set it up
          </Button>
        </ActForm>
      ) : has ? (
        <ActForm intent="drop" answer={answer} className="max-w-80 space-y-3">
          <p className="text-13">Each sign-in asks for a code of your authenticator.</p>
          {demanded ? (
            <p className="text-13 text-rail">A role of yours asks for it, so it stays.</p>
          ) : (
            <>
              <TextField
                label="Your password"
                name="old"
                type="password"
                autoComplete="current-password"
                required
                error={fieldErrors(answer, "drop").old}
              />
              <Button busy={busy}>Take it away</Button>
            </>
          )}
        </ActForm>
      ) : (
        <>
          <p className="mb-3 text-13 text-rail">
            None yet.{demanded && " A role of yours asks for it at the next sign-in."}
          </p>
          <ButtonLink to="?do=second-factor" preventScrollReset>
            Set one up
          </ButtonLink>
        </>
      )}
    </section>
  );
}

/** Where one is signed in, and ending it. */
export function Sessions({ sessions, answer, busy }: Asked & { sessions: readonly SessionRow[] }) {
  return (
    <section aria-label="Sessions">
      <Title>Where you are signed in</Title>
      <Refused answer={answer} intent="end-session" />
      <ul>
        {sessions.map((one) => (
          <li key={one.id} className="flex items-center justify-between gap-3 border-b border-rule py-1.5 text-13">
            <span className="min-w-0">
              <b className="font-semibold">{one.present ? "This browser" : sayBrowser(one.agent)}</b>
              <span className="block truncate text-rail">
                since <When at={one.createdAt} /> · from {one.address}
              </span>
            </span>
            {!one.present && (
              <ActForm intent="end-session" answer={null} sends={{ id: one.id }} className="contents">
                <Button look="quiet" busy={busy}>
                  End it
                </Button>
              </ActForm>
            )}
          </li>
        ))}
      </ul>
      {sessions.some((one) => !one.present) && (
        <ActForm intent="end-session" answer={null} sends={{ id: "" }} className="mt-2">
          <Button busy={busy}>End all but this</Button>
        </ActForm>
      )}
    </section>
  );
}

/** A browser's name for itself, cut to what tells one from another. */
function sayBrowser(agent: string): string {
  const system = /\(([^;)]+)/.exec(agent)?.[1] ?? "";
  return system ? `A browser on ${system}` : "Another browser";
}

/** The zone one sees times in; what is computed goes by the publication's. */
export function Zone({
  zone,
  answer,
  busy,
}: {
  zone: { own: string | null; publication: string; all: string[] };
  answer: FormAnswer | null;
  busy: boolean;
}) {
  return (
    <section aria-label="Times">
      <h2 className="border-b border-ink pb-1 text-15! font-bold">Times</h2>
      <ActForm intent="zone" answer={answer} className="mt-2 space-y-2">
        <PickField
          key={zone.own}
          label="Shown in"
          name="zone"
          defaultValue={zone.own ?? ""}
          placeholder="the publication’s zone"
          hint={`Dates are computed in the publication’s zone, ${zone.publication}.`}
          error={fieldErrors(answer, "zone").zone}
          choices={zone.all.map((one) => ({ key: one, name: one }))}
        />
        <Button busy={busy}>Show times so</Button>
      </ActForm>
    </section>
  );
}
