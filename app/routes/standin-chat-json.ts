import { notFound } from "#app/request.ts";
import { listChat } from "#server/standins/chat.ts";
import type { Route } from "./+types/standin-chat-json.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  const said = await listChat(context.db);
  return Response.json(said.map(({ id, at, body }) => ({ id, at: new Date(at).toISOString(), text: body })));
}
