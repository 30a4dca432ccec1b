import { useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { PickField, PickSome } from "#app/ui/combobox.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { NumberField, TextArea } from "#app/ui/field.tsx";
import { Empty } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Option, OptionGroup, SelectField } from "#app/ui/select.tsx";
import { useLastList } from "#app/views/frame/arrival.ts";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayInstant } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/together.ts";
import { type Choice, sizeOf, useChoice } from "./chosen.ts";
import { sayDoing } from "./doing-words.ts";

type Data = Route.ComponentProps["loaderData"];

/** What is to be done to the chosen pieces; nothing is done before it was looked at. */
export function TogetherView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const [choice] = useChoice();
  const back = useLastList();
  const size = sizeOf(choice);
  return (
    <Page
      wide={false}
      back={back}
      title={size === 0 ? "Nothing is chosen" : `One thing to ${counted(size, "piece")}`}
      about={size > 0 && "What would come of it is shown for each first. Nothing is done before that."}
    >
      {size === 0 ? (
        <Empty act={<TextLink to="/pieces">To the pieces</TextLink>}>
          Choose pieces in a list: by their boxes, with x, or all from one to another with Shift.
        </Empty>
      ) : (
        <What page={page} choice={choice} answer={answer} />
      )}
      <Lately page={page} />
    </Page>
  );
}

function What({ page, choice, answer }: { page: Data; choice: Choice; answer: FormAnswer | null }) {
  const [what, setWhat] = useState("");
  const busy = useBusy("together");
  const { zone, now } = useClock();
  const { steps, people, sections } = page.choices;
  const needs = (...of: string[]) => of.includes(what);
  return (
    <ActionForm
      intent="together"
      label="One thing to many pieces"
      answer={answer}
      sends={"ids" in choice ? { ids: choice.ids.join(" ") } : { all: choice.all }}
      className="mt-4 max-w-120 space-y-3"
    >
      <SelectField label="What" name="what" value={what} onChoose={setWhat}>
        <Option value="">choose</Option>
        <OptionGroup label="Decide">
          <Option value="approve">Approve</Option>
          <Option value="return">Return to the writer</Option>
        </OptionGroup>
        <OptionGroup label="Take a step">
          {steps.map((name) => (
            <Option key={name} value={`step:${name}`}>
              {name}
            </Option>
          ))}
        </OptionGroup>
        <OptionGroup label="Dates">
          <Option value="due">Set the due date</Option>
          <Option value="due-shift">Move the due date by working days</Option>
          <Option value="plan">Plan the release</Option>
          <Option value="plan-shift">Move the release by working days</Option>
        </OptionGroup>
        <OptionGroup label="Besides">
          <Option value="urgent">Call them urgent</Option>
          <Option value="not-urgent">Call them urgent no more</Option>
          <Option value="hand">Hand what waits on one person to another</Option>
          <Option value="section">Put them in another section</Option>
          {page.choices.editions.length > 0 && <Option value="edition">Put them into an edition</Option>}
          <Option value="point-out">Tell people they are ready</Option>
          <Option value="each">To each its own: a table of steps</Option>
        </OptionGroup>
      </SelectField>
      {needs("due", "plan") && (
        <MomentField
          key={what}
          label={what === "due" ? `Due (${zone}); empty for none` : `They leave (${zone})`}
          name="at"
        />
      )}
      {needs("due-shift", "plan-shift") && (
        <NumberField
          label="By how many"
          name="days"
          step={1}
          defaultValue={1}
          unit="working days"
          hint="Below zero is earlier. The time of day stays."
        />
      )}
      {needs("hand") && (
        <>
          <PickField label="What waits on" name="from" choices={people} placeholder="whom" />
          <PickField label="Goes to" name="to" choices={people} placeholder="whom" />
        </>
      )}
      {needs("point-out") && <PickSome label="Who is told" name="people" choices={people} />}
      {needs("section") && (
        <SelectField label="Section" name="sectionId" defaultValue="">
          <Option value="">choose</Option>
          {sections.map(({ key, name }) => (
            <Option key={key} value={key}>
              {name}
            </Option>
          ))}
        </SelectField>
      )}
      {needs("edition") && (
        <SelectField label="Edition" name="editionId" defaultValue="">
          <Option value="">choose</Option>
          {page.choices.editions.map(({ key, name, at }) => (
            <Option key={key} value={key}>
              {`${name}, ${sayInstant(at, zone, now)}`}
            </Option>
          ))}
        </SelectField>
      )}
      {what !== "" && !needs("plan", "plan-shift", "urgent", "not-urgent", "hand", "each") && (
        <TextArea
          label={
            needs("edition")
              ? "Why they still come in, where it has closed"
              : needs("return", "section")
                ? "Why, to all of them"
                : "A note to all of them"
          }
          name="note"
          maxLength={4000}
        />
      )}
      <Button look="go" busy={busy}>
        {needs("each") ? "To the table" : "Show what would happen"}
      </Button>
    </ActionForm>
  );
}

/** What one did together lately: it can be gone back to. */
function Lately({ page }: { page: Data }) {
  const { now, zone } = useClock();
  if (page.lately.length === 0) return null;
  const names = new Map(
    [...page.choices.people, ...page.choices.sections, ...page.choices.editions].map(({ key, name }) => [key, name]),
  );
  return (
    <section className="mt-8" aria-label="Lately">
      <h2 className="mb-1">Lately</h2>
      <Rows>
        {page.lately.map((one) => (
          <Row key={one.id} className="flex flex-wrap justify-between gap-x-4 py-1.5 text-13">
            <span>
              <TextLink to={`/together/${one.id}`}>
                {sayDoing(one.doing, (id) => names.get(id) ?? "somebody", zone, now)}
              </TextLink>
              : {counted(one.pieces, "piece")}
              {one.startedAt === null && <span className="text-rail"> · only looked at</span>}
            </span>
            <span className="text-rail">
              <When at={one.at} />
            </span>
          </Row>
        ))}
      </Rows>
    </section>
  );
}
