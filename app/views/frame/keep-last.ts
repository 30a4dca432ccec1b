import { isRouteErrorResponse } from "react-router";

interface Asked<T> {
  request: Request;
  serverLoader(): Promise<T>;
}

/**
 * A loader for the browser: while the server cannot be reached, a page goes on showing what it
 * last showed, with whatever is being typed in it, instead of giving way to an error.
 */
export function keepLast<T>() {
  let last: { path: string; shown: T } | null = null;
  const load = async ({ request, serverLoader }: Asked<unknown>): Promise<T> => {
    const path = new URL(request.url).pathname;
    try {
      last = { path, shown: (await serverLoader()) as T };
    } catch (error) {
      const meant = error instanceof Response || (isRouteErrorResponse(error) && error.status < 500);
      if (meant || last?.path !== path) throw error;
    }
    return (last as { shown: T }).shown;
  };
  return Object.assign(load, { hydrate: true as const });
}
