import { redirect } from "react-router";
import { z } from "zod";
import { browserOf, keepSession } from "#app/browser.ts";
import { guarded, misread, readForm, runCommand } from "#app/request.ts";
import { OpenView } from "#app/views/door/open.tsx";
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

export default function Open(props: Route.ComponentProps) {
  return <OpenView {...props} />;
}
