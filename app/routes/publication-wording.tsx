import { requirePermission } from "#app/request.ts";
import { WordingsView } from "#app/views/publication/wordings.tsx";
import { listWordings } from "#server/notices/wording.ts";
import type { Route } from "./+types/publication-wording.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  return { wordings: await listWordings(context.db, viewer) };
}

export const meta: Route.MetaFunction = () => [{ title: "Wording · Elenco" }];

export default function Wordings({ loaderData }: Route.ComponentProps) {
  return <WordingsView page={loaderData} />;
}
