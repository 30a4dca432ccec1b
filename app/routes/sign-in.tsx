import type { AuthenticationResponseJSON } from "@simplewebauthn/server";
import { data, redirect } from "react-router";
import { z } from "zod";
import { browserOf, keepSession, whereTo } from "#app/browser.ts";
import { answerOf } from "#app/passkey-form.ts";
import { guarded, readForm, runCommand } from "#app/request.ts";
import { SignInView } from "#app/views/door/sign-in.tsx";
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

export default function SignIn(props: Route.ComponentProps) {
  return <SignInView {...props} />;
}
