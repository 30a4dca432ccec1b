/** What the router gives a loader in the browser. */
export interface Asked {
  request: Request;
  serverLoader(): Promise<unknown>;
}

/** By this word of its address a page is asked for before anybody goes there; no link can say it. */
const MARK = `ahead-${Math.random().toString(36).slice(2)}`;

/** How long what was fetched ahead may be shown, in milliseconds. */
const KEEPS = 5_000;

/** What was fetched for whoever rests on a link, or is on its way. */
let ahead: { by: object; address: string; at: number; page: Promise<unknown> } | null = null;

/** The pages one goes to most: each by its route, and the addresses it has. */
export const OFTEN: readonly [route: string, address: RegExp][] = [
  ["routes/turn", /^\/turn$/],
  ["routes/pieces", /^\/pieces$/],
  ["routes/piece", /^\/pieces\/(?!(new|several|deleted)$)[^/]+$/],
  ["routes/schedule", /^\/schedule$/],
];

/**
 * The address by which the page a link leads to is asked for ahead; null for all but the pages one goes to most,
 * and for the one that is there.
 *
 * @param to what the link says, whole
 * @param here the address one is at, whole
 */
export function aheadOf(to: string, here: string): string | null {
  if (!URL.canParse(to)) return null;
  const [there, at] = [new URL(to), new URL(here)];
  if (there.origin !== at.origin || !OFTEN.some(([, address]) => address.test(there.pathname))) return null;
  if (there.pathname === at.pathname && there.search === at.search) return null;
  there.searchParams.set(MARK, "");
  return there.pathname + there.search;
}

/**
 * A route's loader in the browser: whoever goes where their hand rested finds what was fetched then, already read,
 * so that the router draws the page at once and not first that it is on its way. Each route has one of its own,
 * since what stands around a page is asked for by the same address. Whatever else is asked for meanwhile, as when
 * something was done or heard of, drops it. What fails ahead fails unheard: who goes there asks anew.
 */
export function loaderAhead<T>(): (asked: Asked) => Promise<T> {
  const by = {};
  return async ({ request, serverLoader }) => {
    const url = new URL(request.url);
    const isAhead = url.searchParams.has(MARK);
    // Either way, so that the words are written alike.
    url.searchParams.delete(MARK);
    const fetched = ahead;
    ahead = null;
    if (isAhead) {
      const page = serverLoader();
      ahead = { by, address: url.href, at: performance.now(), page };
      await page.catch(() => null);
      // The router has no page to show it on.
      return null as T;
    }
    const fresh = fetched?.by === by && fetched.address === url.href && performance.now() - fetched.at < KEEPS;
    const early = fresh && (await fetched.page.catch(() => null));
    return (early || (await serverLoader())) as T;
  };
}
