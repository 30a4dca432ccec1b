import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { NamedField } from "#app/ui/select.tsx";
import { counted } from "#core/words/say.ts";
import type { IntakeAnswer, IntakeData, Row } from "./data.ts";

/** One thing done with all that are chosen. */
export function Many({
  rows,
  page: { reasons, people },
  answer,
  onDone,
}: {
  rows: readonly Row[];
  page: IntakeData;
  answer: IntakeAnswer;
  onDone(): void;
}) {
  const items = JSON.stringify(rows.map(({ id, revision, title }) => ({ itemId: id, revision, title })));
  const [declines, gives] = [useBusy("decline-many"), useBusy("give-many")];
  return (
    <section
      aria-label="What is chosen"
      className="sticky bottom-0 z-20 mt-3 flex flex-wrap items-end gap-x-6 gap-y-2 border-t-2 border-ink bg-paper py-2 text-13"
    >
      <p role="status" className="w-full font-semibold">
        {counted(rows.length, "thing")} chosen{" "}
        <Button look="word" type="button" onClick={onDone}>
          None
        </Button>
      </p>
      <ActionForm intent="decline-many" answer={answer} sends={{ items }} className="flex flex-wrap items-end gap-2">
        <TextField label="Decline them, because" name="reason" required maxLength={1000} suggests={reasons} />
        <Button busy={declines}>Decline</Button>
      </ActionForm>
      <ActionForm intent="give-many" answer={answer} sends={{ items }} className="flex flex-wrap items-end gap-2">
        <NamedField label="Give them to" name="personId" none="Choose" options={people} />
        <Button busy={gives}>Give</Button>
      </ActionForm>
    </section>
  );
}
