import { data, Form, redirect, useNavigation } from "react-router";
import { z } from "zod";
import { browserOf, keepSession, whereTo } from "#app/browser.ts";
import { answered, guarded, misread, readForm, runCommand } from "#app/request.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { Door } from "#app/views/people/door.tsx";
import { EnterByPasskey } from "#app/views/people/passkeys.tsx";
import { Authenticator, RecoveryCodes, type SecondFactorAnswer } from "#app/views/people/second-factor.tsx";
import { awaited, giveSecondFactor, newAuthenticator, setUpSecondFactor } from "#server/people/second-factor.ts";
import type { Route } from "./+types/sign-in-code.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const to = whereTo(request);
  const waiting = await awaited(context.db, context.secret, context.now);
  if (!waiting) throw redirect((await context.viewer()) ? to : `/sign-in?to=${encodeURIComponent(to)}`);
  return { name: waiting.name, pending: waiting.pending, has: waiting.has, to };
}

const form = z.object({ code: z.string().trim().min(1, "The code").max(40), secret: z.string().max(64).optional() });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const to = whereTo(request);
  const waiting = await awaited(context.db, context.secret, context.now);
  if (!waiting || !context.secret) throw redirect("/sign-in");
  const at = { secret: context.secret, browser: browserOf(context) };
  const read = readForm(form, await request.formData());
  if ("fields" in read) return misread("code", read.fields);
  const { code, secret } = read.values;
  if (!waiting.pending) {
    const given = await runCommand("code", () => giveSecondFactor(context.act(null), code, at));
    return "value" in given ? redirect(to, { headers: keepSession(context, given.value) }) : given;
  }
  const wanted = { secret: secret ?? "", code };
  // It waits to be set up only where the password was given just now.
  const set = await setUpSecondFactor({ ...context.act(waiting.personId), proven: true }, wanted, at);
  if (set.ok)
    return data<SecondFactorAnswer>(
      { ...answered("code"), codes: set.value.codes },
      { headers: keepSession(context, set.value.secret) },
    );
  const pending = await newAuthenticator("", secret);
  return data<SecondFactorAnswer>({ ...answered("code"), refusal: set.refusal, pending }, { status: 422 });
});

/** The page stays when the session is whole: the recovery codes are shown on it, once. */
export const shouldRevalidate = () => false;

export const meta: Route.MetaFunction = () => [{ title: "Second factor · Elenco" }];

export default function SignInCode({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
  const answer: SecondFactorAnswer | undefined = actionData;
  if (answer?.codes)
    return (
      <Door title="Keep these codes">
        <RecoveryCodes codes={answer.codes} />
        <ButtonLink look="go" to={loaderData.to} reloadDocument className="mt-4">
          I have kept them, go on
        </ButtonLink>
      </Door>
    );
  const pending = answer?.pending ?? loaderData.pending;
  return (
    <Door title={pending ? "Set up your second factor" : "One thing more"}>
      <Form method="post" className="space-y-4">
        {answer?.refusal && <Message>{answer.refusal.sentence}</Message>}
        {pending ? (
          <Authenticator pending={pending} why="A role of yours asks for it at every sign-in." />
        ) : (
          <p className="text-rail">
            {loaderData.name}, give{" "}
            {loaderData.has.code
              ? "the six digits your authenticator shows now, or one of your recovery codes."
              : "your passkey, or one of your recovery codes."}
          </p>
        )}
        <TextField
          label="Code"
          name="code"
          autoComplete="one-time-code"
          required
          autoFocus
          maxLength={40}
          error={answer?.fields.code}
        />
        <Button look="go" busy={busy}>
          {busy ? "One moment …" : pending ? "Set it up" : "Sign in"}
        </Button>
      </Form>
      {loaderData.has.passkey && (
        <div className="mt-3">
          <EnterByPasskey to={`/sign-in?to=${encodeURIComponent(loaderData.to)}`} busy={busy} />
        </div>
      )}
      <Form method="post" action="/sign-out" reloadDocument className="mt-8">
        <Button look="quiet">Sign in as somebody else</Button>
      </Form>
    </Door>
  );
}
