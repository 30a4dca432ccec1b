import { data } from "react-router";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { filterIn } from "#app/piece-filter.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PiecesView } from "#app/views/lists/pieces.tsx";
import { extentOf } from "#core/access/permissions.ts";
import { beginnings } from "#server/pieces/beginning.ts";
import { filterChoices, listPieces } from "#server/pieces/lists.ts";
import { dropFilter, dropFilterInput, filtersOf, keepFilter, keepFilterInput } from "#server/search/filters.ts";
import type { Route } from "./+types/pieces.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const filter = filterIn(new URL(request.url).searchParams);
  const [page, choices, kept] = await Promise.all([
    listPieces(context.db, viewer, filter),
    filterChoices(context.db, viewer),
    filtersOf(context.db, viewer),
  ]);
  const deletes = viewer.grants.some(({ permissions }) => extentOf(permissions, "piece.delete") !== "no");
  return { ...page, choices, kept, mayBegin: beginnings(viewer).kinds.length > 0, deletes };
}

const FORMS: Record<string, PageForm> = {
  "keep-filter": form(keepFilterInput, keepFilter),
  "drop-filter": form(dropFilterInput, dropFilter),
};

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? data(answered(intent)) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Pieces · Elenco" }];

export default function Pieces({ loaderData, actionData }: Route.ComponentProps) {
  return <PiecesView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
