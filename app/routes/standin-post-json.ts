import { notFound } from "#app/request.ts";
import { listMail } from "#server/standins/post.ts";
import type { Route } from "./+types/standin-post-json.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  const mail = await listMail(context.db);
  return Response.json(mail.map((one) => ({ ...one, at: new Date(one.at).toISOString() })));
}
