import { redirect } from "react-router";
import { z } from "zod";
import { browserOf, keepSession } from "#app/browser.ts";
import { guarded, misread, notFound, readForm, runCommand } from "#app/request.ts";
import { FirstView } from "#app/views/door/first.tsx";
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

export default function First(props: Route.ComponentProps) {
  return <FirstView {...props} />;
}
