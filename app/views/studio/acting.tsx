import { useId, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { MomentInput } from "#app/ui/date-field.tsx";
import { Checkbox, TextArea } from "#app/ui/field.tsx";
import { When } from "#app/views/time/clock.tsx";
import {
  choices,
  decideAs,
  decisionsLead,
  offers,
  openSeats,
  personName,
  type Rehearsal,
  reviewOf,
  type Stage,
  sayWho,
  seatOf,
  take,
} from "#core/rehearsal/rehearse.ts";
import { sayStuck, type Verdict } from "#core/review/round.ts";
import { sayFlag, VOID_REASONS } from "#core/review/seating.ts";
import { fromLocalInput, toLocalInput } from "#core/time/local.ts";
import { list } from "#core/words/say.ts";
import { stateOf } from "#core/workflow/document.ts";
import type { Move } from "#core/workflow/moves.ts";

/** Where the piece is, since when, by when, and who has it. */
export function Where({
  stage,
  rehearsal,
  onLater,
}: {
  stage: Stage;
  rehearsal: Rehearsal;
  onLater(at: number): void;
}) {
  const id = useId();
  const zone = stage.calendar.timeZone;
  const state = stateOf(stage.workflow, rehearsal.state);
  const open = openSeats(stage, rehearsal);
  const outcome = reviewOf(stage, rehearsal);
  return (
    <>
      <h2 className="text-19!">{state.name}</h2>
      <p className="text-13">
        {rehearsal.dueAt !== null && (
          <>
            Due <When at={rehearsal.dueAt} />.{" "}
          </>
        )}
        {rehearsal.assigned.length > 0 &&
          `Assigned to ${list(rehearsal.assigned.map((key) => personName(stage, key)))}. `}
        {rehearsal.publishAt !== null && (
          <>
            Wished for <When at={rehearsal.publishAt} />.
          </>
        )}
      </p>
      {rehearsal.round && (
        <ul className="mt-2 border-t border-rule text-13">
          {rehearsal.round.seats.map((seat, place) => {
            const said = rehearsal.round?.decisions.findLast((one) => one.seat === String(place));
            return (
              <li
                key={seat.personId + (seat.forPersonId ?? "")}
                className="flex justify-between border-b border-rule py-1"
              >
                <span className={seat.voidReason ? "text-rail" : "font-semibold"}>
                  {personName(stage, seat.personId)}
                  {seat.forPersonId ? ` for ${personName(stage, seat.forPersonId)}` : ""}
                </span>
                <span className="text-rail">
                  {(seat.voidReason && VOID_REASONS[seat.voidReason]) ??
                    (seat.flag && sayFlag(seat.flag, personName(stage, seat.personId))) ??
                    (said ? SAID[said.verdict] : open.includes(place) ? "asked to decide" : "not yet")}
                </span>
              </li>
            );
          })}
        </ul>
      )}
      {rehearsal.round && outcome?.kind === "open" && outcome.stuck && (
        <p className="mt-2 text-13 font-semibold text-red">
          {sayStuck(outcome.stuck, { rule: state.review?.rule ?? "any", count: state.review?.count ?? 1 })}
        </p>
      )}
      <label htmlFor={id} className="mt-3 block text-13 text-rail">
        The rehearsal&apos;s time
      </label>
      <MomentInput
        look="small"
        id={id}
        value={toLocalInput(rehearsal.now, zone)}
        onChange={(value) => {
          const at = fromLocalInput(value, zone);
          if (at !== null) onLater(at);
        }}
      />
    </>
  );
}

const SAID: Record<Verdict, string> = {
  approve: "approved",
  return: "returned",
  decline: "declined",
  abstain: "abstained",
};

/** What the person acting may do, and what is closed to them with the reason. */
export function Actions({
  stage,
  rehearsal,
  person,
  go,
  onTick,
}: {
  stage: Stage;
  rehearsal: Rehearsal;
  person: string;
  go(next: ReturnType<typeof take>): boolean;
  onTick(): void;
}) {
  const [note, setNote] = useState("");
  const [publish, setPublish] = useState("");
  const [chosen, setChosen] = useState<string[]>([]);
  const id = useId();
  const moves = offers(stage, rehearsal, person);
  const mine = seatOf(stage, rehearsal, person);
  const { review } = stateOf(stage.workflow, rehearsal.state);
  const word = (key: string | undefined) => stage.workflow.transitions.find((step) => step.key === key)?.name;
  const asksDate = moves.some((move) => move.refusals.length === 0 && move.asks.includes("publish-date"));
  const picking = [
    ...moves.filter((move) => move.refusals.length === 0),
    ...decisionsLead(stage, rehearsal, person),
  ].filter((move) => move.choose.length > 0);
  const filled = { note, publishAt: fromLocalInput(publish, stage.calendar.timeZone), chosen };
  const deciding = (verdict: Verdict) => () => void go(decideAs(stage, rehearsal, person, verdict, filled));
  return (
    <div className="mt-4 space-y-3">
      {moves.length === 0 && !review && (
        <p className="text-13 text-rail">No step leads on from here: this is an end.</p>
      )}
      {rehearsal.openChecklist.length > 0 && (
        <p className="flex items-start justify-between gap-2 text-13">
          <span>To be ticked: {rehearsal.openChecklist.join("; ")}.</span>
          <Button type="button" className="h-6! shrink-0 px-2! text-12!" onClick={onTick}>
            Tick all
          </Button>
        </p>
      )}
      {picking.flatMap((move) => choices(stage, rehearsal, move)).length > 0 && (
        <fieldset className="text-13">
          <legend className="font-semibold">Who reviews it</legend>
          {picking
            .flatMap((move) => choices(stage, rehearsal, move))
            .map((candidate) => (
              <Checkbox
                className="size-4"
                checked={chosen.includes(candidate.id)}
                onChange={(event) =>
                  setChosen(
                    event.target.checked ? [...chosen, candidate.id] : chosen.filter((one) => one !== candidate.id),
                  )
                }
                key={candidate.key}
              >
                {candidate.name} {candidate.away && <span className="text-rail">away</span>}
              </Checkbox>
            ))}
        </fieldset>
      )}
      <TextArea label="Note" value={note} onChange={(event) => setNote(event.target.value)} />
      {asksDate && (
        <div>
          <label htmlFor={id} className="block text-13 font-semibold">
            Wished for readers
          </label>
          <MomentInput look="small" id={id} value={publish} onChange={setPublish} />
        </div>
      )}
      {review && mine.ok && (
        <div className="flex flex-wrap gap-2">
          <Button type="button" look="go" onClick={deciding("approve")}>
            {word(review.approve) ?? "Approve"}
          </Button>
          <Button type="button" onClick={deciding("return")}>
            {word(review.return) ?? "Return"}
          </Button>
          {review.decline && (
            <Button type="button" onClick={deciding("decline")}>
              {word(review.decline)}
            </Button>
          )}
          <Button type="button" look="quiet" onClick={deciding("abstain")}>
            Abstain
          </Button>
        </div>
      )}
      {review && !mine.ok && <p className="text-13 text-rail">{mine.refusal.sentence}</p>}
      <ul className="space-y-2">
        {moves.map((move) => (
          <li key={move.transition.key}>
            <Step
              stage={stage}
              move={move}
              onTake={() => void go(take(stage, rehearsal, person, move.transition.key, filled))}
            />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Step({ stage, move, onTake }: { stage: Stage; move: Move; onTake(): void }) {
  const [refusal] = move.refusals;
  if (!refusal)
    return (
      <Button type="button" onClick={onTake}>
        {move.transition.name}
      </Button>
    );
  const who = sayWho(stage, refusal);
  return (
    <>
      <Button
        look="bare"
        type="button"
        aria-disabled="true"
        className="h-7 cursor-not-allowed rounded border border-rule px-3 text-13 font-semibold text-rail"
      >
        {move.transition.name}
      </Button>
      <p className="mt-0.5 text-12 text-rail">
        {refusal.sentence} {refusal.missing?.join("; ")} {who.length > 0 && `Open to: ${list(who)}.`}
      </p>
    </>
  );
}
