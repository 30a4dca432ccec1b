import { redirect } from "react-router";
import { notFound } from "#app/request.ts";
import { answerAsTold } from "#server/standins/assistant.ts";
import type { Route } from "./+types/standin-assistant.ts";

export function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  return redirect("/standins/assistant/manner");
}

/** What an outside assistant does: it takes JSON and answers JSON. */
export async function action({ context, request }: Route.ActionArgs) {
  if (!context.standIns) throw notFound();
  return answerAsTold(context.db, await request.text(), request.signal);
}
