import { useEffect, useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, TextField } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Popover } from "#app/ui/layers.tsx";

interface Kept {
  id: string;
  name: string;
  query: string;
  shared: boolean;
  droppable: boolean;
}

/** Keeps what the list is narrowed to, under a name that then stands in the frame; or lets it go again. */
export function KeptFilter({
  query,
  kept,
  answer,
}: {
  query: string;
  kept: readonly Kept[];
  answer: FormAnswer | null;
}) {
  const [open, setOpen] = useState(false);
  const busy = useBusy();
  const known = kept.find((one) => one.query === query);
  // What was kept, or let go, took its button away: its other is in its place.
  useFocusAfter(() => document.querySelector<HTMLElement>("[data-kept] button"));
  useEffect(() => {
    if (known) setOpen(false);
  }, [known]);
  if (known)
    return (
      <span data-kept className="flex items-center gap-2 text-rail">
        kept as {known.name}
        {known.shared && ", for everybody"}
        {known.droppable && (
          <ActionForm intent="drop-filter" answer={answer} sends={{ id: known.id }} className="">
            <Button look="word" busy={busy}>
              Let it go
            </Button>
          </ActionForm>
        )}
      </span>
    );
  return (
    <span data-kept>
      <Popover
        label="Keep this list"
        open={open}
        onOpen={setOpen}
        trigger={
          <Button type="button" look="word">
            Keep this list
          </Button>
        }
      >
        <div className="w-64">
          <ActionForm intent="keep-filter" answer={answer} sends={{ query }}>
            <TextField label="Its name" name="name" required maxLength={40} autoFocus />
            <Checkbox name="shared" value="true">
              in everybody’s frame
            </Checkbox>
            <Button look="go" busy={busy}>
              Keep it
            </Button>
          </ActionForm>
        </div>
      </Popover>
    </span>
  );
}
