const COOKIE = "elenco-look";
const YEAR = 31_536_000;

export const THEMES = [
  ["system", "As the system has it"],
  ["light", "Day"],
  ["dark", "Night train"],
] as const;
export const DENSITIES = [
  ["close", "Close"],
  ["roomy", "Roomy"],
] as const;

/** How the workshop looks in this browser. */
export interface Look {
  theme: (typeof THEMES)[number][0];
  density: (typeof DENSITIES)[number][0];
}

/** @param cookies a request's `Cookie` header, or a document's cookies */
export function lookIn(cookies: string | null): Look {
  const [theme, density] = new RegExp(`${COOKIE}=([a-z.]*)`).exec(cookies ?? "")?.[1]?.split(".") ?? [];
  return { theme: chosen(THEMES, theme), density: chosen(DENSITIES, density) };
}

/** What was chosen; the first of all where nothing was. */
function chosen<Key extends string>(all: readonly (readonly [Key, string])[], key: string | undefined): Key {
  const [first] = all;
  return (all.find(([one]) => one === key) ?? first)?.[0] as Key;
}

/** Shows this browser's pages so from now on. */
export function showAs({ theme, density }: Look): void {
  const secure = window.location.protocol === "https:" ? "; Secure" : "";
  // biome-ignore lint/suspicious/noDocumentCookie: the page's first bytes depend on it, and no script of ours is there yet
  document.cookie = `${COOKIE}=${theme}.${density}; Path=/; Max-Age=${YEAR}; SameSite=Lax${secure}`;
  Object.assign(document.documentElement.dataset, { theme, density });
}
