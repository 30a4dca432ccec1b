import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, Hidden, TextArea, TextField } from "#app/ui/field.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import { counted } from "#core/words/say.ts";
import type { Said } from "#server/pieces/offers.ts";
import { Checklist } from "./fields.tsx";
import { Panelled, type PanelProps, PieceForm, Reviewers, Since } from "./framed.tsx";

/** What a reviewer says of the version they read, and what follows from it. */
export function Deciding({ page, saving, answer }: PanelProps) {
  const busy = useBusy();
  const clock = useClock();
  const { zone } = clock;
  const { decision, version, round } = page;
  const verdicts = decision?.verdicts ?? [];
  const kept = page.threads.filter((thread) => thread.sentAt === null).length;
  const closed = verdicts.filter((one) => one.refusal);
  const picking = verdicts.find((one) => one.choose);
  return (
    <Panelled title={`Decide on version ${version.number}`}>
      <p className="mb-3 text-13 empty:hidden">
        <Since page={page} />
      </p>
      <div className="mb-3 text-13">
        <Checklist page={page} answer={answer} />
      </div>
      <PieceForm intent="decide" page={page} answer={answer}>
        <Hidden name="versionHash" value={version.hash} />
        <p className="text-13 text-rail">
          {decision?.for ? `You decide for ${decision.for}. ` : ""}An approval is for exactly this text{" "}
          <span title={version.hash}>({version.hash.slice(0, 8)})</span>.
        </p>
        {round?.note && (
          <blockquote className="border-l-3 border-track pl-3 text-13">
            {round.note} <span className="text-rail">{round.sender}</span>
          </blockquote>
        )}
        {round?.stuck && <p className="text-13 font-semibold text-red">{round.stuck} You can still return it.</p>}
        {closed.map((one) => (
          <p key={one.verdict} className="border-l-3 border-track pl-3 text-13">
            <b className="font-semibold">{one.name}</b> is closed: {one.refusal?.sentence}{" "}
            {one.refusal?.missing?.join("; ")}
            {one.refusal?.who?.length ? ` Open to: ${one.refusal.who.join(", ")}.` : ""}
          </p>
        ))}
        {picking?.choose && (
          <>
            <p className="text-13">
              <b className="font-semibold">{picking.name}</b> leads to a review whose reviewers you pick.
            </p>
            <Reviewers choose={picking.choose} clock={clock} />
            <MomentField
              label={`Due there (${zone})`}
              name="dueAt"
              defaultValue={picking.proposedDue ? toLocalInput(picking.proposedDue, zone) : ""}
            />
          </>
        )}
        <TextArea
          label="Note"
          name="note"
          hint="Needed to return or decline; the writer is told at once."
          maxLength={4000}
        />
        {page.signs && (
          <TextField
            label="Your name, to sign"
            name="signature"
            autoComplete="off"
            maxLength={120}
            hint={`As it stands here: ${page.signs}. The text is locked while it is being signed; one refusal opens it again and withdraws the other signatures.`}
          />
        )}
        {kept > 0 && (
          <Checkbox name="sends" value="true" defaultChecked>
            Send the {counted(kept, "remark")} I keep back with it
          </Checkbox>
        )}
        <Verdicts verdicts={verdicts} busy={busy || saving} />
      </PieceForm>
    </Panelled>
  );
}

/** A button for everything that may be said, the approval first. */
export function Verdicts({ verdicts, busy }: { verdicts: readonly Said[]; busy: boolean }) {
  return (
    <div className="flex flex-wrap gap-2">
      {verdicts.map(({ verdict, name, refusal }) => (
        <Button
          key={verdict}
          look={verdict === "approve" ? "go" : verdict === "abstain" ? "quiet" : "plain"}
          name="verdict"
          value={verdict}
          busy={busy}
          disabled={refusal !== null}
        >
          {name}
        </Button>
      ))}
    </div>
  );
}
