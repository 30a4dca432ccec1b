import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Status } from "#app/ui/message.tsx";

/** A link of a mail, before it is opened: it confirms an address, or is over and can be sent anew. */
export function AskedLinkView({ good, answer }: { good: boolean; answer: FormAnswer | null }) {
  const renewed = answer?.intent === "renew" && !answer.refusal;
  return (
    <>
      <h1>Your requests</h1>
      {good ? (
        <ActionForm intent="open" answer={answer} className="mt-4 space-y-4">
          <p>This confirms your address, and opens the page of all you asked for in this browser.</p>
          <Button look="go">Open it</Button>
        </ActionForm>
      ) : renewed ? (
        <Status className="mt-4">A new link is on its way to you.</Status>
      ) : (
        <ActionForm intent="renew" answer={answer} className="mt-4 space-y-4">
          <p>This link was used already, or is too old.</p>
          <Button look="go">Send me a new one</Button>
        </ActionForm>
      )}
    </>
  );
}
