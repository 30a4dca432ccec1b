import type { Route } from "../../routes/+types/standin-post.ts";
import { linked } from "./linked.tsx";

/** What the stand-in for a mail server received. */
export function PostView({ loaderData }: Route.ComponentProps) {
  const { mail } = loaderData;
  return (
    <main className="mx-auto max-w-3xl px-5 py-8">
      <p className="text-13 text-rail">A stand-in for a mail server: it keeps what arrives and delivers nothing.</p>
      <h1>Post</h1>
      {mail.length === 0 && <p className="mt-4 text-rail">Nothing has arrived.</p>}
      <ul className={mail.length ? "mt-4 border-t border-ink" : ""}>
        {mail.map((one) => (
          <li key={one.messageId} className="border-b border-rule py-3">
            <p className="flex flex-wrap justify-between gap-x-4 text-13 text-rail">
              <span>to {one.recipient}</span>
              <time dateTime={new Date(one.at).toISOString()}>
                {new Date(one.at).toISOString().replace("T", " ").slice(0, 16)} UTC
              </time>
            </p>
            <h2 className="text-15!">{one.subject}</h2>
            <p className="mt-1 whitespace-pre-line break-words text-13">{linked(one.body)}</p>
          </li>
        ))}
      </ul>
    </main>
  );
}
