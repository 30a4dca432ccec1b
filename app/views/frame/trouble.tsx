import { isRouteErrorResponse } from "react-router";

/** What went wrong, in a sentence, and the way on. */
export function Trouble({ error, requestId }: { error: unknown; requestId: string | undefined }) {
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
    <>
      <title>{`${heading} · Elenco`}</title>
      <h1>{heading}</h1>
      <p className="mt-2">{sentence}</p>
      {!missing && requestId && <p className="mt-2 text-13 text-rail">{requestId}</p>}
      <p className="mt-4">
        <a className="text-blue underline" href="/">
          Your turn
        </a>
      </p>
    </>
  );
}
