import { notFound, requireViewer } from "#app/request.ts";
import { PassageView } from "#app/views/piece/passage-page.tsx";
import { passageOf } from "#server/pieces/passage.ts";
import type { Route } from "./+types/piece-passage.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const passage = await passageOf(context.db, viewer, params.slug);
  if (!passage) throw notFound();
  return passage;
}

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Passage of ${(loaderData as { title?: string } | undefined)?.title ?? "a piece"} · Elenco` },
];

export default function Passage({ loaderData }: Route.ComponentProps) {
  return <PassageView passage={loaderData} />;
}
