import { data } from "react-router";
import { form, formNamed, named, type PageForm } from "#app/forms.ts";
import { pack, usePacked } from "#app/packed.ts";
import { actOnPiece, findDesk } from "#app/piece-desk.ts";
import { filterIn } from "#app/piece-filter.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
import { loaderAhead } from "#app/views/frame/ahead.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PiecesView } from "#app/views/lists/pieces.tsx";
import { extentOf } from "#core/access/permissions.ts";
import { beginnings } from "#server/pieces/beginning.ts";
import { piecesByStop } from "#server/pieces/by-stop.ts";
import { filterChoices, listPieces } from "#server/pieces/lists.ts";
import { COLUMNS, columnsOf, keepColumns, keepColumnsInput } from "#server/search/columns.ts";
import { dropFilter, dropFilterInput, filtersOf, keepFilter, keepFilterInput } from "#server/search/filters.ts";
import type { Route } from "./+types/pieces.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const face = FACES.find((one) => one === words.get("as")) ?? ("table" as const);
  const filter = filterIn(words);
  const byDate = face === "dates" && { sort: words.get("by") === "publish" ? ("publish" as const) : ("due" as const) };
  const slug = words.get("piece");
  const [list, queues, desk, choices, kept, columns] = await Promise.all([
    face === "stops" ? null : listPieces(context.db, viewer, { ...filter, ...byDate }),
    face === "stops" ? piecesByStop(context.db, viewer, filter) : null,
    face === "stops" && slug ? findDesk({ context, request, params: { slug } }) : null,
    filterChoices(context.db, viewer),
    filtersOf(context.db, viewer),
    columnsOf(context.db, viewer),
  ]);
  const deletes = viewer.grants.some(({ permissions }) => extentOf(permissions, "piece.delete") !== "no");
  const mayBegin = beginnings(viewer).kinds.length > 0;
  return {
    packed: pack({
      face,
      list,
      queues,
      desk: desk && pack(desk),
      columns,
      allColumns: COLUMNS,
      choices,
      kept,
      mayBegin,
      deletes,
    }),
  };
}

/** How the list may be shown. */
const FACES = ["stops", "dates"] as const;

const FORMS: Record<string, PageForm> = {
  "keep-filter": form(keepFilterInput, keepFilter),
  "drop-filter": form(dropFilterInput, dropFilter),
  columns: form(keepColumnsInput, keepColumns),
};

export const action = async (asked: Route.ActionArgs) => {
  const words = new URL(asked.request.url).searchParams;
  const slug = words.get("piece");
  const intent = String((await asked.request.clone().formData()).get("intent"));
  if (slug === null || named(FORMS, intent)) return actOnList(asked);
  // Whoever carried a piece takes its step, and is at the list again.
  for (const word of ["piece", "do"]) words.delete(word);
  return actOnPiece({ ...asked, params: { slug }, after: `/pieces?${words}` });
};

const actOnList = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? data(answered(intent)) : done;
});

export const clientLoader = loaderAhead<Awaited<ReturnType<typeof loader>>>();

export const meta: Route.MetaFunction = () => [{ title: "Pieces · Elenco" }];

export default function Pieces({ loaderData, actionData }: Route.ComponentProps) {
  return <PiecesView page={usePacked(loaderData.packed)} answer={useLastAnswer(actionData) ?? null} />;
}
