import type { AppLoadContext } from "react-router";
import { COOKIE } from "#server/http/context.ts";
import type { Browser } from "#server/people/sessions.ts";
import { SESSION_LENGTH } from "#server/people/sessions.ts";

/** The browser a request came from, as its session remembers it. */
export const browserOf = ({ address, agent }: AppLoadContext): Browser => ({ address, agent });

/** Lays a session's secret in the browser's keeping: no script reads it, no other site sends it. */
export function keepSession({ baseUrl }: AppLoadContext, secret: string): Record<string, string> {
  const secure = baseUrl.startsWith("https:") ? "; Secure" : "";
  return {
    "Set-Cookie": `${COOKIE}=${secret}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${SESSION_LENGTH / 1000}${secure}`,
  };
}

/** Takes it away again. */
export const forgetSession = { "Set-Cookie": `${COOKIE}=; Path=/; HttpOnly; SameSite=Lax; Max-Age=0` };

/** Where a person goes after they signed in: where they wanted to, if that is a page of ours. */
export function whereTo(request: Request): string {
  const to = new URL(request.url).searchParams.get("to") ?? "/turn";
  return /^\/(?![/\\])/.test(to) ? to : "/turn";
}
