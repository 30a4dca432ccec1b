import { Link, useSearchParams } from "react-router";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { PickField } from "#app/ui/combobox.tsx";
import { Hidden, TextArea, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { Option, OptionGroup, SelectField } from "#app/ui/select.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { Framed, Panelled, type PanelProps, Reviewers, sayLoad } from "./framed.tsx";

/** What can be done with a piece beside its steps: one line each, with what it is for. */
export function Further({ page }: Pick<PanelProps, "page">) {
  const to = `/pieces/${page.row.slug}?do=`;
  const lines = [
    page.recall && ["recall", `Call it back to ${page.recall.to}`, "It was sent too early, or to the wrong place."],
    page.hands && ["hand", "Hand your seat on", "Somebody else decides in your place; the writer is told who."],
    page.commentable && ["opinion", "Ask for an opinion", "Somebody reads and remarks; they have no vote."],
    page.assisted.open && [
      `/pieces/${page.row.slug}/assistant`,
      `Ask ${page.assisted.name}`,
      "An outline, a draft, keywords, fewer words, a check: as a proposal.",
    ],
    page.routing && [
      "pass",
      "Who has it, and until when",
      "Pass a seat or the piece on, add a reviewer, change the date.",
    ],
    page.routing && ["place", "Where it belongs", "Another section, kind or author."],
    page.configure && ["line", "Put it on another line", "Another workflow for this piece alone."],
    page.overrides.length > 0 && ["override", "Move it past its rules", "Rare, with a reason, flagged on the piece."],
    page.wishes && ["wish", "The date wished for", "Another, and what that means for its stops."],
    (page.through.open || page.through.fills) && [
      "through",
      "Through other channels",
      "Into an edition, or out at a date of its own beside the reader site.",
    ],
    page.embargoes && ["embargo", "Embargo", "Nothing of it reaches readers before a time, whoever plans it."],
    page.withdrawable && ["until", "Until when readers see it", "It leaves them by itself at a time."],
    page.withdrawable && ["withdraw", "Withdraw", "Out of lists and feeds, with a notice in its place."],
    page.live !== null && [
      `/pieces/new?from=${page.row.slug}`,
      "Begin another from it",
      "Another kind, channel or length, with its words; each leads to the other.",
    ],
    page.routing && ["model", "Keep it as a model text", "Others of its kind may begin from its words."],
    page.abandonable && ["abandon", "Give the revision up", "Readers go on seeing what they see."],
    page.deletable && ["delete", "Delete it", "Hidden from everybody; it can be brought back."],
  ].filter((line) => Array.isArray(line)) as [string, string, string][];
  return (
    <Panelled title="What else">
      {lines.length === 0 && <p className="text-13 text-rail">Nothing else is yours to do here.</p>}
      <ul className="text-13">
        {lines.map(([key, name, about]) => (
          <li key={key} className="border-b border-rule py-1.5">
            <Link to={key.startsWith("/") ? key : `${to}${key}`} className="font-semibold text-blue">
              {name}
            </Link>
            <p className="text-rail">{about}</p>
          </li>
        ))}
      </ul>
    </Panelled>
  );
}

/** Keeps what it holds as a text others of its kind may begin from. */
export function KeepingModel({ page, answer }: PanelProps) {
  const busy = useBusy("keep-model");
  return (
    <Framed title="Keep it as a model text" intent="keep-model" page={page} answer={answer}>
      <TextField
        label="What is it called"
        name="name"
        required
        maxLength={80}
        hint="Of one name the later one stays. Its title is left out."
      />
      <Button look="go" busy={busy}>
        Keep it
      </Button>
    </Framed>
  );
}

/** Hands one's own seat to somebody else. */
export function HandingOn({ page, answer }: PanelProps) {
  const busy = useBusy();
  const clock = useClock();
  if (!page.hands) return null;
  return (
    <Framed title="Hand your seat on" intent="seat-to" page={page} answer={answer}>
      <Hidden name="seatId" value={page.hands.seatId} />
      <PickField
        label="To whom"
        name="personId"
        placeholder="whom"
        hint={page.hands.people.length === 0 ? "Nobody else may decide here just now." : undefined}
        choices={page.hands.people.map((one) => ({ key: one.id, name: one.name, about: sayLoad(one, clock) }))}
      />
      <Button look="go" busy={busy} disabled={page.hands.people.length === 0}>
        Hand it on
      </Button>
    </Framed>
  );
}

/** Asks somebody what they think of a piece, without giving them a seat. */
export function AskingOpinion({ page, answer }: PanelProps) {
  const busy = useBusy();
  return (
    <Framed title="Ask for an opinion" intent="opinion" page={page} answer={answer}>
      <p className="text-13 text-rail">
        They are told, read it and say what they think in the margin. They have no vote.
      </p>
      <PickField
        label="Whom"
        name="personId"
        placeholder="whom"
        choices={page.mentionable.map(({ id, name }) => ({ key: id, name }))}
      />
      <TextArea label="What you would like to know" name="note" maxLength={4000} />
      <Button look="go" busy={busy}>
        Ask
      </Button>
    </Framed>
  );
}

/** Calls a piece back from where it was sent. */
export function Recalling({ page, answer }: PanelProps) {
  const busy = useBusy();
  const { recall } = page;
  if (!recall) return null;
  return (
    <Framed title={`Call it back to ${recall.to}`} intent="recall" page={page} answer={answer}>
      <p className="text-13 text-rail">
        {recall.reasoned
          ? `An open review in ${recall.from} ends, and what was decided in it stays on record. Those who have it are told why.`
          : `Nobody has acted on it in ${recall.from} yet.`}
      </p>
      <TextArea label={recall.reasoned ? "Why" : "Note"} name="note" required={recall.reasoned} maxLength={4000} />
      <Button look="go" busy={busy}>
        {busy ? "Calling it back …" : "Call it back"}
      </Button>
    </Framed>
  );
}

/** Takes a closed step all the same: what it passes by is said, and a reason asked. */
export function Overriding({ page, answer }: PanelProps) {
  const clock = useClock();
  const busy = useBusy();
  const [words, setWords] = useSearchParams();
  const step = page.overrides.find((one) => one.key === words.get("step")) ?? page.overrides[0];
  if (!step) return null;
  return (
    <Framed title="Move it past its rules" intent="override" page={page} answer={answer}>
      <SelectField
        label="The step"
        name="transition"
        value={step.key}
        onChoose={(value) => setWords({ do: "override", step: value }, { replace: true, preventScrollReset: true })}
      >
        {page.overrides.map((one) => (
          <Option key={one.key} value={one.key}>
            {one.name}, to {one.to}
          </Option>
        ))}
      </SelectField>
      <div className="border-l-3 border-red pl-3 text-13">
        <p className="font-semibold">It passes by:</p>
        <ul>
          {step.past.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </div>
      <p className="text-13 text-rail">
        The piece is flagged, and its author told. What reaches readers passes the last look all the same.
      </p>
      {step.choose && <Reviewers choose={step.choose} clock={clock} />}
      <TextArea label="Why" name="note" required maxLength={4000} />
      <Button look="go" busy={busy}>
        {busy ? "Moving it …" : step.name}
      </Button>
    </Framed>
  );
}

/** Deletes a piece: hidden, and to be brought back. */
export function Deleting({ page, answer }: PanelProps) {
  const busy = useBusy();
  return (
    <Framed title="Delete it" intent="delete" page={page} answer={answer}>
      <p className="text-13 text-rail">
        It is hidden from everybody at once, and a planned release is taken back. Whoever may delete it finds it under{" "}
        <Link to="/pieces/deleted" className="text-blue underline">
          deleted pieces
        </Link>{" "}
        and can bring it back.
      </p>
      {page.live !== null && page.withdrawable && <Message>Readers see it. Withdraw it first.</Message>}
      <TextArea label="Why" name="note" required maxLength={4000} />
      <Button look="go" busy={busy}>
        {busy ? "Deleting …" : "Delete it"}
      </Button>
    </Framed>
  );
}

/** Gives a revision up: readers see what they see, and the piece is live again. */
export function Abandoning({ page, answer }: PanelProps) {
  const busy = useBusy();
  return (
    <Framed title="Give the revision up" intent="abandon" page={page} answer={answer}>
      <p className="text-13 text-rail">
        The piece is live again as version {page.live}, and an open review or a planned release of the revision ends.
        The revision’s words stay among the versions.
      </p>
      <TextArea label="Note" name="note" maxLength={4000} />
      <Button look="go" busy={busy}>
        {busy ? "Giving up …" : "Give it up"}
      </Button>
    </Framed>
  );
}

/** Puts this one piece on another workflow, for who configures them. */
export function OnAnotherLine({ page, answer }: PanelProps) {
  const busy = useBusy();
  return (
    <Framed title="Put it on another line" intent="line" page={page} answer={answer}>
      <p className="text-13 text-rail">
        It travels on <b className="font-semibold text-ink">{page.workflow}</b>, now in {page.row.state}. The choice is
        for this piece alone; open reviews close, and its author is told. A stop behind a review it has not passed needs
        who may move pieces past their rules.
      </p>
      <SelectField label="It goes on at" name="on" defaultValue="">
        <Option value="">Choose</Option>
        {page.lines.map((line) => (
          <OptionGroup key={line.key} label={line.name}>
            {line.states.map((state) => (
              <Option key={state.key} value={`${line.key}/${state.key}`}>
                {line.name}: {state.name}
              </Option>
            ))}
          </OptionGroup>
        ))}
      </SelectField>
      <TextArea label="Why" name="note" required maxLength={4000} />
      <Button look="go" busy={busy}>
        {busy ? "Putting it there …" : "Put it there"}
      </Button>
    </Framed>
  );
}
