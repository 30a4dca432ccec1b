import { data, redirect } from "react-router";
import { form, formKeyOf, formNamed } from "#app/forms.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Deleted } from "#app/views/lists/deleted.tsx";
import { eraseInput, erasePiece, listDeleted, restoreInput, restorePiece } from "#server/pieces/deleting.ts";
import type { Route } from "./+types/pieces-deleted.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  return { rows: await listDeleted(context.db, viewer) };
}

const FORMS = { restore: form(restoreInput, restorePiece), erase: form(eraseInput, erasePiece) };

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id, formKeyOf(sent)));
  const pieceId = String(sent.get("pieceId"));
  if (!("value" in done)) return data({ ...done.data, pieceId }, { status: 422 });
  if (intent === "restore") return redirect(`/pieces/${(done.value as { slug: string }).slug}`);
  return data({ ...answered(intent), pieceId: "" });
});

export const meta: Route.MetaFunction = () => [{ title: "Deleted pieces · Elenco" }];

export default function DeletedPieces({ loaderData, actionData }: Route.ComponentProps) {
  return <Deleted rows={loaderData.rows} answer={useLastAnswer(actionData) ?? null} />;
}
