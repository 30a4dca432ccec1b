import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";

/** A calendar file, given out at a secret address or not. */
export function CalendarFile({
  title,
  about,
  address,
  answer,
  sends = {},
}: {
  title: string;
  about: string;
  address: string | null;
  answer: FormAnswer | null;
  /** Whose it is, where a page has several. */
  sends?: Readonly<Record<string, string>>;
}) {
  const busy = useBusy();
  return (
    <Part title={title}>
      <Aside className="mt-2 max-w-160">{about} Whoever has the address reads it; you can take it back.</Aside>
      {address && (
        <p className="mt-2 text-13">
          <TextLink to={new URL(address).pathname} reloadDocument className="break-all">
            {address}
          </TextLink>
        </p>
      )}
      <div className="mt-2 flex gap-3">
        <ActionForm intent="give-calendar" label="Give it out" answer={answer} sends={sends} className="contents">
          <Button busy={busy}>{address ? "At a new address instead" : "Give it out at an address"}</Button>
        </ActionForm>
        {address && (
          <ActionForm intent="take-calendar" label="Take it back" answer={answer} sends={sends} className="contents">
            <Button look="quiet" busy={busy}>
              Take the address back
            </Button>
          </ActionForm>
        )}
      </div>
    </Part>
  );
}
