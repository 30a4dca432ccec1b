import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { DayField } from "#app/ui/date-field.tsx";
import { TextField } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Fold } from "#app/ui/fold.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { NamedField } from "#app/ui/select.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { sayDate } from "#core/time/words.ts";
import type { FlowData } from "./data.ts";

type Target = FlowData["targets"][number];

interface Props {
  data: FlowData;
  answer: FormAnswer | null;
}

/** What is to reach readers in a period, with how it stands; those that are past behind a word. */
export function Targets({ data, answer }: Props) {
  const { targets, sets } = data;
  useFocusAfter(() => document.getElementById("targets"));
  const open = targets.filter((one) => one.gone < 1);
  const past = targets.filter((one) => one.gone >= 1);
  const amiss = answer?.intent === "set-target" && (answer.refusal !== null || Object.keys(answer.fields).length > 0);
  return (
    <Part
      title={
        <span id="targets" tabIndex={-1}>
          Targets
        </span>
      }
      className="mb-6"
    >
      {open.length === 0 && (
        <Aside className="mt-2">
          None is set. With one, this page says whether so many will reach readers in time.
        </Aside>
      )}
      <ul aria-label="Targets">
        {open.map((one) => (
          <OneTarget key={one.id} one={one} drops={sets !== null} answer={answer} />
        ))}
      </ul>
      {past.length > 0 && (
        <Fold summary="Past" className="mt-1">
          <ul aria-label="Past targets">
            {past.map((one) => (
              <OneTarget key={one.id} one={one} drops={sets !== null} answer={answer} />
            ))}
          </ul>
        </Fold>
      )}
      {sets && (
        <Fold summary="Set a target" className="mt-2" open={amiss}>
          <Setting key={targets.length} sets={sets} answer={answer} />
        </Fold>
      )}
    </Part>
  );
}

/** The bar is as long as what is wanted, full as far as done, and marked where time stands. */
function OneTarget({ one, drops, answer }: { one: Target; drops: boolean; answer: FormAnswer | null }) {
  const { zone, now } = useClock();
  const busy = useBusy("drop-target");
  const day = (text: string) => sayDate(Date.parse(text), "UTC", now);
  const share = (part: number) => `${Math.min(100, Math.round((100 * part) / Math.max(1, one.of ?? one.wanted)))}%`;
  return (
    <li className="border-b border-rule py-2 text-13">
      <span className="flex justify-between gap-3">
        <b className="min-w-0 break-words font-semibold">{one.name}</b>
        <span className={`whitespace-nowrap tabular-nums ${one.outcome === "missed" ? "text-red" : ""}`}>
          {one.of === null ? `${one.done} of ${one.wanted}` : `${one.done} of ${one.of} in time`}
        </span>
      </span>
      <span aria-hidden="true" className="relative mt-1 block h-2 border-b border-ink">
        <span className="absolute inset-y-0 left-0 bg-rail/40" style={{ width: share(one.done + one.coming) }} />
        <span className="absolute inset-y-0 left-0 bg-ink" style={{ width: share(one.done) }} />
        <span className="absolute -inset-y-0.5 w-0.75 bg-yellow" style={{ left: `${Math.round(100 * one.gone)}%` }} />
      </span>
      <span className={`mt-1 block ${one.outcome === "at risk" ? "text-red" : "text-rail"}`}>
        {day(one.from)} to {day(one.until)}
        {one.gone > 0 && one.gone < 1 && `, ${Math.round(100 * one.gone)} of 100 of its time gone`}
        {SAYS[one.outcome](one)}
      </span>
      {one.outcome === "at risk" && one.next && (
        <span className="block text-rail">
          {one.share === null ? "The first after it" : "The first too late"}:{" "}
          <TextLink to={`/pieces/${one.next.slug}`}>{one.next.title}</TextLink>, likely{" "}
          {sayDate(one.next.p50, zone, now)}
        </span>
      )}
      {drops && (
        <ActionForm intent="drop-target" answer={answer} sends={{ targetId: one.id }} className="mt-0.5">
          <Button look="word" busy={busy} aria-label={`Do away with it: ${one.name}`}>
            Do away with it
          </Button>
        </ActionForm>
      )}
    </li>
  );
}

const SAYS: Record<Target["outcome"], (one: Target) => string> = {
  reached: (one) => `${needed(one)}; reached`,
  missed: (one) => `${needed(one)}; missed`,
  ahead: ({ share, of }) => (share !== null && of === 0 ? "; nothing has its date in it" : ""),
  likely: (one) => `${needed(one)}; likely ${one.done + one.coming}`,
  "at risk": (one) => `${needed(one)}; likely only ${one.done + one.coming}`,
};

/** What a share comes to of those that have their date in the period. */
const needed = ({ share, wanted }: Target) => (share === null ? "" : `; ${share} of 100 wanted, which are ${wanted}`);

function Setting({ sets, answer }: { sets: NonNullable<FlowData["sets"]>; answer: FormAnswer | null }) {
  const busy = useBusy("set-target");
  return (
    <ActionForm intent="set-target" answer={answer} className="mt-2 space-y-3">
      <TextField
        label="What is it called"
        name="name"
        required
        maxLength={80}
        placeholder="Twelve guides in December"
      />
      <TextField label="How many" name="wanted" inputMode="numeric" required maxLength={5} />
      <NamedField
        label="Of what"
        name="share"
        none="pieces"
        options={[{ id: "time", name: "of 100 with a date in it, in time" }]}
      />
      <NamedField label="Of which kind" name="kindId" none="of any kind" options={sets.kinds} />
      <NamedField label="In which section" name="sectionId" none="in any section" options={sets.sections} />
      {sets.channels.length > 0 && (
        <NamedField
          label="Through which channel"
          name="channel"
          none="seen by readers for the first time"
          options={sets.channels}
        />
      )}
      <DayField label="From" name="from" />
      <DayField label="To, that day included" name="until" />
      <Button look="go" busy={busy}>
        Set it
      </Button>
    </ActionForm>
  );
}
