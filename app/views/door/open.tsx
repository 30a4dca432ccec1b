import { Link } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { Door } from "#app/views/people/door.tsx";
import type { Route } from "../../routes/+types/open.ts";

/** Who was let in, or lost a password, chooses one. */
export function OpenView({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useBusy("choose");
  const { opened } = loaderData;
  if (!opened)
    return (
      <Door title="This link opens nothing">
        <p>
          It was used already, or is too old. Links are good once: an invitation for a week, a new password for an hour.
        </p>
        <p className="mt-4 text-13">
          <Link className="text-blue underline underline-offset-3" to="/forgot">
            Have a new one sent
          </Link>
        </p>
      </Door>
    );
  const joins = opened.purpose === "join";
  return (
    <Door title={joins ? `Welcome, ${opened.name}` : "Choose a new password"}>
      <ActionForm intent="choose" answer={actionData} className="space-y-4">
        {joins && (
          <TextField
            label="Your name, as others will read it"
            name="name"
            autoComplete="name"
            defaultValue={opened.name}
            maxLength={120}
          />
        )}
        <Hidden name="email" autoComplete="username" value={opened.email} />
        <TextField
          label="Password"
          name="password"
          type="password"
          autoComplete="new-password"
          hint="At least ten characters; a few words make a good one."
          required
          autoFocus
        />
        <Button look="go" busy={busy}>
          {busy ? "One moment …" : joins ? "Join" : "Keep it and sign in"}
        </Button>
      </ActionForm>
    </Door>
  );
}
