import { notFound, requireViewer } from "#app/request.ts";
import { PreviewView } from "#app/views/piece/preview.tsx";
import { previewed } from "#server/reader/preview.ts";
import type { Route } from "./+types/piece-preview.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const number = Number.parseInt(new URL(request.url).searchParams.get("version") ?? "", 10);
  const shown = await previewed(context.db, viewer, params.slug, number || null);
  if (!shown) throw notFound();
  return shown;
}

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Preview of ${loaderData?.piece.title ?? "a piece"} · Elenco` },
];

export default function Preview(props: Route.ComponentProps) {
  return <PreviewView {...props} />;
}
