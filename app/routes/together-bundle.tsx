import { redirect } from "react-router";
import { z } from "zod";
import { answered, guarded, notFound, requireViewer, runCommand } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { BundleView } from "#app/views/lists/bundle.tsx";
import { choose } from "#server/pieces/lists.ts";
import { beginBundle, doBundle, TOGETHER_MOST } from "#server/together/commands.ts";
import { bundlePage, piecesOf, undoing } from "#server/together/queries.ts";
import type { Route } from "./+types/together-bundle.ts";

const STANDS = z.enum(["waiting", "would", "refused", "done", "failed"]);

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const id = z.uuid().safeParse(params.id).data;
  const show = STANDS.safeParse(words.get("show")).data ?? null;
  const after = z.coerce
    .number()
    .int()
    .min(-1)
    .max(TOGETHER_MOST)
    .catch(-1)
    .parse(words.get("after") ?? -1);
  const page = id ? await bundlePage(context.db, viewer, id, { show, after }) : null;
  if (!page) throw notFound();
  const failed = await piecesOf(context.db, viewer, page.id, page.started ? "failed" : "refused");
  const people = [...viewer.roster.people.values()].map(({ id: key, name }) => ({ key, name }));
  const sections = [...viewer.places.sections.values()].map(({ id: key, name }) => ({ key, name }));
  return { ...page, failed, names: Object.fromEntries([...people, ...sections].map(({ key, name }) => [key, name])) };
}

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const bundleId = z.uuid().safeParse(params.id).data;
  if (!bundleId) throw notFound();
  const act = context.act(viewer.id);
  if (intent === "do") {
    const done = await runCommand(intent, () => doBundle(act, { bundleId }));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "undo") throw notFound();
  const page = await bundlePage(context.db, viewer, bundleId, { show: null, after: -1 });
  const back = page?.undoable ? undoing(page.doing) : null;
  if (!back) throw notFound();
  const ids = await piecesOf(context.db, viewer, bundleId, "done");
  const pieces = await choose(context.db, viewer, { ids }, TOGETHER_MOST);
  const begun = await runCommand(intent, () => beginBundle(act, back, pieces));
  return "value" in begun ? redirect(`/together/${begun.value.id}`) : begun;
});

export const meta: Route.MetaFunction = () => [{ title: "One thing to many · Elenco" }];

export default function Bundle({ loaderData, actionData }: Route.ComponentProps) {
  return <BundleView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
