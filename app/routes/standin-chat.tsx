import { notFound } from "#app/request.ts";
import { ChatView } from "#app/views/standins/chat.tsx";
import { keepChat, listChat } from "#server/standins/chat.ts";
import type { Route } from "./+types/standin-chat.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  return { said: await listChat(context.db) };
}

/** What a channel's incoming webhook does: it takes a JSON object with the words as `text`. */
export async function action({ context, request }: Route.ActionArgs) {
  if (!context.standIns) throw notFound();
  const kept = await keepChat(context.db, context.now, await request.text());
  return kept ? new Response("ok") : new Response("no text", { status: 400 });
}

export const meta: Route.MetaFunction = () => [{ title: "Chat stand-in" }];

export default function Chat(props: Route.ComponentProps) {
  return <ChatView {...props} />;
}
