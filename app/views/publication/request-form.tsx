import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, errorsOf, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, TextArea, TextField } from "#app/ui/field.tsx";
import { Message, Status } from "#app/ui/message.tsx";
import { NamedField, Option, SelectField } from "#app/ui/select.tsx";
import { ASKED_TYPES, type OpenTo } from "#core/intake/form.ts";
import { FieldRows } from "./field-rows.tsx";
import type { TakingInData } from "./taking-in-data.ts";

const OPEN: Record<OpenTo, string> = {
  anybody: "anybody who has its address",
  team: "people who are signed in",
  invited: "the addresses below",
};

/** A request's form, as the team makes it. */
export function RequestFormForm({
  page: { chosen, choices },
  answer,
}: {
  page: TakingInData;
  answer: FormAnswer | null;
}) {
  const busy = useBusy("save");
  const errors = errorsOf(answer, "save");
  const kept = answer?.intent === "save" && !answer.refusal && Object.keys(answer.fields).length === 0;
  return (
    <ActionForm
      intent="save"
      answer={answer}
      sends={{ id: chosen?.id ?? "", revision: chosen?.revision ?? 0 }}
      className="mt-5 max-w-220 space-y-4"
    >
      <div className="grid gap-4 sm:grid-cols-2">
        <TextField label="Name" name="name" required maxLength={80} defaultValue={chosen?.name ?? ""} />
        <SelectField label="Open to" name="openTo" defaultValue={chosen?.openTo ?? "anybody"}>
          {Object.entries(OPEN).map(([who, says]) => (
            <Option key={who} value={who}>
              {says}
            </Option>
          ))}
        </SelectField>
      </div>
      <TextArea
        label="What is said above it"
        name="about"
        rows={3}
        maxLength={1000}
        defaultValue={chosen?.about ?? ""}
      />
      <TextArea
        label="The addresses invited"
        name="invited"
        rows={2}
        defaultValue={chosen?.invited.join("\n") ?? ""}
        hint="One a line; they count only where the form is open to them."
      />
      <div className="grid gap-4 sm:grid-cols-2">
        <NamedField
          label="It becomes a"
          name="kindId"
          none="Choose"
          options={choices.kinds}
          defaultValue={chosen?.kindId ?? ""}
        />
        <NamedField
          label="For"
          name="sectionId"
          none="Choose"
          options={choices.sections}
          defaultValue={chosen?.sectionId ?? ""}
        />
        <NamedField
          label="Given to"
          name="holderId"
          none="whoever judges there"
          options={choices.people}
          defaultValue={chosen?.holderId ?? ""}
        />
        <NamedField
          label="Leaves with editions of"
          name="channel"
          none="none: on its own"
          options={choices.channels}
          defaultValue={chosen?.channel ?? ""}
        />
        <TextField
          label="Needs at least"
          name="lead"
          defaultValue={chosen?.lead ?? ""}
          placeholder="5wd"
          hint="From being asked for to being out, in working days (5wd) or hours (6wh)."
        />
        <TextField
          label="Is answered within"
          name="promise"
          defaultValue={chosen?.promise ?? ""}
          placeholder="2wd"
          hint="What the team promises; empty for no promise."
        />
      </div>
      {errors.fields && <Message>{errors.fields}</Message>}
      <FieldRows fields={chosen?.fields ?? []} types={ASKED_TYPES} />
      <Checkbox name="on" value="yes" defaultChecked={chosen?.on ?? true}>
        It takes requests
      </Checkbox>
      <div className="flex items-center gap-3">
        <Button look="go" busy={busy}>
          {chosen ? "Keep this form" : "Make it"}
        </Button>
        {kept && <Status>Kept.</Status>}
      </div>
    </ActionForm>
  );
}
