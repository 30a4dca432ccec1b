import { useNavigation } from "react-router";
import { fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { Door } from "#app/views/people/door.tsx";
import { GuestPiece } from "#app/views/people/guest-piece.tsx";
import type { Route } from "../../routes/+types/guest.ts";

/** A piece as somebody reads it who was given a link. */
export function GuestView({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
  const answer = actionData ?? null;
  if (loaderData.over)
    return (
      <Door title={loaderData.publication}>
        <p>This link is over: it was taken back, or its time has come. Ask whoever sent it to you.</p>
      </Door>
    );
  if (loaderData.piece) return <GuestPiece {...loaderData} piece={loaderData.piece} answer={answer} />;
  return (
    <Door title={loaderData.publication}>
      <p className="mb-4">You are asked to look at one piece before it appears.</p>
      <ActForm intent="name" answer={answer} className="space-y-4">
        <TextField
          label="Your name"
          name="name"
          autoComplete="name"
          required
          maxLength={100}
          autoFocus
          hint="What you say bears it."
          error={fieldErrors(answer, "name").name}
        />
        <Button look="go" busy={busy}>
          Show me the piece
        </Button>
      </ActForm>
    </Door>
  );
}
