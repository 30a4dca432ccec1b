import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, TextField } from "#app/ui/field.tsx";
import { Aside, Message } from "#app/ui/message.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { fromLocalInput, toLocalInput } from "#core/time/local.ts";
import { sayInstant } from "#core/time/words.ts";
import { Panelled, type PanelProps, PieceForm } from "./framed.tsx";
import { Leaves, UntilField } from "./planning.tsx";

/** Where a piece goes beside the reader site: the editions it is in or could be in, and channels it leaves through at a date of its own. */
export function Through(props: PanelProps) {
  const { page } = props;
  const [words] = useSearchParams();
  const { channels, fills, open } = page.through;
  const chosen = channels.find((one) => one.key === words.get("channel"));
  return (
    <Panelled title="Through other channels">
      {fills && <IntoEdition {...props} />}
      {open && channels.length > 0 && (
        <ul className="mt-4 text-13">
          {channels.map(({ key, name, plan }) => (
            <li key={key} className="border-b border-rule py-1.5">
              <Link to={`?do=through&channel=${key}`} preventScrollReset className="font-semibold text-blue">
                {name}
              </Link>
              <p className="text-rail">
                {plan ? (
                  <>
                    {plan.status} for <When at={plan.at} />
                  </>
                ) : (
                  "nothing planned"
                )}
              </p>
              {chosen?.key === key && <AtADate key={key} channel={chosen} {...props} />}
            </li>
          ))}
        </ul>
      )}
    </Panelled>
  );
}

function IntoEdition(props: PanelProps) {
  const { page, answer } = props;
  const { now, zone } = useClock();
  const busy = useBusy("fill");
  const [chosen, setChosen] = useState("");
  const edition = page.openEditions.find((one) => one.id === chosen);
  if (page.openEditions.length === 0) return <Aside>No edition is being filled.</Aside>;
  const elsewhere = answer?.intent === "fill" && answer.refusal?.code === "elsewhere";
  return (
    <PieceForm intent="fill" page={page} answer={answer}>
      <SelectField label="Into an edition" name="editionId" value={chosen} onChoose={setChosen}>
        <Option value="">choose one</Option>
        {page.openEditions.map((one) => (
          <Option key={one.id} value={one.id}>
            {`${one.name}, ${sayInstant(one.at, zone, now)}`}
          </Option>
        ))}
      </SelectField>
      {edition && edition.closesAt < now && (
        <TextField label="It has closed. Why it still comes in" name="late" maxLength={500} required />
      )}
      {elsewhere && (
        <Checkbox name="instead" value="true">
          It is to be in this one instead
        </Checkbox>
      )}
      <Button look="go" busy={busy}>
        Put it in
      </Button>
    </PieceForm>
  );
}

function AtADate({
  channel,
  page,
  answer,
}: PanelProps & { channel: PanelProps["page"]["through"]["channels"][number] }) {
  const { zone } = useClock();
  const busy = useBusy();
  const { plan, letsOut, key } = channel;
  const at = plan?.wishedAt ?? plan?.at ?? null;
  const [wish, setWish] = useState(at === null ? "" : toLocalInput(at, zone));
  const sends = { channel: key };
  return (
    <div className="mt-2 space-y-3">
      {plan && plan.holds.length > 0 && <Message more={plan.holds.slice(1)}>{plan.holds[0]}</Message>}
      {plan?.confirmable && (
        <PieceForm intent="confirm" page={page} answer={answer} sends={sends}>
          <p>
            {plan.by} proposes <When at={plan.at} />. Once you confirm it, you answer for it.
          </p>
          <Button look="go" busy={busy}>
            Confirm date
          </Button>
        </PieceForm>
      )}
      <PieceForm intent="plan" page={page} answer={answer} sends={sends}>
        <MomentField
          label={`Date and time (${zone})`}
          name="at"
          required
          defaultValue={at === null ? "" : toLocalInput(at, zone)}
          usual={channel.usual.at}
          onChange={setWish}
        />
        <Leaves windows={channel.windows} embargoUntil={page.embargoUntil} wish={fromLocalInput(wish, zone)} />
        <UntilField known={plan ?? channel.shown} usual={channel.usual} wish={wish} />
        {answer?.intent === "plan" && answer.refusal?.code === "far" && (
          <Checkbox name="far" value="true">
            It is meant so
          </Checkbox>
        )}
        <Button look={plan?.confirmable ? "plain" : "go"} busy={busy}>
          {letsOut ? (plan ? "Move it" : "Plan it") : "Propose this date"}
        </Button>
      </PieceForm>
      {plan && (
        <PieceForm intent="cancel" page={page} answer={answer} sends={sends}>
          <Button look="quiet" busy={busy}>
            Unschedule
          </Button>
        </PieceForm>
      )}
    </div>
  );
}
