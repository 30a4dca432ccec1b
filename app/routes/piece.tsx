import { actOnPiece, deskOf } from "#app/piece-desk.ts";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PieceView } from "#app/views/piece/piece.tsx";
import type { Route } from "./+types/piece.ts";

export const loader = ({ context, request, params }: Route.LoaderArgs) => deskOf({ context, request, params });

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

export const action = ({ context, request, params }: Route.ActionArgs) => actOnPiece({ context, request, params });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${(loaderData as { row?: { title: string } } | undefined)?.row?.title ?? "Piece"} · Elenco` },
];

export default function Piece({ loaderData: page, actionData }: Route.ComponentProps) {
  useKept(clientLoader, page);
  const answer = useLastAnswer(actionData);
  return <PieceView key={page.row.id} page={page} answer={answer ?? null} />;
}
