import { pack, usePacked } from "#app/packed.ts";
import { actOnPiece, deskOf } from "#app/piece-desk.ts";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PieceView } from "#app/views/piece/piece.tsx";
import type { Route } from "./+types/piece.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const page = await deskOf({ context, request, params });
  return { title: page.row.title, page: pack(page) };
}

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

export const action = ({ context, request, params }: Route.ActionArgs) => actOnPiece({ context, request, params });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${(loaderData as { title?: string } | undefined)?.title ?? "Piece"} · Elenco` },
];

export default function Piece({ loaderData, actionData }: Route.ComponentProps) {
  useKept(clientLoader, loaderData);
  const page = usePacked(loaderData.page);
  const answer = useLastAnswer(actionData);
  return <PieceView key={page.row.id} page={page} answer={answer ?? null} />;
}
