import { Form, useNavigation } from "react-router";
import { z } from "zod";
import { fieldErrors } from "#app/form-answer.ts";
import { guestBy } from "#app/guest.ts";
import { answered, guarded, misread, notFound, readForm, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { Door } from "#app/views/people/door.tsx";
import { GuestPiece } from "#app/views/people/guest-piece.tsx";
import { Refused } from "#app/views/people/refused.tsx";
import { addComment } from "#server/comments/commands.ts";
import { nameGuest } from "#server/guests/commands.ts";
import { guestPage } from "#server/guests/queries.ts";
import { decide, decideInput } from "#server/passage/deciding.ts";
import type { Route } from "./+types/guest.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const { link, viewer } = await guestBy(context, params.secret);
  const clock = { now: viewer.now, zone: viewer.zone };
  const shown = link.named === null ? null : await guestPage(context.db, viewer, link);
  if (link.named !== null && !shown) throw notFound();
  return { publication: viewer.places.name, clock, piece: shown };
}

const FORMS = {
  name: z.object({ name: z.string().trim().min(1, "Your name.").max(100, "At most 100 characters fit.") }),
  comment: z.object({ body: z.string() }),
  decide: decideInput.omit({ pieceId: true, dueAt: true }),
};

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const { link, viewer } = await guestBy(context, params.secret);
  const { pieceId } = link;
  // Not the request's own: whoever is signed in in this browser has no part in it.
  const act = { ...context.act(viewer.id), origin: `${context.address}, guest link` };
  const form = await request.formData();
  const intent = String(form.get("intent"));
  if (intent === "name") {
    const read = readForm(FORMS.name, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => nameGuest(act, read.values.name));
    return "value" in done ? answered(intent) : done;
  }
  if (intent === "comment") {
    const read = readForm(FORMS.comment, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => addComment(act, { pieceId, ...read.values }));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "decide") throw notFound();
  const read = readForm(FORMS.decide, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => decide(act, { pieceId, ...read.values }));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: (loaderData as { publication?: string } | undefined)?.publication ?? "Elenco" },
  { name: "robots", content: "noindex" },
];

export default function Guest({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
  const answer = actionData ?? null;
  if (loaderData.piece) return <GuestPiece {...loaderData} piece={loaderData.piece} answer={answer} />;
  return (
    <Door title={loaderData.publication}>
      <p className="mb-4">You are asked to look at one piece before it appears.</p>
      <Form method="post" className="space-y-4">
        <Hidden name="intent" value="name" />
        <Refused answer={answer} intent="name" />
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
      </Form>
    </Door>
  );
}
