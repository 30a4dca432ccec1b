import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, TextArea } from "#app/ui/field.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import { Framed, type PanelProps } from "./framed.tsx";

/** When a ready piece reaches readers: planned, or proposed by who may not let it out. */
export function Planning({ page, answer }: PanelProps) {
  const { zone } = useClock();
  const busy = useBusy();
  const at = page.plan?.at ?? page.row.publishAt;
  const word = page.plan ? "Move the release" : "Plan the release";
  return (
    <>
      {page.plan?.confirmable && (
        <Framed title="Confirm the date" intent="confirm" page={page} answer={answer}>
          <p className="text-13">
            {page.plan.by} proposes <When at={page.plan.at} />. Once you confirm it, version {page.version.number}{" "}
            leaves by itself then, and you answer for it.
          </p>
          <Button look="go" busy={busy}>
            Confirm it
          </Button>
        </Framed>
      )}
      <Framed title="Plan the release" intent="plan" page={page} answer={answer}>
        <p className="text-13 text-rail">
          {page.letsOut
            ? `Version ${page.version.number} leaves by itself at this time, if everything is still right then.`
            : "You may not let it out yourself: your date is a proposal, which waits until somebody who may confirms it."}
        </p>
        <MomentField
          label={`Date and time (${zone})`}
          name="at"
          defaultValue={at ? toLocalInput(at, zone) : ""}
          required
        />
        {answer?.intent === "plan" && answer.refusal?.code === "far" && (
          <Checkbox name="far" value="true">
            It is meant so
          </Checkbox>
        )}
        <Button look={page.plan?.confirmable ? "plain" : "go"} busy={busy}>
          {page.letsOut ? word : "Propose this date"}
        </Button>
      </Framed>
      {page.plan && (
        <Framed title="Take the plan back" intent="cancel" page={page} answer={answer}>
          <Button busy={busy}>Take it off the schedule</Button>
        </Framed>
      )}
    </>
  );
}

/** Takes a live piece away from readers. */
export function Withdrawing({ page, answer }: PanelProps) {
  const busy = useBusy();
  return (
    <Framed title="Take it away from readers" intent="withdraw" page={page} answer={answer}>
      <p className="text-13 text-rail">
        Version {page.live} leaves the reader site, its lists and its feeds at once. The piece stays in {page.row.state}
        .
      </p>
      <TextArea label="Why" name="note" required maxLength={4000} />
      <TextArea
        label="What readers find in its place"
        name="notice"
        required
        maxLength={500}
        defaultValue="This page was withdrawn."
      />
      <Button look="go" busy={busy}>
        Take it away
      </Button>
    </Framed>
  );
}
