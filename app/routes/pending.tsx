import { requireLead } from "#app/leads.ts";
import { PendingView } from "#app/views/lists/pending.tsx";
import { narrowingChoices } from "#server/choices.ts";
import { editionsHeld } from "#server/editions/queries.ts";
import { pendingPage } from "#server/pieces/pending.ts";
import { workflowNames } from "#server/workflows/queries.ts";
import type { Route } from "./+types/pending.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireLead({ context, request });
  const words = new URL(request.url).searchParams;
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const wanted = { section: get("section"), workflow: get("workflow"), person: get("person") };
  const narrowed = Object.values(wanted).some(Boolean);
  const [page, workflows, heldEditions] = await Promise.all([
    pendingPage(context.db, viewer, wanted),
    workflowNames(context.db),
    // An edition is of no section, workflow or person alone.
    narrowed ? [] : editionsHeld(context.db, viewer),
  ]);
  const choices = { ...narrowingChoices(viewer), workflows };
  return { ...page, heldEditions, choices, wanted };
}

export const meta: Route.MetaFunction = () => [{ title: "Waiting · Elenco" }];

export default function Pending({ loaderData }: Route.ComponentProps) {
  return <PendingView page={loaderData} />;
}
