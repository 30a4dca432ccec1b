import type { AuthenticationResponseJSON } from "@simplewebauthn/server";
import { useEffect, useState } from "react";
import { data, Form, Link, redirect, useLocation, useNavigation, useSearchParams } from "react-router";
import { z } from "zod";
import { browserOf, keepSession, whereTo } from "#app/browser.ts";
import { answerOf } from "#app/passkey-form.ts";
import { guarded, readForm, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { anythingKept } from "#app/views/frame/kept-here.ts";
import { EnterByPasskey } from "#app/views/people/passkeys.tsx";
import { isFirstStart } from "#server/people/first.ts";
import { enterByPasskey } from "#server/people/passkeys.ts";
import { listDemoPeople } from "#server/people/queries.ts";
import { awaited } from "#server/people/second-factor.ts";
import { enter, signIn } from "#server/people/sign-in.ts";
import { masthead } from "#server/reader/queries.ts";
import type { Route } from "./+types/sign-in.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  if (await awaited(context.db, context.secret, context.now))
    throw redirect(`/sign-in/code?to=${encodeURIComponent(whereTo(request))}`);
  const [{ name }, people, first] = await Promise.all([
    masthead(context.db),
    context.standIns ? listDemoPeople(context.db) : [],
    isFirstStart(context.db),
  ]);
  return { publication: name, people, first };
}

const form = z.union([
  z.object({ passkey: answerOf<AuthenticationResponseJSON>() }),
  z.object({ person: z.uuid() }),
  z.object({ email: z.string().min(1, "Your mail address"), password: z.string().min(1, "Your password").max(1000) }),
]);

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const read = readForm(form, await request.formData());
  if ("fields" in read)
    return data(
      {
        intent: "sign-in",
        fields: {},
        refusal: { code: "sign-in", sentence: "Give your mail address and your password." },
      },
      { status: 422 },
    );
  const { values } = read;
  const act = context.act(null);
  if ("person" in values && !context.standIns) throw data(null, { status: 404 });
  const browser = browserOf(context);
  const done = await runCommand("sign-in", () =>
    "passkey" in values
      ? enterByPasskey(act, values.passkey, browser)
      : "person" in values
        ? enter(act, values.person, browser, true)
        : signIn(act, values.email, values.password, browser),
  );
  if (!("value" in done)) return done;
  const { secret, confirmed } = done.value;
  const to = whereTo(request);
  return redirect(confirmed ? to : `/sign-in/code?to=${encodeURIComponent(to)}`, {
    headers: keepSession(context, secret, browser),
  });
});

export const meta: Route.MetaFunction = () => [{ title: "Sign in · Elenco" }];

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state === "submitting";
  const [words] = useSearchParams();
  const { search } = useLocation();
  const back = words.has("to");
  const [kept, setKept] = useState(false);
  useEffect(() => setKept(anythingKept()), []);
  const { publication, people, first } = loaderData;
  return (
    <main className="mx-auto grid max-w-3xl gap-x-16 gap-y-8 px-5 py-[10vh] sm:grid-cols-2">
      <div>
        <h1>{publication}</h1>
        <p className="mt-1 text-rail">
          {first ? "Nobody is here yet: open the link that was printed at the start." : "Sign in to the workshop."}
        </p>
        {back && (
          <p role="status" className="mt-3 border-l-3 border-yellow bg-paper px-3 py-1.5 text-13">
            What you asked for needs you to be signed in. You are led there afterwards.
          </p>
        )}
        {kept && (
          <p role="status" className="mt-3 border-l-3 border-yellow bg-paper px-3 py-1.5 text-13">
            Words typed here are not saved yet. They wait in this browser for whoever typed them, and are shown to
            nobody else.
          </p>
        )}
        <Form method="post" className="mt-6 space-y-4">
          {actionData?.refusal && <Message>{actionData.refusal.sentence}</Message>}
          <TextField label="Mail address" name="email" type="email" autoComplete="username" required autoFocus />
          <TextField label="Password" name="password" type="password" autoComplete="current-password" required />
          <Button look="go" busy={busy}>
            {busy ? "Signing in …" : "Sign in"}
          </Button>
        </Form>
        <div className="mt-3">
          <EnterByPasskey to={`/sign-in${search}`} busy={busy} />
        </div>
        <p className="mt-8 flex gap-5 text-13">
          <Link className="text-blue underline underline-offset-3" to="/forgot">
            Forgot the password
          </Link>
          <a className="text-blue underline underline-offset-3" href="/read">
            To the reader site
          </a>
        </p>
      </div>
      {people.length > 0 && (
        <section>
          <h2 className="border-b border-ink pb-1.5">
            The demo’s people <span className="font-normal text-rail">one click each</span>
          </h2>
          <ul>
            {people.map((one) => (
              <li key={one.id} className="border-b border-rule">
                <Form method="post">
                  <Hidden name="person" value={one.id} />
                  <Button
                    look="bare"
                    type="submit"
                    className="flex w-full justify-between gap-4 py-2 text-left hover:bg-wash"
                  >
                    <span className="font-semibold">{one.name}</span>
                    <span className="text-13 text-rail">{one.roles.join(", ")}</span>
                  </Button>
                </Form>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}
