import type { AppLoadContext } from "react-router";
import { setCookies } from "#server/http/cookies.ts";
import type { Browser } from "#server/people/browsers.ts";
import { newSecret } from "#server/people/secrets.ts";

/** The browser a request came from, as its session remembers it; it is given something to be known by where it has nothing yet. */
export const browserOf = ({ address, agent, browserToken, secret }: AppLoadContext): Browser & { token: string } => ({
  address,
  agent,
  session: secret,
  token: browserToken ?? newSecret(),
});

/** Lays a session's secret in the browser's keeping, and with a browser what that is known by. */
export const keepSession = ({ baseUrl }: AppLoadContext, secret: string, browser?: { token: string }): Headers =>
  setCookies({ session: secret, ...(browser && { browser: browser.token }) }, baseUrl);

/** Takes the session's secret away again. */
export const forgetSession = ({ baseUrl }: AppLoadContext): Headers => setCookies({ session: null }, baseUrl);

/** Where a person goes after they signed in: where they wanted to, if that is a page of ours. */
export function whereTo(request: Request): string {
  const { searchParams, origin } = new URL(request.url);
  const to = searchParams.get("to") ?? "";
  // Read as a browser reads it: tabs drop out, backslashes are slashes.
  const address = to.startsWith("/") && URL.canParse(to, origin) ? new URL(to, origin) : null;
  return address?.origin === origin && !address.pathname.startsWith("//")
    ? address.pathname + address.search + address.hash
    : "/turn";
}
