import { Form, Link, redirect, useNavigation } from "react-router";
import { z } from "zod";
import { browserOf, keepSession } from "#app/browser.ts";
import { guarded, misread, readForm, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { Door } from "#app/views/people/door.tsx";
import { choosePassword, openedBy } from "#server/people/accounts.ts";
import { enter } from "#server/people/sign-in.ts";
import type { Route } from "./+types/open.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const opened = await openedBy(context.db, params.secret, context.now);
  return { opened: opened && { name: opened.name, email: opened.email, purpose: opened.purpose } };
}

const form = z.object({
  name: z.string().trim().max(120, "At most 120 characters fit.").default(""),
  password: z.string().max(1000, "At most 200 characters fit."),
});

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const read = readForm(form, await request.formData());
  if ("fields" in read) return misread("choose", read.fields);
  const act = context.act(null);
  const chosen = await runCommand("choose", () => choosePassword(act, { secret: params.secret, ...read.values }));
  if (!("value" in chosen)) return chosen;
  const browser = browserOf(context);
  const entered = await runCommand("choose", () => enter(act, chosen.value, browser));
  if (!("value" in entered)) return entered;
  const { secret, confirmed } = entered.value;
  return redirect(confirmed ? "/turn" : "/sign-in/code", { headers: keepSession(context, secret, browser) });
});

export const meta: Route.MetaFunction = () => [{ title: "Choose a password · Elenco" }];

export default function Open({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
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
  const refusal = actionData?.refusal;
  const joins = opened.purpose === "join";
  return (
    <Door title={joins ? `Welcome, ${opened.name}` : "Choose a new password"}>
      <Form method="post" className="space-y-4">
        {refusal && refusal.field !== "password" && <Message>{refusal.sentence}</Message>}
        {joins && (
          <TextField
            label="Your name, as others will read it"
            name="name"
            autoComplete="name"
            defaultValue={opened.name}
            maxLength={120}
            error={actionData?.fields.name}
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
          error={actionData?.fields.password ?? (refusal?.field === "password" ? refusal.sentence : undefined)}
        />
        <Button look="go" busy={busy}>
          {busy ? "One moment …" : joins ? "Join" : "Keep it and sign in"}
        </Button>
      </Form>
    </Door>
  );
}
