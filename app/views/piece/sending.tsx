import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Hidden, Radio, TextArea, TextField } from "#app/ui/field.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import type { Step } from "#server/pieces/offers.ts";
import { Framed, type PanelProps, Reviewers, useBusy } from "./framed.tsx";

/** Takes a step: to whom, with which words, until when. */
export function Sending({ step, page, saving, answer }: PanelProps & { step: Step }) {
  const { zone } = useClock();
  const busy = useBusy();
  const fields = answer?.intent === "send" ? answer.fields : {};
  const refused = answer?.intent === "send" ? answer.refusal : null;
  const dueAt = step.proposedDue ? toLocalInput(step.proposedDue, zone) : "";
  const publishAt = page.row.publishAt ? toLocalInput(page.row.publishAt, zone) : "";
  const ends = step.toKind === "closed" || step.toKind === "live";
  return (
    <Framed title={step.name} intent="send" page={page} answer={answer}>
      <Hidden name="transition" value={step.key} />
      <p className="text-13 text-rail">
        It goes to <b className="font-semibold text-ink">{step.to}</b> as version {page.version.number}.
      </p>
      {step.choose && <Reviewers choose={step.choose} />}
      {step.readers && (
        <Readers asks={step.readers === "ask"} error={refused?.field === "readers" ? refused.sentence : undefined} />
      )}
      <TextArea
        label={
          step.asks.includes("note") ? (step.readers === "withdraws" ? "Why" : "Note: what changed, and why") : "Note"
        }
        name="note"
        required={step.asks.includes("note")}
        error={fields.note}
        maxLength={4000}
      />
      {!ends && (
        <>
          <MomentField
            label={`Due (${zone})`}
            name="dueAt"
            defaultValue={dueAt}
            error={fields.dueAt}
            hint={step.proposedDue ? "Proposed by the working calendar." : undefined}
          />
          <MomentField
            label={`Wished for readers (${zone})`}
            name="publishAt"
            defaultValue={publishAt}
            required={step.asks.includes("publish-date")}
            error={fields.publishAt}
          />
          <SelectField label="Urgency" name="urgency" defaultValue={page.row.urgency}>
            <Option value="normal">normal</Option>
            <Option value="urgent">urgent</Option>
          </SelectField>
        </>
      )}
      <Button look="go" disabled={busy || saving}>
        {saving ? "Saving the text …" : busy ? "Sending …" : step.name}
      </Button>
    </Framed>
  );
}

/** Where a piece ends that readers see: whether they go on seeing it, and what they find instead. */
function Readers({ asks, error }: { asks: boolean; error: string | undefined }) {
  return (
    <fieldset className="space-y-1 text-13">
      <legend className="mb-1 font-semibold">Readers</legend>
      {asks && (
        <>
          <Radio name="readers" value="keep" required>
            go on seeing it
          </Radio>
          <Radio name="readers" value="withdraw">
            see it no more
          </Radio>
        </>
      )}
      {error && <p className="font-semibold text-red">{error}</p>}
      <TextField
        label={asks ? "What they find in its place, if they see it no more" : "What they find in its place"}
        name="notice"
        defaultValue="This page was withdrawn."
        maxLength={500}
      />
    </fieldset>
  );
}
