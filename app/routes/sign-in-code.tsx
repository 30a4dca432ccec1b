import { data, redirect } from "react-router";
import { z } from "zod";
import { browserOf, keepSession, whereTo } from "#app/browser.ts";
import { answered, guarded, misread, readForm, runCommand } from "#app/request.ts";
import { SignInCodeView } from "#app/views/door/sign-in-code.tsx";
import type { SecondFactorAnswer } from "#app/views/people/second-factor.tsx";
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

export default function SignInCode(props: Route.ComponentProps) {
  return <SignInCodeView {...props} />;
}
