import { useState } from "react";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { FieldSet, Hidden, Radio, TextArea, TextField } from "#app/ui/field.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useCalendar, useClock } from "#app/views/time/clock.tsx";
import { fromLocalInput, toLocalInput } from "#core/time/local.ts";
import { plan } from "#core/time/plan.ts";
import { saySlack, slack } from "#core/time/slack.ts";
import { sayInstant } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Step } from "#server/pieces/offers.ts";
import { Framed, type PanelProps, Reviewers } from "./framed.tsx";

/** Takes a step: to whom, with which words, until when. */
export function Sending({ step, page, saving, answer }: PanelProps & { step: Step }) {
  const clock = useClock();
  const { zone } = clock;
  const busy = useBusy();
  const dueAt = step.proposedDue ? toLocalInput(step.proposedDue, zone) : "";
  const publishAt = page.row.publishAt ? toLocalInput(page.row.publishAt, zone) : "";
  const [dates, setDates] = useState({ dueAt, publishAt });
  const ends = step.toKind === "closed" || step.toKind === "live";
  return (
    <Framed title={step.name} intent="send" page={page} answer={answer}>
      <Hidden name="transition" value={step.key} />
      <p className="text-13 text-rail">
        It goes to <b className="font-semibold text-ink">{step.to}</b> as version {page.version.number}.
      </p>
      <Remarks page={page} />
      {step.choose && <Reviewers choose={step.choose} clock={clock} />}
      {step.readers && <Readers asks={step.readers === "ask"} />}
      <TextArea
        label={
          step.asks.includes("note") ? (step.readers === "withdraws" ? "Why" : "Note: what changed, and why") : "Note"
        }
        name="note"
        required={step.asks.includes("note")}
        maxLength={4000}
      />
      {step.toKind === "live" && page.live !== null && (
        <TextArea
          label="What is corrected, for readers; empty where that is not spoken of"
          name="correction"
          maxLength={500}
        />
      )}
      {!ends && (
        <>
          <MomentField
            label={`Due (${zone})`}
            name="dueAt"
            defaultValue={dueAt}
            onChange={(next) => setDates((held) => ({ ...held, dueAt: next }))}
            hint={step.proposedDue ? "Proposed by the working calendar." : undefined}
          />
          <MomentField
            label={`Wished for readers (${zone})`}
            name="publishAt"
            defaultValue={publishAt}
            onChange={(next) => setDates((held) => ({ ...held, publishAt: next }))}
            required={step.asks.includes("publish-date")}
          />
          <Foreseen ahead={step.ahead} dates={dates} />
          <SelectField label="Urgency" name="urgency" defaultValue={page.row.urgency}>
            <Option value="normal">normal</Option>
            <Option value="urgent">urgent</Option>
          </SelectField>
        </>
      )}
      <Button look="go" busy={busy} disabled={saving}>
        {saving ? "Saving the text …" : busy ? "Sending …" : step.name}
      </Button>
    </Framed>
  );
}

/** When readers would have it by the due date as it is chosen, and how that is beside the date wished for. */
function Foreseen({ ahead, dates }: { ahead: Step["ahead"]; dates: { dueAt: string; publishAt: string } }) {
  const { now, zone } = useClock();
  const calendar = useCalendar();
  const read = (text: string) => (text === "" ? null : fromLocalInput(text, zone));
  const [due, wished] = [read(dates.dueAt), read(dates.publishAt)];
  const last = plan(calendar, ahead, { since: now, leaves: Math.max(now, due ?? now) }, wished).at(-1);
  if (!last || due === null) return null;
  const length = wished === null ? null : slack(calendar, last.expected, wished);
  return (
    <p role="status" className={`text-13 ${length !== null && length < 0 ? "font-semibold text-red" : "text-rail"}`}>
      Decided by then, readers can have it {sayInstant(last.expected, zone, now)}
      {length === null ? "." : `: ${saySlack(calendar, length)} for the date wished for.`}
    </p>
  );
}

/** What of the remarks is settled and what is not, before the piece leaves with them. */
function Remarks({ page: { threads } }: Pick<PanelProps, "page">) {
  const sent = threads.filter((thread) => thread.sentAt !== null);
  const open = sent.filter((thread) => thread.settledAt === null);
  const kept = threads.length - sent.length;
  if (threads.length === 0) return null;
  return (
    <p className="text-13">
      Of {counted(sent.length, "remark")} {sent.length - open.length} {sent.length - open.length === 1 ? "is" : "are"}{" "}
      settled, {open.length || "none"} open.
      {kept > 0 && ` You keep ${counted(kept, "remark")} back: nobody sees ${kept === 1 ? "it" : "them"} by this.`}
    </p>
  );
}

/** Where a piece ends that readers see: whether they go on seeing it, and what they find instead. */
function Readers({ asks }: { asks: boolean }) {
  return (
    <FieldSet legend="Readers" name="readers" className="space-y-1 text-13">
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
      <TextField
        label={asks ? "What they find in its place, if they see it no more" : "What they find in its place"}
        name="notice"
        defaultValue="This page was withdrawn."
        maxLength={500}
      />
    </FieldSet>
  );
}
