import { Link, useNavigation, useSearchParams } from "react-router";
import { fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, TextField } from "#app/ui/field.tsx";
import { Beside, Split } from "#app/ui/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { ActForm } from "#app/views/people/act-form.tsx";
import { GrantFields } from "#app/views/people/grant-fields.tsx";
import { Refused } from "#app/views/people/refused.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Route } from "../../routes/+types/people-groups.ts";

/** People who are given roles together. */
export function GroupsView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { groups, chosen } = loaderData;
  const busy = useNavigation().state === "submitting";
  return (
    <Split
      beside={chosen && <Chosen key={chosen.id} {...loaderData} chosen={chosen} answer={actionData} busy={busy} />}
    >
      <h1 className="mb-4">Groups</h1>
      {groups.length === 0 && (
        <p className="mb-4 text-rail">None yet. A group is several people who are given roles together.</p>
      )}
      <ul aria-label="Groups" className={groups.length ? "mb-6 border-t border-ink" : ""}>
        {groups.map((one) => (
          <li
            key={one.id}
            data-row
            className={`grid min-h-9 items-center gap-x-4 border-b border-rule py-1 sm:grid-cols-[200px_minmax(0,1fr)] ${one.key === chosen?.key ? "bg-wash" : ""}`}
          >
            <Link to={`?group=${one.key}`} className="truncate font-semibold hover:text-blue">
              {one.name}
            </Link>
            <span className="min-w-0 truncate text-13 text-rail">
              {one.members.map((member) => member.name).join(", ") || "nobody yet"}
            </span>
          </li>
        ))}
      </ul>
      <ActForm intent="add" answer={actionData} className="max-w-80 space-y-3">
        <TextField label="A new group" name="name" maxLength={80} error={fieldErrors(actionData, "add").name} />
        <Button busy={busy}>Make it</Button>
      </ActForm>
    </Split>
  );
}

type Loaded = Route.ComponentProps["loaderData"];

function Chosen({
  chosen,
  people,
  choices,
  holds,
  answer,
  busy,
}: Loaded & { chosen: NonNullable<Loaded["chosen"]>; answer: Route.ComponentProps["actionData"]; busy: boolean }) {
  const [words] = useSearchParams();
  const errors = fieldErrors(answer, "give");
  return (
    <Beside title={chosen.name} leave="/people/groups">
      <div className="space-y-7">
        <ActForm intent="members" answer={answer} sends={{ groupId: chosen.id }} className="space-y-2">
          <fieldset>
            <legend className="mb-1 text-13 font-semibold">Who is in it</legend>
            {people.map((one) => (
              <Checkbox
                name="members[]"
                value={one.id}
                defaultChecked={chosen.members.some((member) => member.id === one.id)}
                key={one.id}
              >
                {one.name}
              </Checkbox>
            ))}
          </fieldset>
          <Button busy={busy}>Keep</Button>
          {answer?.intent === "members" && !answer.refusal && (
            <span role="status" className="ml-3 text-13 text-rail">
              Kept.
            </span>
          )}
        </ActForm>
        <section aria-label="What they hold">
          <h3 className="border-b border-ink pb-1 text-13 font-semibold">What they hold through it</h3>
          <Refused answer={answer} intent="end-grant" />
          {holds.length === 0 && <p className="py-1.5 text-13 text-rail">Nothing yet.</p>}
          <ul>
            {holds.map((one) => (
              <li key={one.id} className="flex items-center justify-between gap-3 border-b border-rule py-1 text-13">
                <span>
                  {one.words}
                  {one.until !== null && (
                    <span className="text-rail">
                      {" "}
                      until <When at={one.until - 1} dateOnly />
                    </span>
                  )}
                </span>
                {one.when !== "over" && (
                  <ActForm
                    intent="end-grant"
                    answer={null}
                    sends={{ groupId: chosen.id, when: "now", grantId: one.id }}
                    className="contents"
                  >
                    <Button look="quiet" aria-label={`End it: ${one.words}`} busy={busy}>
                      End it
                    </Button>
                  </ActForm>
                )}
              </li>
            ))}
          </ul>
        </section>
        <ActForm intent="give" answer={answer} sends={{ groupId: chosen.id }}>
          <GrantFields choices={choices} errors={errors} />
          <Button look="go" busy={busy}>
            Give it to all of them
          </Button>
        </ActForm>
        {words.get("do") === "delete" ? (
          <ActForm intent="delete" answer={answer} sends={{ groupId: chosen.id }} className="space-y-2 text-13">
            <p>What its people hold through it ends at once.</p>
            <Button busy={busy}>Do away with {chosen.name}</Button>
          </ActForm>
        ) : (
          <Link to={`?group=${chosen.key}&do=delete`} preventScrollReset className="text-13 font-semibold text-blue">
            Do away with this group
          </Link>
        )}
      </div>
    </Beside>
  );
}
