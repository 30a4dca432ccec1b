import { useEffect } from "react";
import { isRouteErrorResponse } from "react-router";
import { type Asked, loaderAhead } from "./ahead.ts";

/** A loader for the browser that remembers what its page shows. */
export interface Keeping<T> {
  (asked: Asked): Promise<T>;
  remember(shown: T): void;
}

/**
 * A loader for the browser: while the server cannot be reached, a page goes on showing what it
 * last showed, with whatever is being typed in it, instead of giving way to an error. It does not
 * ask to run at hydration: a form sent that early would then be answered with the page as it was.
 */
export function keepLast<T>(): Keeping<T> {
  let last: { path: string; shown: T } | null = null;
  const loadPage = loaderAhead<T>();
  const load = async (asked: Asked): Promise<T> => {
    try {
      return await loadPage(asked);
    } catch (error) {
      const meant = error instanceof Response || (isRouteErrorResponse(error) && error.status < 500);
      if (meant || last?.path !== new URL(asked.request.url).pathname) throw error;
      return last.shown;
    }
  };
  const remember = (shown: T) => {
    last = { path: window.location.pathname, shown };
  };
  return Object.assign(load, { remember });
}

/** Lets a page's loader remember what the page shows. */
export function useKept<T>(loader: Keeping<T>, shown: T): void {
  useEffect(() => loader.remember(shown), [loader, shown]);
}
