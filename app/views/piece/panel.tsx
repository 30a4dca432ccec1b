import { Form, Link, useNavigation } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { PanelHead } from "#app/ui/beside.tsx";
import { Button } from "#app/ui/button.tsx";
import { SelectField, TextArea, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import type { Step } from "#server/pieces/offers.ts";
import { Files } from "./files.tsx";
import { Guests } from "./guests.tsx";
import type { PiecePage } from "./page.ts";
import { Shared } from "./shared.tsx";

interface Props {
  page: PiecePage;
  /** Whether words are still on their way to the server. */
  saving: boolean;
  answer: FormAnswer | null | undefined;
}

/** Beside the text: the form of what the person is about to do, named in the address. */
export function Panel({ doing, ...rest }: Props & { doing: string }) {
  const step = rest.page.steps.find((one) => `step-${one.key}` === doing);
  if (step && !step.refusal) return <Sending step={step} {...rest} />;
  if (doing === "decide" && rest.page.decision) return <Deciding {...rest} />;
  if (doing === "line" && rest.page.configure) return <OnAnotherLine {...rest} />;
  if (doing === "guests" && rest.page.invites) return <Guests page={rest.page} answer={rest.answer} />;
  if (doing === "files") return <Files page={rest.page} />;
  if (doing === "take") return <TakeAlong page={rest.page} />;
  if (doing === "abandon" && rest.page.abandonable) return <Abandoning {...rest} />;
  if (doing === "plan" && rest.page.schedulable) return <Planning {...rest} />;
  return null;
}

function Framed({
  title,
  intent,
  page,
  answer,
  children,
}: Omit<Props, "saving"> & { title: string; intent: string; children: React.ReactNode }) {
  const refusal = answer?.intent === intent ? answer.refusal : null;
  return (
    <section aria-label={title} className="-mx-4 -mt-4 border-b border-ink bg-paper px-4 py-4">
      <PanelHead title={title} leave={`/pieces/${page.row.slug}`} />
      <Form method="post" className="space-y-3">
        <Shared page={page} intent={intent} />
        {refusal && (
          <Message
            more={[...(refusal.missing ?? []), ...(refusal.who?.length ? [`Open to: ${refusal.who.join(", ")}.`] : [])]}
          >
            {refusal.sentence}
            {refusal.code === "stale" && (
              <>
                {" "}
                <Link to="" reloadDocument className="text-blue underline">
                  Show it as it is now
                </Link>
              </>
            )}
          </Message>
        )}
        {children}
      </Form>
    </section>
  );
}

const useBusy = () => useNavigation().state !== "idle";

function Sending({ step, page, saving, answer }: Props & { step: Step }) {
  const { zone } = useClock();
  const busy = useBusy();
  const fields = answer?.intent === "send" ? answer.fields : {};
  const dueAt = step.proposedDue ? toLocalInput(step.proposedDue, zone) : "";
  const publishAt = page.row.publishAt ? toLocalInput(page.row.publishAt, zone) : "";
  const ends = step.toKind === "closed" || step.toKind === "live";
  return (
    <Framed title={step.name} intent="send" page={page} answer={answer}>
      <input type="hidden" name="transition" value={step.key} />
      <input type="hidden" name="revision" value={page.row.revision} />
      <p className="text-13 text-rail">
        It goes to <b className="font-semibold text-ink">{step.to}</b> as version {page.version.number}.
      </p>
      {step.choose && (
        <fieldset>
          <legend className="mb-1 text-13 font-semibold">
            {step.choose.number === 1 ? "Who reviews it" : `Choose ${step.choose.number} to review it`}
          </legend>
          {step.choose.people.map((person, i) => (
            <label key={person.id} className="flex items-baseline gap-2 py-0.5 text-13">
              <input
                type={step.choose?.number === 1 ? "radio" : "checkbox"}
                name="reviewers[]"
                value={person.id}
                defaultChecked={i < (step.choose?.number ?? 0) && !person.away}
                className="accent-blue"
              />
              {person.name}
              <span className="text-rail">
                {[
                  person.load === 0 ? "free" : person.load === 1 ? "1 waiting" : `${person.load} waiting`,
                  person.away && "away",
                ]
                  .filter(Boolean)
                  .join(", ")}
              </span>
            </label>
          ))}
          {step.choose.people.length === 0 && <p className="text-13 text-red">Nobody may review it just now.</p>}
        </fieldset>
      )}
      <TextArea
        label={step.asks.includes("note") ? "Note: what changed, and why" : "Note"}
        name="note"
        required={step.asks.includes("note")}
        error={fields.note}
        maxLength={4000}
      />
      {!ends && (
        <>
          <TextField
            label="Due"
            type="datetime-local"
            name="dueAt"
            defaultValue={dueAt}
            error={fields.dueAt}
            hint={step.proposedDue ? "Proposed by the working calendar." : undefined}
          />
          <TextField
            label="Wished for readers"
            type="datetime-local"
            name="publishAt"
            defaultValue={publishAt}
            required={step.asks.includes("publish-date")}
            error={fields.publishAt}
          />
          <SelectField label="Urgency" name="urgency" defaultValue={page.row.urgency}>
            <option value="normal">normal</option>
            <option value="urgent">urgent</option>
          </SelectField>
        </>
      )}
      <Button look="go" disabled={busy || saving}>
        {saving ? "Saving the text …" : busy ? "Sending …" : step.name}
      </Button>
    </Framed>
  );
}

function Deciding({ page, saving, answer }: Props) {
  const busy = useBusy();
  const { decision, version } = page;
  const fields = answer?.intent === "decide" ? answer.fields : {};
  return (
    <Framed title={`Decide on version ${version.number}`} intent="decide" page={page} answer={answer}>
      <input type="hidden" name="versionHash" value={version.hash} />
      <p className="text-13 text-rail">
        {decision?.for ? `You decide for ${decision.for}. ` : ""}An approval is for exactly this text{" "}
        <span title={version.hash}>({version.hash.slice(0, 8)})</span>.
      </p>
      {page.round?.note && (
        <blockquote className="border-l-3 border-track pl-3 text-13">
          {page.round.note} <span className="text-rail">{page.round.sender}</span>
        </blockquote>
      )}
      <TextArea
        label="Note"
        name="note"
        error={
          fields.note ??
          (answer?.intent === "decide" && answer.refusal?.field === "note" ? answer.refusal.sentence : undefined)
        }
        hint="Needed to return or decline; the writer is told at once."
        maxLength={4000}
      />
      <div className="flex flex-wrap gap-2">
        <Button look="go" name="verdict" value="approve" disabled={busy || saving}>
          {decision?.words.approve ?? "Approve"}
        </Button>
        <Button name="verdict" value="return" disabled={busy || saving}>
          {decision?.words.return ?? "Return"}
        </Button>
        {decision?.words.decline && (
          <Button name="verdict" value="decline" disabled={busy || saving}>
            {decision.words.decline}
          </Button>
        )}
        <Button look="quiet" name="verdict" value="abstain" disabled={busy || saving}>
          Abstain
        </Button>
      </div>
    </Framed>
  );
}

function Planning({ page, answer }: Props) {
  const { zone } = useClock();
  const busy = useBusy();
  const fields = answer?.intent === "plan" ? answer.fields : {};
  const at = page.plan?.at ?? page.row.publishAt;
  return (
    <>
      <Framed title="Plan the release" intent="plan" page={page} answer={answer}>
        <input type="hidden" name="revision" value={page.row.revision} />
        <p className="text-13 text-rail">
          Version {page.version.number} leaves by itself at this time, if everything is still right then.
        </p>
        <TextField
          label={`Date and time (${zone})`}
          type="datetime-local"
          name="at"
          defaultValue={at ? toLocalInput(at, zone) : ""}
          required
          error={fields.at}
        />
        <Button look="go" disabled={busy}>
          {page.plan ? "Move the release" : "Plan the release"}
        </Button>
      </Framed>
      {page.plan && (
        <Framed title="Take the plan back" intent="cancel" page={page} answer={answer}>
          <input type="hidden" name="revision" value={page.row.revision} />
          <Button disabled={busy}>Take it off the schedule</Button>
        </Framed>
      )}
    </>
  );
}

/** The piece as a file, in the open forms. */
function TakeAlong({ page }: Pick<Props, "page">) {
  const forms: [string, string][] = [
    ["docx", "A document (DOCX)"],
    ["md", "Markdown, which comes back unchanged"],
    ["html", "HTML"],
  ];
  return (
    <section aria-label="Take it along" className="-mx-4 -mt-4 border-b border-ink bg-paper px-4 py-4">
      <PanelHead title="Take it along" leave={`/pieces/${page.row.slug}`} />
      <p className="mb-2 text-13 text-rail">Version {page.version.number} as a file:</p>
      <ul className="space-y-1.5">
        {forms.map(([format, words]) => (
          <li key={format}>
            <a
              href={`/pieces/${page.row.slug}/document?as=${format}&version=${page.version.number}`}
              className="font-semibold text-blue"
            >
              {words}
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Gives a revision up: readers see what they see, and the piece is live again. */
function Abandoning({ page, answer }: Props) {
  const busy = useBusy();
  return (
    <Framed title="Give the revision up" intent="abandon" page={page} answer={answer}>
      <input type="hidden" name="revision" value={page.row.revision} />
      <p className="text-13 text-rail">
        The piece is live again as version {page.live}, and an open review or a planned release of the revision ends.
        The revision’s words stay among the versions.
      </p>
      <TextArea label="Note" name="note" maxLength={4000} error={answer?.fields.note} />
      <Button look="go" disabled={busy}>
        {busy ? "Giving up …" : "Give it up"}
      </Button>
    </Framed>
  );
}

/** Puts this one piece on another workflow, for who configures them. */
function OnAnotherLine({ page, answer }: Props) {
  const busy = useBusy();
  const error = answer?.intent === "line" ? answer.fields.on : undefined;
  return (
    <Framed title="Put it on another line" intent="line" page={page} answer={answer}>
      <input type="hidden" name="revision" value={page.row.revision} />
      <p className="text-13 text-rail">
        It travels on <b className="font-semibold text-ink">{page.workflow}</b>, now in {page.row.state}. The choice is
        for this piece alone; open reviews close, and its author is told.
      </p>
      <SelectField label="It goes on at" name="on" error={error} defaultValue="">
        <option value="">Choose</option>
        {page.lines.map((line) => (
          <optgroup key={line.key} label={line.name}>
            {line.states.map((state) => (
              <option key={state.key} value={`${line.key}/${state.key}`}>
                {line.name}: {state.name}
              </option>
            ))}
          </optgroup>
        ))}
      </SelectField>
      <Button look="go" disabled={busy}>
        {busy ? "Putting it there …" : "Put it there"}
      </Button>
    </Framed>
  );
}
