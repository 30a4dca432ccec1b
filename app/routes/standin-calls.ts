import { notFound } from "#app/request.ts";
import { keepCall, listCalls } from "#server/standins/calls.ts";
import type { Route } from "./+types/standin-calls.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  const calls = await listCalls(context.db);
  return Response.json(calls.map(({ at, ...call }) => ({ ...call, at: new Date(at).toISOString() })));
}

/** What an outside service does that is called by a rule: it takes what it is told. */
export async function action({ context, request }: Route.ActionArgs) {
  if (!context.standIns) throw notFound();
  const taken = await keepCall(context.db, context.now, request.headers, await request.text());
  return taken ? new Response("taken") : new Response("nothing to take", { status: 400 });
}
