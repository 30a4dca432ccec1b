import { useNavigation } from "react-router";
import { fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { Door } from "#app/views/people/door.tsx";
import type { Route } from "../../routes/+types/first.ts";

/** The first person of a publication makes its owner. */
export function FirstView({ actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
  const errors = fieldErrors(actionData, "first");
  return (
    <Door title="Set your publication up">
      <ActForm intent="first" answer={actionData} className="space-y-4">
        <TextField
          label="The publication’s name"
          name="publication"
          maxLength={120}
          autoFocus
          error={errors.publication}
        />
        <TextField
          label="Its time zone"
          name="timeZone"
          placeholder="Europe/Rome"
          hint="Dates and working hours are those of this zone."
          error={errors.timeZone}
        />
        <TextField label="Your name" name="name" autoComplete="name" maxLength={120} error={errors.name} />
        <TextField label="Your mail address" name="email" type="email" autoComplete="username" error={errors.email} />
        <TextField
          label="A password"
          name="password"
          type="password"
          autoComplete="new-password"
          hint="At least ten characters; a few words make a good one."
          error={errors.password}
        />
        <Button look="go" busy={busy}>
          {busy ? "One moment …" : "Begin"}
        </Button>
      </ActForm>
    </Door>
  );
}
