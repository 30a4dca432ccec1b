import { Link } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Door } from "#app/views/people/door.tsx";
import type { Route } from "../../routes/+types/forgot.ts";

/** A new password by a letter, for who has lost theirs. */
export function ForgotView({ actionData }: Route.ComponentProps) {
  const busy = useBusy("forgot");
  const sent = actionData && !actionData.refusal && Object.keys(actionData.fields).length === 0;
  return (
    <Door title="A new password">
      {sent ? (
        <p role="status">
          If that address belongs to somebody here, a mail with a link is on its way. The link is good once, for an
          hour.
        </p>
      ) : (
        <ActionForm intent="forgot" answer={actionData} className="space-y-4">
          <TextField label="Mail address" name="email" inputMode="email" autoComplete="username" autoFocus />
          <Button look="go" busy={busy}>
            {busy ? "Sending …" : "Send me a link"}
          </Button>
        </ActionForm>
      )}
      <p className="mt-8 text-13">
        <Link className="text-blue underline underline-offset-3" to="/sign-in">
          Back to sign-in
        </Link>
      </p>
    </Door>
  );
}
