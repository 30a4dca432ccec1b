/** What the router gives a loader in the browser. */
export interface Asked {
  request: Request;
  serverLoader(): Promise<unknown>;
}

/** By this word of its address a page is asked for before anybody goes there. */
const MARK = "ahead";

/** How long what was fetched ahead may be shown, in milliseconds. */
const KEEPS = 5_000;

/** What was fetched for whoever rests on a link, or is on its way. */
let ahead: { address: string; at: number; page: Promise<unknown> } | null = null;

/** The address by which a page is asked for ahead. */
export function aheadOf({ pathname, search }: URL): string {
  const words = new URLSearchParams(search);
  words.set(MARK, "");
  return `${pathname}?${words}`;
}

/**
 * A page's loader in the browser: whoever goes where their hand rested finds what was fetched then, already read,
 * so that the router draws the page at once and not first that it is on its way. Whatever else is asked for
 * meanwhile, as when something was done or heard of, drops it. What fails ahead fails unheard: who goes there asks anew.
 */
export async function load<T>({ request, serverLoader }: Asked): Promise<T> {
  const url = new URL(request.url);
  const isAhead = url.searchParams.has(MARK);
  // Either way, so that the words are written alike.
  url.searchParams.delete(MARK);
  const fetched = ahead;
  ahead = null;
  if (isAhead) {
    const page = serverLoader();
    ahead = { address: url.href, at: performance.now(), page };
    await page.catch(() => null);
    // The router has no page to show it on.
    return null as T;
  }
  const fresh = fetched?.address === url.href && performance.now() - fetched.at < KEEPS;
  const early = fresh && (await fetched.page.catch(() => null));
  return (early || (await serverLoader())) as T;
}
