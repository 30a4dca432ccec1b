import { parseCookie, stringifySetCookie } from "cookie";
import { ASKED_LENGTH } from "../intake/keys.ts";
import { KNOWN_FOR } from "../people/browsers.ts";
import { SESSION_LENGTH } from "../people/sessions.ts";

/** What a browser is given to keep: the session's secret, and what this browser is known by to who signed in here before. */
export interface Kept {
  session: string | null;
  browser: string | null;
  /** What a requester is known by, who has no account. */
  asked: string | null;
}

/** What a browser is given, and for how many seconds. */
const LENGTHS = {
  session: SESSION_LENGTH / 1000,
  browser: KNOWN_FOR / 1000,
  asked: ASKED_LENGTH / 1000,
};
type Given = keyof typeof LENGTHS;

/** Under https a cookie bears the prefix that lets no other host, path or plain page set it. */
const nameOf = (of: Given, baseUrl: string) =>
  (baseUrl.startsWith("https:") ? "__Host-" : "") +
  { session: "elenco", browser: "elenco-browser", asked: "elenco-asked" }[of];

/** What a request's cookies bring. */
export function readCookies(header: string | undefined, baseUrl: string): Kept {
  const all = parseCookie(header ?? "");
  const given = (of: Given) => all[nameOf(of, baseUrl)] || null;
  return { session: given("session"), browser: given("browser"), asked: given("asked") };
}

/** Lays these in the browser's keeping, or (where null) takes them away: no script reads them, no other site sends them. */
export function setCookies(kept: Partial<Record<Given, string | null>>, baseUrl: string): Headers {
  const headers = new Headers();
  for (const [of, value] of Object.entries(kept) as [Given, string | null][]) {
    const cookie = stringifySetCookie({
      name: nameOf(of, baseUrl),
      value: value ?? "",
      path: "/",
      httpOnly: true,
      sameSite: "lax",
      secure: baseUrl.startsWith("https:"),
      maxAge: value === null ? 0 : LENGTHS[of],
    });
    headers.append("Set-Cookie", cookie);
  }
  return headers;
}
