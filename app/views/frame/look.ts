import { z } from "zod";

const COOKIE = "elenco-look";
const YEAR = 31_536_000;

const lookSchema = z.object({
  /** Light, dark, or whatever the person's system says. */
  theme: z.enum(["light", "dark", "system"]).catch("system"),
  density: z.enum(["close", "roomy"]).catch("close"),
});

/** How the workshop looks in this browser. */
export type Look = z.infer<typeof lookSchema>;

export const THEMES = [
  ["system", "As the system has it"],
  ["light", "Day"],
  ["dark", "Night train"],
] as const;
export const DENSITIES = [
  ["close", "Close"],
  ["roomy", "Roomy"],
] as const;

/** @param cookies a request's `Cookie` header, or a document's cookies */
export function lookIn(cookies: string | null): Look {
  const [theme, density] = new RegExp(`${COOKIE}=([a-z.]*)`).exec(cookies ?? "")?.[1]?.split(".") ?? [];
  return lookSchema.parse({ theme, density });
}

/** Shows this browser's pages so from now on. */
export function showAs({ theme, density }: Look): void {
  const secure = window.location.protocol === "https:" ? "; Secure" : "";
  // biome-ignore lint/suspicious/noDocumentCookie: the page's first bytes depend on it, and no script of ours is there yet
  document.cookie = `${COOKIE}=${theme}.${density}; Path=/; Max-Age=${YEAR}; SameSite=Lax${secure}`;
  Object.assign(document.documentElement.dataset, { theme, density });
}
