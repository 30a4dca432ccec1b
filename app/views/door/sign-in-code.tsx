import { Form, useNavigation } from "react-router";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { Door } from "#app/views/people/door.tsx";
import { EnterByPasskey } from "#app/views/people/passkeys.tsx";
import { Authenticator, RecoveryCodes, type SecondFactorAnswer } from "#app/views/people/second-factor.tsx";
import type { Route } from "../../routes/+types/sign-in-code.ts";

/** The second factor, after the password. */
export function SignInCodeView({ loaderData, actionData }: Route.ComponentProps) {
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
