import { redirect } from "react-router";
import { COOKIE } from "#server/http/context.ts";
import { signOut } from "#server/people/sign-in.ts";
import type { Route } from "./+types/sign-out.ts";

export async function action({ context }: Route.ActionArgs) {
  const viewer = await context.viewer();
  if (viewer && context.secret) await signOut(context.act(viewer.id), context.secret);
  return redirect("/sign-in", { headers: { "Set-Cookie": `${COOKIE}=; Path=/; HttpOnly; SameSite=Lax; Max-Age=0` } });
}

export const loader = () => redirect("/turn");
