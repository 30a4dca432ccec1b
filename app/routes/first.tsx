import { Form, redirect, useNavigation } from "react-router";
import { z } from "zod";
import { browserOf, keepSession } from "#app/browser.ts";
import { fieldErrors } from "#app/form-answer.ts";
import { guarded, misread, notFound, readForm, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Door } from "#app/views/people/door.tsx";
import { Refused } from "#app/views/people/refused.tsx";
import { beginPublication, opensFirstStart } from "#server/people/first.ts";
import { enter } from "#server/people/sign-in.ts";
import type { Route } from "./+types/first.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  if (!(await opensFirstStart(context.db, params.secret))) throw notFound();
  return null;
}

const text = (what: string, most: number) =>
  z.string().trim().min(1, what).max(most, `At most ${most} characters fit.`);
const form = z.object({
  publication: text("What the publication is called.", 120),
  timeZone: text("A time zone as in Europe/Rome.", 60),
  name: text("Your name.", 120),
  email: z.email("A mail address, as in noor@example.org.").max(200),
  password: z.string().max(1000),
});

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const read = readForm(form, await request.formData());
  if ("fields" in read) return misread("first", read.fields);
  const act = context.act(null);
  const begun = await runCommand("first", () => beginPublication(act, { secret: params.secret, ...read.values }));
  if (!("value" in begun)) return begun;
  const browser = browserOf(context);
  const entered = await runCommand("first", () => enter(act, begun.value, browser));
  if (!("value" in entered)) return entered;
  return redirect("/people", { headers: keepSession(context, entered.value.secret, browser) });
});

export const meta: Route.MetaFunction = () => [{ title: "First start · Elenco" }];

export default function First({ actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
  const errors = fieldErrors(actionData, "first");
  return (
    <Door title="Set your publication up">
      <Form method="post" noValidate className="space-y-4">
        <Refused answer={actionData} intent="first" shown={Object.keys(errors)} />
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
      </Form>
    </Door>
  );
}
