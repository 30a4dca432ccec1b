import type { Route } from "../../routes/+types/standin-chat.ts";
import { linked } from "./linked.tsx";

/** What was said in the stand-in for a chat channel. */
export function ChatView({ loaderData }: Route.ComponentProps) {
  const { said } = loaderData;
  return (
    <main className="mx-auto max-w-3xl px-5 py-8">
      <p className="text-13 text-rail">
        A stand-in for a chat channel: what is sent to this address as an incoming webhook is shown here.
      </p>
      <h1>Chat</h1>
      {said.length === 0 && <p className="mt-4 text-rail">Nothing was said.</p>}
      <ul className={said.length ? "mt-4 border-t border-ink" : ""}>
        {said.map((one) => (
          <li key={one.id} className="border-b border-rule py-3 text-13">
            <time dateTime={new Date(one.at).toISOString()} className="text-rail">
              {new Date(one.at).toISOString().replace("T", " ").slice(0, 16)} UTC
            </time>
            <p className="mt-1 whitespace-pre-line break-words">{linked(one.body)}</p>
          </li>
        ))}
      </ul>
    </main>
  );
}
