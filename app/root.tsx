import { setNonce } from "get-nonce";
import { type ReactNode, useEffect, useState } from "react";
import {
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useMatches,
  useRouteError,
  useRouteLoaderData,
} from "react-router";
import type { Route } from "./+types/root.ts";
import { lookIn } from "./views/frame/look.ts";
import { Trouble } from "./views/frame/trouble.tsx";
import "./app.css";

export const loader = ({ context, request }: Route.LoaderArgs) => ({
  nonce: context.nonce,
  requestId: context.requestId,
  look: lookIn(request.headers.get("Cookie")),
});

/** What it brings belongs to the page as it was first sent. */
export const shouldRevalidate = () => false;

/** Whether a page is only to be read: a reader's, looked at by nobody of the workshop. */
function useOnlyRead(): boolean {
  const matches = useMatches();
  const readers = matches.some((one) => (one.handle as { readers?: boolean } | undefined)?.readers);
  return (
    readers &&
    !matches.some((one) => typeof one.loaderData === "object" && one.loaderData !== null && "here" in one.loaderData)
  );
}

export function Layout({ children }: { children: ReactNode }) {
  const onlyRead = useOnlyRead();
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
        {!onlyRead && (
          <>
            <ScrollRestoration nonce={nonce} />
            <Begins nonce={nonce} />
          </>
        )}
      </body>
    </html>
  );
}

/** What starts the page. Once it stands this is of no use, and the next click would wait for its some fifty elements to go. */
function Begins({ nonce }: { nonce: string | undefined }) {
  const [stands, setStands] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setStands(true));
    return () => clearTimeout(timer);
  }, []);
  return stands ? null : <Scripts nonce={nonce} />;
}

export default function Root() {
  return <Outlet />;
}

export function ErrorBoundary() {
  return (
    <main className="mx-auto mt-[15vh] max-w-xl px-5">
      <Trouble error={useRouteError()} requestId={useRouteLoaderData<typeof loader>("root")?.requestId} />
    </main>
  );
}
