import { notFound, requireViewer } from "#app/request.ts";
import { routesAnywhere } from "#app/views/frame/places.ts";
import { PendingView } from "#app/views/lists/pending.tsx";
import { pathName } from "#core/sections/tree.ts";
import { pendingPage } from "#server/pieces/pending.ts";
import { workflowNames } from "#server/workflows/queries.ts";
import type { Route } from "./+types/pending.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  if (!routesAnywhere(viewer, viewer.now)) throw notFound();
  const words = new URL(request.url).searchParams;
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const wanted = { section: get("section"), workflow: get("workflow"), person: get("person") };
  const [page, workflows] = await Promise.all([pendingPage(context.db, viewer, wanted), workflowNames(context.db)]);
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  const choices = {
    sections: [...viewer.places.sections.values()]
      .map(({ id, key }) => ({ key, name: pathName(viewer.places, id) }))
      .sort(byName),
    workflows,
    people: [...viewer.roster.people.values()].map(({ id, name }) => ({ key: id, name })).sort(byName),
  };
  return { ...page, choices, wanted };
}

export const meta: Route.MetaFunction = () => [{ title: "Waiting · Elenco" }];

export default function Pending({ loaderData }: Route.ComponentProps) {
  return <PendingView page={loaderData} />;
}
