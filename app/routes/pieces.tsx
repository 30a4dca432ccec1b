import { requireViewer } from "#app/request.ts";
import { PiecesView } from "#app/views/lists/pieces.tsx";
import { extentOf } from "#core/access/permissions.ts";
import { beginnings, filterChoices, listPieces, type PieceFilter } from "#server/pieces/lists.ts";
import type { Route } from "./+types/pieces.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const show = get("show");
  const filter: PieceFilter = {
    section: get("section"),
    state: get("state"),
    author: get("author"),
    words: get("words"),
    late: words.get("late") === "yes",
    overridden: words.get("flag") === "overridden",
    stuck: words.get("flag") === "stuck",
    show: show === "live" || show === "all" ? show : "flight",
    after: get("after"),
  };
  const [page, choices] = await Promise.all([
    listPieces(context.db, viewer, filter),
    filterChoices(context.db, viewer),
  ]);
  const deletes = viewer.grants.some(({ permissions }) => extentOf(permissions, "piece.delete") !== "no");
  return { ...page, choices, mayBegin: beginnings(viewer).kinds.length > 0, deletes };
}

export const meta: Route.MetaFunction = () => [{ title: "Pieces · Elenco" }];

export default function Pieces(props: Route.ComponentProps) {
  return <PiecesView {...props} />;
}
