import { pack, usePacked } from "#app/packed.ts";
import { actOnPiece, deskOf } from "#app/piece-desk.ts";
import { notFound, requireViewer } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PreviewView } from "#app/views/piece/preview.tsx";
import { inPlaceOf } from "#server/reader/in-place.ts";
import { previewed } from "#server/reader/preview.ts";
import type { Route } from "./+types/piece-preview.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const here = await inPlaceOf(context.db, viewer, params.slug);
  if (!here) throw notFound();
  const asked = Number.parseInt(words.get("version") ?? "", 10) || null;
  const number = words.get("look") === "theirs" ? here.out : asked;
  const [shown, out, page] = await Promise.all([
    previewed(context.db, viewer, params.slug, number),
    here.out === null ? null : previewed(context.db, viewer, params.slug, here.out),
    deskOf({ context, request, params }),
  ]);
  if (!shown) throw notFound();
  return { title: shown.piece.title, shown: pack({ ...shown, here, out: out?.content ?? null, page }) };
}

export const action = ({ context, request, params }: Route.ActionArgs) => actOnPiece({ context, request, params });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  {
    title: `Preview of ${(loaderData as { title?: string } | undefined)?.title ?? "a piece"} · Elenco`,
  },
];

export default function Preview({ loaderData, actionData }: Route.ComponentProps) {
  const answer = useLastAnswer(actionData);
  return <PreviewView shown={usePacked(loaderData.shown)} answer={answer ?? null} />;
}
