import { useState } from "react";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, TextArea, TextField } from "#app/ui/field.tsx";
import { useCalendar, useClock, When } from "#app/views/time/clock.tsx";
import { type Usual, usualEnd } from "#core/release/channel.ts";
import { openBetween, opens } from "#core/release/window.ts";
import { dayAfter, fromLocalInput, startOf, toLocalInput } from "#core/time/local.ts";
import { plan } from "#core/time/plan.ts";
import { saySlack, slack } from "#core/time/slack.ts";
import { sayDate, sayInstant } from "#core/time/words.ts";
import { capital, list } from "#core/words/say.ts";
import { Framed, type PanelProps } from "./framed.tsx";

/** When a ready piece reaches readers: planned, or proposed by who may not let it out. */
export function Planning({ page, answer }: PanelProps) {
  const { zone } = useClock();
  const busy = useBusy();
  const at = page.plan?.wishedAt ?? page.plan?.at ?? page.row.publishAt;
  const [wish, setWish] = useState(at ? toLocalInput(at, zone) : "");
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
            Confirm date
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
          usual={page.usual.at}
          onChange={setWish}
          isClosed={page.windows ? (day) => isShut(page.windows, day, zone) : undefined}
        />
        <Leaves windows={page.windows} embargoUntil={page.embargoUntil} wish={fromLocalInput(wish, zone)} />
        <UntilField
          known={page.plan ?? (page.live === null ? null : { endsAt: page.endsAt })}
          usual={page.usual}
          wish={wish}
          hint="It leaves the reader site by itself then; its author is told before."
        />
        {page.live !== null && (
          <TextArea
            label="What is corrected, for readers; empty where that is not spoken of"
            name="correction"
            maxLength={500}
            defaultValue={page.plan?.correction ?? ""}
          />
        )}
        {page.windows && page.outside && (
          <TextField
            label="Why outside the windows; empty to keep to them"
            name="outside"
            maxLength={500}
            defaultValue={page.plan?.outside ?? ""}
          />
        )}
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
        <Framed title="Unschedule" intent="cancel" page={page} answer={answer}>
          <Button busy={busy}>Unschedule</Button>
        </Framed>
      )}
    </>
  );
}

/** When readers see it no more: as it is planned or stands already, else as is usual in the channel. */
export function UntilField({
  known,
  usual,
  wish,
  hint,
}: {
  /** The end of its plan, or of what readers see of it now. */
  known: { endsAt: number | null } | null | undefined;
  usual: Usual;
  /** When it is to leave, as its field says it. */
  wish: string;
  hint?: string;
}) {
  const { zone } = useClock();
  const [own, setOwn] = useState<string | null>(null);
  const at = fromLocalInput(wish, zone);
  const meant = known ? known.endsAt : at && usualEnd(usual, at, zone);
  return (
    <MomentField
      label={`Until (${zone}); empty for no end`}
      name="endsAt"
      value={own ?? (meant ? toLocalInput(meant, zone) : "")}
      onChange={setOwn}
      usual={usual.at}
      hint={hint}
    />
  );
}

/** Whether no window opens on a day, the day's own zone. */
const isShut = (windows: PanelProps["page"]["windows"], day: string, zone: string) =>
  windows !== null && openBetween(windows, startOf(day, zone), startOf(dayAfter(day, 1), zone)).length === 0;

/** What a wish becomes by windows and embargo, said while it is chosen. */
export function Leaves({
  windows,
  embargoUntil,
  wish,
}: Pick<PanelProps["page"], "windows" | "embargoUntil"> & { wish: number | null }) {
  const { now, zone } = useClock();
  if (wish === null) return null;
  const at = windows ? opens(windows, wish) : wish;
  const kept = embargoUntil !== null && at !== null && at < embargoUntil;
  if (!windows && !kept) return null;
  return (
    <p role="status" className={`text-13 ${at === null || kept ? "font-semibold text-red" : "text-rail"}`}>
      {at === null
        ? "No window opens in the year after that."
        : at === wish
          ? "That is within a window."
          : `Leaves ${sayInstant(at, zone, now)}, when the next window opens.`}
      {kept && embargoUntil !== null && ` It is under embargo until ${sayInstant(embargoUntil, zone, now)}.`}
    </p>
  );
}

/** When a live piece ends by itself. */
export function Ending({ page, answer }: PanelProps) {
  const { zone } = useClock();
  const busy = useBusy();
  return (
    <Framed title="Until when readers see it" intent="end" page={page} answer={answer}>
      <MomentField
        label={`Until (${zone}); empty for no end`}
        name="endsAt"
        defaultValue={page.endsAt ? toLocalInput(page.endsAt, zone) : ""}
      />
      <p className="text-13 text-rail">
        It leaves the reader site by itself then. Its author is told three working days before.
      </p>
      <Button look="go" busy={busy}>
        Save
      </Button>
    </Framed>
  );
}

/** Keeps a piece from readers until a time, whoever plans it. */
export function Embargo({ page, answer }: PanelProps) {
  const { zone } = useClock();
  const busy = useBusy();
  return (
    <Framed title="Embargo" intent="embargo" page={page} answer={answer}>
      <MomentField
        label={`Nothing of it reaches readers before (${zone}); empty for none`}
        name="until"
        defaultValue={page.embargoUntil ? toLocalInput(page.embargoUntil, zone) : ""}
      />
      <TextArea label="Why" name="note" maxLength={4000} />
      <Button look="go" busy={busy}>
        Save
      </Button>
    </Framed>
  );
}

/** When a piece on its way is wished for, and what that means for its stops. */
export function Wishing({ page, answer }: PanelProps) {
  const clock = useClock();
  const { now, zone } = clock;
  const calendar = useCalendar();
  const busy = useBusy();
  const [wish, setWish] = useState(page.row.publishAt ? toLocalInput(page.row.publishAt, zone) : "");
  const at = fromLocalInput(wish, zone);
  const leaves = Math.max(now, page.row.dueAt ?? now);
  const [without, setWithout] = useState<readonly string[]>([]);
  const legs = page.ahead.filter((leg) => !without.includes(leg.key));
  const planned = plan(calendar, legs, { since: page.row.since, leaves }, at);
  const stops = page.ahead
    .slice(1)
    .map((leg) => ({ key: leg.key, planned: planned.find((one) => one.key === leg.key) }));
  const skip = (key: string, skipped: boolean) =>
    setWithout(skipped ? [...without, key] : without.filter((one) => one !== key));
  const last = planned.at(-1);
  return (
    <Framed title="The date wished for" intent="wish" page={page} answer={answer}>
      <MomentField
        label={`Wished for readers (${zone}); empty for no date`}
        name="at"
        defaultValue={wish}
        onChange={setWish}
      />
      {last && (
        <table aria-live="polite" className="w-full text-13">
          <thead>
            <tr className="border-b border-ink text-left">
              <th className="py-1 font-semibold">Stop</th>
              <th className="py-1 font-semibold">by</th>
              <th className="py-1 font-semibold">expected</th>
              <th className="py-1 font-semibold">without, to see</th>
            </tr>
          </thead>
          <tbody>
            {stops.map(({ key, planned: of }, i) => {
              const name = page.row.stops.find((stop) => stop.key === key)?.name ?? key;
              const late = of?.reachBy != null && of.expected > of.reachBy;
              return (
                <tr key={key} className={`border-b border-rule ${late ? "text-red" : of ? "" : "text-rail"}`}>
                  <th scope="row" className="py-1 pr-2 text-left font-normal">
                    {name}
                  </th>
                  <td className="py-1 pr-2">{of?.reachBy == null ? "" : sayDate(of.reachBy, zone, now)}</td>
                  <td className="py-1">{of ? sayDate(of.expected, zone, now) : "left out"}</td>
                  <td className="py-1">
                    {i < stops.length - 1 && (
                      <Checkbox
                        aria-label={`Without ${name}`}
                        checked={without.includes(key)}
                        onChange={(event) => skip(key, event.target.checked)}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {last && at !== null && (
        <p role="status" className={`text-13 ${last.expected > at ? "font-semibold text-red" : ""}`}>
          {capital(saySlack(calendar, slack(calendar, last.expected, at)))}
          {without.length > 0 && ", if what is left out were switched off"}.
        </p>
      )}
      <Button look="go" busy={busy}>
        Save
      </Button>
    </Framed>
  );
}

/** The editions and channels a piece is or was in, and what withdrawing does about each. */
function Elsewhere({ page: { through } }: Pick<PanelProps, "page">) {
  const named = (some: readonly { name: string }[]) => list(some.map(({ name }) => name));
  const out = through.editions.filter((one) => one.releasedAt !== null);
  const filling = through.editions.filter((one) => one.status === "gathering");
  const signed = through.editions.filter((one) => one.status === "signed" || one.status === "held");
  const shown = through.channels.filter((one) => one.shown);
  return (
    <ul className="list-disc pl-4 text-13 text-rail">
      {filling.length > 0 && <li>It is removed from {named(filling)}.</li>}
      {signed.length > 0 && (
        <li>{named(signed)} was signed with this piece: it is held until it is signed without it.</li>
      )}
      {out.length > 0 && <li>It already went out with {named(out)}.</li>}
      {shown.length > 0 && <li>Readers of {named(shown)} keep it.</li>}
    </ul>
  );
}

/** Takes a live piece away from readers. */
export function Withdrawing({ page, answer }: PanelProps) {
  const busy = useBusy();
  return (
    <Framed title="Withdraw" intent="withdraw" page={page} answer={answer}>
      <p className="text-13 text-rail">
        Version {page.live} leaves the reader site, its lists and its feeds at once, and everything planned for it ends.
        The piece stays in {page.row.state}.
      </p>
      <Elsewhere page={page} />
      <TextArea label="Why" name="note" required maxLength={4000} />
      <TextArea
        label="What readers find in its place"
        name="notice"
        required
        maxLength={500}
        defaultValue="This page was withdrawn."
      />
      <TextField
        label="A piece they are led to instead; empty for none"
        name="instead"
        maxLength={120}
        hint="The last part of its address on the reader site."
      />
      <Button look="go" busy={busy}>
        Withdraw
      </Button>
    </Framed>
  );
}
