import { setNonce } from "get-nonce";
import type { ReactNode } from "react";
import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useRouteError,
  useRouteLoaderData,
} from "react-router";
import { z } from "zod";
import type { Route } from "./+types/root.ts";
import { lookIn } from "./views/frame/look.ts";
import "./app.css";

// The policy of every page forbids making code from words; without this the browser's console says so.
if (typeof document !== "undefined") z.config({ jitless: true });

export const loader = ({ context, request }: Route.LoaderArgs) => ({
  nonce: context.nonce,
  requestId: context.requestId,
  look: lookIn(request.headers.get("Cookie")),
});

/** What it brings belongs to the page as it was first sent. */
export const shouldRevalidate = () => false;

export function Layout({ children }: { children: ReactNode }) {
  // In the browser a nonce reads as empty, which is how it is kept from scripts; the markup is the same.
  const { nonce, look } = useRouteLoaderData<typeof loader>("root") ?? {};
  // What styles itself while it is open names the nonce too.
  if (nonce && typeof document !== "undefined") setNonce(nonce);
  return (
    <html lang="en" data-theme={look?.theme} data-density={look?.density}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <link rel="icon" href="/mark.svg" type="image/svg+xml" />
        <Meta />
        <Links />
      </head>
      <body>
        {children}
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function Root() {
  return <Outlet />;
}

export function ErrorBoundary() {
  const error = useRouteError();
  const requestId = useRouteLoaderData<typeof loader>("root")?.requestId;
  const missing = isRouteErrorResponse(error) && error.status === 404;
  const away = isRouteErrorResponse(error) && error.status === 503;
  const [heading, sentence] = missing
    ? ["There is nothing here", "The address is not right, or what it names is not for you to see."]
    : away
      ? [
          "Elenco is away for a moment",
          "The database does not answer. Nothing you saved is lost; try again in a moment.",
        ]
      : [
          "Something is wrong on our side",
          "Nothing you saved is lost. Try again; if it stays, pass the number below on.",
        ];
  return (
    <main className="mx-auto mt-[15vh] max-w-xl px-5">
      <h1>{heading}</h1>
      <p className="mt-2">{sentence}</p>
      {!missing && requestId && <p className="mt-2 text-13 text-rail">{requestId}</p>}
      <p className="mt-4">
        <a className="text-blue underline" href="/">
          Your turn
        </a>
      </p>
    </main>
  );
}
