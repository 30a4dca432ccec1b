import { Form, Link, useNavigation, useSearchParams } from "react-router";
import { fieldErrors } from "#app/form-answer.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Input, TextField } from "#app/ui/field.tsx";
import { Beside, Split } from "#app/ui/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { ActForm } from "#app/views/people/act-form.tsx";
import { type Choices, GrantFields } from "#app/views/people/grant-fields.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { sayDate } from "#core/time/words.ts";
import type { PersonRow } from "#server/people/queries.ts";
import type { Route } from "../../routes/+types/people-list.ts";

/** Everybody who works here. */
export function PeopleView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { people, choices } = loaderData;
  const [words] = useSearchParams();
  const asked = (words.get("words") ?? "").toLowerCase();
  const inviting = words.get("do") === "invite";
  const found = people.filter((one) => `${one.name} ${one.email} ${one.holds.join(" ")}`.toLowerCase().includes(asked));
  const working = people.filter((one) => one.active).length;
  return (
    <Split beside={inviting && <Invite choices={choices} answer={actionData} />}>
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto">{working === 1 ? "One person works here" : `${working} people work here`}</h1>
        <Form role="search" className="w-56">
          <Input
            look="small"
            type="search"
            name="words"
            aria-label="Find by name or role"
            placeholder="Find by name or role"
            defaultValue={words.get("words") ?? ""}
            className="w-full"
          />
        </Form>
        <ButtonLink look={inviting ? "plain" : "go"} to="/people?do=invite">
          Invite somebody
        </ButtonLink>
      </div>
      {found.length === 0 && <p className="text-rail">Nobody fits these words.</p>}
      <ul aria-label="People" className={found.length ? "border-t border-ink" : ""}>
        {found.map((one) => (
          <Row key={one.key} one={one} narrow={inviting} />
        ))}
      </ul>
    </Split>
  );
}

function Row({ one, narrow }: { one: PersonRow; narrow: boolean }) {
  const { now, zone } = useClock();
  const date = (day: string) => sayDate(Date.parse(`${day}T12:00Z`), zone, now);
  const until = one.until !== null && `until ${sayDate(one.until - 1, zone, now)}`;
  const state = !one.active
    ? "access ended"
    : one.awayUntil
      ? `away until ${date(one.awayUntil)}${one.standIn ? `, ${one.standIn} stands in` : ", nobody stands in"}`
      : one.invited
        ? "invited, not here yet"
        : "";
  return (
    <li
      data-row
      className={`grid min-h-9 items-center gap-x-4 border-b border-rule py-1 focus-within:bg-wash ${narrow ? "" : "lg:-mx-6 lg:grid-cols-[200px_minmax(0,1fr)_110px_280px] lg:px-6"} ${one.active ? "" : "text-rail"}`}
    >
      <Link to={`/people/who/${one.key}`} className="truncate font-semibold hover:text-blue">
        {one.name}
      </Link>
      <span className="min-w-0 truncate text-13" title={one.holds.join("; ")}>
        {one.holds.length > 0 ? one.holds.join("; ") : <span className="text-rail">no role</span>}
      </span>
      <span className="text-13 text-rail">{until}</span>
      <span className={`text-13 ${one.awayUntil && !one.standIn ? "text-red" : "text-rail"}`}>{state}</span>
    </li>
  );
}

function Invite({ choices, answer }: { choices: Choices; answer: Route.ComponentProps["actionData"] }) {
  const busy = useNavigation().state === "submitting";
  const errors = fieldErrors(answer, "invite");
  return (
    <Beside title="Invite somebody" leave="/people">
      <ActForm intent="invite" answer={answer}>
        <TextField label="Name" name="name" maxLength={120} required autoFocus error={errors.name} />
        <TextField
          label="Mail address"
          name="email"
          type="email"
          required
          hint="A link goes there, good once and for a week."
          error={errors.email}
        />
        <GrantFields choices={choices} errors={errors} optional />
        <Button look="go" busy={busy}>
          {busy ? "Sending …" : "Send the invitation"}
        </Button>
      </ActForm>
    </Beside>
  );
}
