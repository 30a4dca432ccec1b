import { redirect } from "react-router";
import { z } from "zod";
import { moment } from "#app/forms.ts";
import { answered, guarded, misread, notFound, requireViewer, runCommand } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { BundleView } from "#app/views/lists/bundle.tsx";
import { openEditions } from "#server/editions/queries.ts";
import { choose } from "#server/pieces/lists.ts";
import { beginBundle, doBundle, fillTable, rowInput, TABLE_MOST, TOGETHER_MOST } from "#server/together/commands.ts";
import { bundlePage, piecesOf, undoing } from "#server/together/queries.ts";
import type { Route } from "./+types/together-bundle.ts";

const STANDS = z.enum(["blank", "waiting", "would", "refused", "done", "failed"]);

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
  const editions = (await openEditions(context.db, viewer)).map(({ id: key, name }) => ({ key, name }));
  const named = (some: typeof people) => Object.fromEntries(some.map(({ key, name }) => [key, name]));
  return {
    ...page,
    failed,
    people: page.table ? named(people) : {},
    names: named([...people, ...sections, ...editions]),
  };
}

/** The rows of a table, whose fields end in the place of their piece: `step.3`, `at.3`. */
function rowsIn(
  form: FormData,
  zone: string,
): { values: z.output<typeof rowInput>[] } | { fields: Record<string, string> } {
  const row = rowInput.extend({ at: moment(zone), position: z.coerce.number().pipe(rowInput.shape.position) });
  const read = form
    .getAll("position")
    .slice(0, TABLE_MOST)
    .map((position) => {
      const fields = ["step", "personId", "at", "note"].map((name) => [name, form.get(`${name}.${position}`) ?? ""]);
      return { position, result: row.safeParse({ position, ...Object.fromEntries(fields) }) };
    });
  const faults = read.flatMap(({ position, result }) =>
    result.success ? [] : result.error.issues.map((issue) => [`${String(issue.path[0])}.${position}`, issue.message]),
  );
  if (faults.length > 0) return { fields: Object.fromEntries(faults) };
  return { values: read.flatMap(({ result }) => (result.success ? result.data : [])) };
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
  if (intent === "fill") {
    const rows = rowsIn(form, viewer.zone);
    if ("fields" in rows) return misread(intent, rows.fields);
    const done = await runCommand(intent, () => fillTable(act, { bundleId, rows: rows.values }));
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
