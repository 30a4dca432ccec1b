import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextArea, TextField } from "#app/ui/field.tsx";
import { MailField } from "./mail-field.tsx";

/** Where a reader says that something in a released piece is not right. */
export function SayView({
  piece,
  answer,
}: {
  piece: { slug: string; title: string };
  answer: (FormAnswer & { typed: Record<string, string>; sent?: boolean }) | null;
}) {
  const back = (
    <a href={`/read/${piece.slug}`} className="text-blue underline underline-offset-3">
      {piece.title}
    </a>
  );
  if (answer?.sent)
    return (
      <>
        <h1>Thank you</h1>
        <p role="status" className="mt-4">
          It is with whoever looks after this piece.
        </p>
        <p className="mt-4">{back}</p>
      </>
    );
  const typed: Record<string, string> = answer?.typed ?? {};
  return (
    <>
      <h1>Something not right?</h1>
      <p className="mt-2 break-words">{back}</p>
      <ActionForm intent="say" answer={answer} className="mt-6 space-y-5">
        <TextArea
          label="What is not right?"
          name="words"
          rows={5}
          maxLength={2000}
          required
          defaultValue={typed.words ?? ""}
        />
        <TextArea
          label="The words it is about (if you like)"
          name="quote"
          rows={2}
          maxLength={600}
          defaultValue={typed.quote ?? ""}
          hint="Copied from the page."
        />
        <div className="grid gap-5 sm:grid-cols-2">
          <TextField
            label="Your name (if you like)"
            name="name"
            autoComplete="name"
            maxLength={100}
            defaultValue={typed.name ?? ""}
          />
          <MailField
            label="Your mail address (if you like)"
            defaultValue={typed.email ?? ""}
            hint="Only to answer you."
          />
        </div>
        <Button look="go">Send it</Button>
      </ActionForm>
    </>
  );
}
