import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { FieldSet, Radio } from "#app/ui/field.tsx";
import { Status } from "#app/ui/message.tsx";
import type { Route } from "../../routes/+types/standin-manner.ts";

/** How the stand-in for an assistant behaves, and where one tells it. */
export function MannerView({ loaderData: { mood, moods }, actionData }: Route.ComponentProps) {
  const busy = useBusy("mood");
  return (
    <main className="mx-auto max-w-3xl px-5 py-8">
      <p className="text-13 text-rail">
        A stand-in for an outside assistant: what is posted to /standins/assistant is answered from word lists.
      </p>
      <h1>Assistant</h1>
      <ActionForm intent="mood" answer={actionData ?? null} className="mt-4 space-y-3">
        <FieldSet legend="From now on it" name="mood">
          {moods.map(({ key, says }) => (
            <Radio key={key} name="mood" value={key} defaultChecked={key === mood}>
              {says}
            </Radio>
          ))}
        </FieldSet>
        <Button look="go" busy={busy}>
          Tell it
        </Button>
        {actionData && !busy && <Status>It {moods.find((one) => one.key === mood)?.says} now.</Status>}
      </ActionForm>
    </main>
  );
}
