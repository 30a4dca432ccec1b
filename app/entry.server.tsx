import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { renderToPipeableStream } from "react-dom/server";
import {
  type AppLoadContext,
  type EntryContext,
  type HandleErrorFunction,
  isRouteErrorResponse,
  ServerRouter,
} from "react-router";
import { isDatabaseGone } from "#server/db/client.ts";

const PATIENCE = 5_000;

/** Renders a page and sends it whole: its loaders have waited for everything it shows. */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: AppLoadContext,
): Promise<Response> {
  return new Promise((resolve, reject) => {
    let begun = false;
    const answer = () => {
      begun = true;
      const body = new PassThrough();
      headers.set("Content-Type", "text/html; charset=utf-8");
      headers.set("Cache-Control", "no-store");
      resolve(new Response(createReadableStreamFromReadable(body), { status, headers }));
      pipe(body);
    };
    const { pipe, abort } = renderToPipeableStream(
      <ServerRouter context={entry} url={request.url} nonce={context.nonce} />,
      {
        nonce: context.nonce,
        onAllReady: answer,
        onShellError: reject,
        onError: (error) => {
          if (begun)
            console.error(JSON.stringify({ level: "error", requestId: context.requestId, message: String(error) }));
        },
      },
    );
    setTimeout(abort, PATIENCE);
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
      message: error instanceof Error ? error.stack : String(error),
    }),
  );
};
