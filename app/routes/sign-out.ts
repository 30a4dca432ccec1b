import { redirect } from "react-router";
import { forgetSession } from "#app/browser.ts";
import { signOut } from "#server/people/sessions.ts";
import type { Route } from "./+types/sign-out.ts";

export async function action({ context }: Route.ActionArgs) {
  const viewer = await context.viewer();
  if (viewer && context.secret) await signOut(context.act(viewer.seenBy?.id ?? viewer.id), context.secret);
  return redirect("/sign-in", { headers: forgetSession(context) });
}

export const loader = () => redirect("/turn");
