import { useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Checkbox, FieldSet, TextField } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { When } from "#app/views/time/clock.tsx";
import { ERRANDS } from "#core/assist/errand.ts";
import { list } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/publication-assistant.ts";

interface Props {
  page: Route.ComponentProps["loaderData"];
  answer: FormAnswer | null;
}

/** So many of those who may ask are named. */
const NAMED = 8;

/** Which assistant there is, where it may be asked and by whom, and what it was asked for last. */
export function AssistantView({ page, answer }: Props) {
  const { assistant, errands, asking, secret } = page;
  return (
    <Page
      title="Assistant"
      about="An outside service that is asked for an outline, a draft, keywords, a shorter version or a check. What it brings waits for a person; it decides nothing and reaches no reader by itself."
    >
      <Naming key={assistant?.revision ?? 0} page={page} answer={answer} />
      <Part title="Who may ask it" className="mt-8 max-w-220">
        <p className="mt-2 text-13">
          {asking.length === 0
            ? "Nobody yet: no role allows it."
            : `${list(asking.slice(0, NAMED).map((one) => one.name))}${asking.length > NAMED ? `, and ${asking.length - NAMED} more` : ""}, each where their role reaches.`}{" "}
          <TextLink to="/people/roles">Roles</TextLink>
        </p>
      </Part>
      <Part title="What it was asked for" about="the latest, of pieces you may see" className="mt-8 max-w-220">
        {errands.length === 0 && <Aside className="mt-2">Nothing yet.</Aside>}
        <Rows aria-label="What it was asked for" className="">
          {errands.map((one) => (
            <Row key={one.id} className="flex flex-wrap items-baseline justify-between gap-x-4 py-1 text-13">
              <span className="min-w-0">
                <TextLink to={`/pieces/${one.slug}/assistant?errand=${one.id}`}>
                  {ERRANDS[one.errand].name} for “{one.title}”
                </TextLink>{" "}
                {one.problem && <span className="text-rail">{one.problem}</span>}
              </span>
              <span className="text-rail">
                {one.by}, <When at={one.at} /> · {one.standing}
                {one.cost && ` · ${one.cost}`}
              </span>
            </Row>
          ))}
        </Rows>
      </Part>
      {secret && (
        <Fold summary="How it knows that a body is ours" className="mt-6 max-w-220">
          <p className="mt-1 text-13">
            Each is signed with this secret, as a rule's call is: <code className="break-all">{secret}</code>
          </p>
        </Fold>
      )}
    </Page>
  );
}

function Naming({ page: { assistant, sections, standIn }, answer }: Props) {
  const busy = useBusy("name");
  const [everywhere, setEverywhere] = useState(assistant ? assistant.sectionIds === null : true);
  const kept = answer?.intent === "name" && !answer.refusal && Object.keys(answer.fields).length === 0;
  return (
    <ActionForm
      intent="name"
      answer={answer}
      sends={{ revision: assistant?.revision ?? 0 }}
      className="mt-4 max-w-160 space-y-4"
    >
      <div className="grid gap-4 sm:grid-cols-2">
        <TextField label="What is it called" name="name" required maxLength={60} defaultValue={assistant?.name} />
        <TextField
          label="Its address"
          name="url"
          required
          maxLength={500}
          placeholder="https://"
          defaultValue={assistant?.url}
          hint={standIn ? `The stand-in: ${standIn}` : undefined}
        />
      </div>
      <Checkbox name="on" value="true" defaultChecked={assistant?.on ?? true}>
        It may be asked
      </Checkbox>
      <FieldSet legend="Where" name="sections">
        <Checkbox
          name="everywhere"
          value="true"
          checked={everywhere}
          onChange={(event) => setEverywhere(event.target.checked)}
        >
          In every section
        </Checkbox>
        {!everywhere && <Aside className="pl-6">In those chosen, and in all below them.</Aside>}
        {!everywhere && (
          <div className="grid pl-6 sm:grid-cols-2">
            {sections.map(({ id, name }) => (
              <Checkbox
                key={id}
                name="sections[]"
                value={id}
                defaultChecked={assistant?.sectionIds?.includes(id) ?? false}
              >
                {name}
              </Checkbox>
            ))}
          </div>
        )}
      </FieldSet>
      <div className="flex items-center gap-3">
        <Button look="go" busy={busy}>
          Keep it
        </Button>
        {kept && <Status>Kept.</Status>}
      </div>
    </ActionForm>
  );
}
