import { Writable } from "node:stream";
import { renderToPipeableStream } from "react-dom/server";
import {
  type AppLoadContext,
  type EntryContext,
  type HandleErrorFunction,
  isRouteErrorResponse,
  ServerRouter,
} from "react-router";
import { failedStatement, isDatabaseGone } from "#server/db/client.ts";

const PATIENCE = 5_000;

/**
 * Renders a page and sends it whole, in one piece: its loaders have waited for everything it shows, and
 * a stream of small pieces would cost more than it gains.
 */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: AppLoadContext,
): Promise<Response> {
  return new Promise((resolve, reject) => {
    const parts: Buffer[] = [];
    const body = new Writable({
      write(part, _, next) {
        parts.push(part);
        next();
      },
      final(next) {
        clearTimeout(patience);
        headers.set("Content-Type", "text/html; charset=utf-8");
        resolve(new Response(Buffer.concat(parts), { status, headers }));
        next();
      },
    });
    const { pipe, abort } = renderToPipeableStream(
      <ServerRouter context={entry} url={request.url} nonce={context.nonce} />,
      { nonce: context.nonce, onAllReady: () => pipe(body), onShellError: reject },
    );
    const patience = setTimeout(abort, PATIENCE);
  });
}

/** Logs what a loader or action threw, under the request's id; an answer thrown on purpose is none of it. */
export const handleError: HandleErrorFunction = (error, { request, context }) => {
  if (request.signal.aborted || isDatabaseGone(error)) return;
  // An answer such as "there is no form here" is one, and no fault.
  if (isRouteErrorResponse(error) && error.status < 500) return;
  console.error(
    JSON.stringify({
      level: "error",
      requestId: context.requestId,
      message: failedStatement(error) ?? (error instanceof Error ? error.stack : String(error)),
    }),
  );
};
