import { useEffect, useState } from "react";
import { Form, Link, useLocation, useNavigation, useSearchParams } from "react-router";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { anythingKept } from "#app/views/frame/kept-here.ts";
import { EnterByPasskey } from "#app/views/people/passkeys.tsx";
import type { Route } from "../../routes/+types/sign-in.ts";

/** The door of the workshop; in the demo with its people, one click each. */
export function SignInView({ loaderData, actionData }: Route.ComponentProps) {
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
        <ActionForm intent="sign-in" answer={actionData} className="mt-6 space-y-4">
          <TextField label="Mail address" name="email" type="email" autoComplete="username" required autoFocus />
          <TextField label="Password" name="password" type="password" autoComplete="current-password" required />
          <Button look="go" busy={busy}>
            {busy ? "Signing in …" : "Sign in"}
          </Button>
        </ActionForm>
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
