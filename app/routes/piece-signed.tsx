import { notFound, requireViewer } from "#app/request.ts";
import { SignedView } from "#app/views/piece/signed.tsx";
import { filesOf } from "#server/files/queries.ts";
import { signedPage } from "#server/review/signed.ts";
import { namesIn } from "#server/text/names.ts";
import type { Route } from "./+types/piece-signed.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const number = Number.parseInt(new URL(request.url).searchParams.get("round") ?? "", 10);
  const page = await signedPage(context.db, viewer, params.slug, number || null);
  if (!page) throw notFound();
  const files = await filesOf(context.db, page.pieceId);
  return { ...page, names: await namesIn(context.db, viewer, page.fields, [page.version.content], files) };
}

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Signed: ${(loaderData as { title?: string } | undefined)?.title ?? "a piece"} · Elenco` },
];

export default function Signed({ loaderData }: Route.ComponentProps) {
  return <SignedView page={loaderData} />;
}
