import { parseCookie, stringifySetCookie } from "cookie";
import { KNOWN_FOR } from "../people/browsers.ts";
import { SESSION_LENGTH } from "../people/sessions.ts";

/** What a browser is given to keep: the session's secret, and what this browser is known by to who signed in here before. */
export interface Kept {
  session: string | null;
  browser: string | null;
}

/** Under https a cookie bears the prefix that lets no other host, path or plain page set it. */
const nameOf = (of: keyof Kept, baseUrl: string) =>
  (baseUrl.startsWith("https:") ? "__Host-" : "") + { session: "elenco", browser: "elenco-browser" }[of];

/** What a request's cookies bring. */
export function readCookies(header: string | undefined, baseUrl: string): Kept {
  const all = parseCookie(header ?? "");
  return { session: all[nameOf("session", baseUrl)] || null, browser: all[nameOf("browser", baseUrl)] || null };
}

/** Lays these in the browser's keeping, or (where null) takes them away: no script reads them, no other site sends them. */
export function setCookies(kept: Partial<Kept>, baseUrl: string): Headers {
  const lengths = { session: SESSION_LENGTH, browser: KNOWN_FOR };
  const headers = new Headers();
  for (const [of, value] of Object.entries(kept) as [keyof Kept, string | null][]) {
    const cookie = stringifySetCookie({
      name: nameOf(of, baseUrl),
      value: value ?? "",
      path: "/",
      httpOnly: true,
      sameSite: "lax",
      secure: baseUrl.startsWith("https:"),
      maxAge: value === null ? 0 : lengths[of] / 1000,
    });
    headers.append("Set-Cookie", cookie);
  }
  return headers;
}
