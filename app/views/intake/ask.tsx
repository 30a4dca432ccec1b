import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Aside, Message, Status } from "#app/ui/message.tsx";
import askScript from "#app/workers/ask.ts?worker&url";
import type { Route } from "../../routes/+types/ask.ts";
import { AnswerFields } from "./answer-fields.tsx";
import { MailField } from "./mail-field.tsx";

type Props = Route.ComponentProps;

/** A request's form, for whoever has its address: plain, and whole without a script. */
export function AskView({
  page,
  answer,
  prefix,
}: {
  page: Props["loaderData"];
  answer: NonNullable<Props["actionData"]> | null;
  prefix: string;
}) {
  const { form, known, shut, earliest } = page;
  const sent = answer && "sent" in answer ? answer.sent : null;
  if (shut)
    return (
      <>
        <h1>{form.name}</h1>
        <p className="mt-4">This form is for the team.</p>
        <p className="mt-4">
          <a href={`/sign-in?to=/ask/${form.key}`} className="text-blue underline underline-offset-3">
            Sign in
          </a>
        </p>
      </>
    );
  if (sent)
    return (
      <>
        <h1>{sent.confirms ? "One thing is left to do" : "It is with us"}</h1>
        <p role="status" className="mt-4">
          {sent.confirms
            ? `We wrote to ${sent.email}. Follow the link in that mail: then your request is with us, and its page shows what becomes of it.`
            : "We tell you what becomes of it, and your page shows it too."}
        </p>
        {!sent.confirms && (
          <p className="mt-4">
            <a href="/asked" className="text-blue underline underline-offset-3">
              All you asked for
            </a>
          </p>
        )}
      </>
    );
  const typed: Record<string, string> = answer?.typed ?? {};
  const looked = answer && "looked" in answer ? answer.looked : null;
  const again = Object.keys(typed).length > 0;
  return (
    <>
      <h1>{form.name}</h1>
      {form.about && <p className="mt-2 whitespace-pre-line">{form.about}</p>}
      <ActionForm
        intent="send"
        answer={answer}
        encType="multipart/form-data"
        className="mt-6 space-y-5"
        label={form.name}
      >
        <TextField label="What is it about?" name="title" required maxLength={200} defaultValue={typed.title ?? ""} />
        <AnswerFields fields={form.fields} prefix={prefix} typed={typed} />
        <FileDrop
          label="Files (if you like)"
          name="files"
          multiple
          hint={
            again
              ? "Choose your files again: a browser does not keep them."
              : "Pictures and documents, five at most, 10 MB together."
          }
        />
        <div>
          <TextField
            label="When would you like it?"
            name="wishedAt"
            maxLength={80}
            defaultValue={typed.wishedAt ?? ""}
            placeholder="3 Dec"
            data-wish=""
            hint="A day, or a day and a time; empty for no date."
          />
          <p data-wish-says="" aria-live="polite" className="mt-1 text-13">
            {looked?.earliest ?? earliest}
          </p>
        </div>
        {known ? (
          <Aside>
            You ask as {known.name}, {known.email}.
          </Aside>
        ) : (
          <div className="grid gap-5 sm:grid-cols-2">
            <TextField
              label="Your name"
              name="name"
              autoComplete="name"
              required
              maxLength={100}
              defaultValue={typed.name ?? ""}
            />
            <MailField
              required
              defaultValue={typed.email ?? ""}
              hint="We send a link there; without it nothing is asked."
            />
          </div>
        )}
        {looked && <Looked {...looked} />}
        <div className="flex flex-wrap items-center gap-3">
          <Button look="go">Send it</Button>
          <Button name="look" value="yes" formNoValidate>
            Is anything missing?
          </Button>
        </div>
      </ActionForm>
      <script type="module" src={askScript} />
    </>
  );
}

/** What is missing, and whether the date can be met, before it is sent. */
function Looked({ missing, earliest }: { missing: string[]; earliest: string }) {
  if (missing.length > 0) return <Message more={missing.slice(1)}>{missing[0]}</Message>;
  return <Status>Nothing is missing. {earliest}</Status>;
}
