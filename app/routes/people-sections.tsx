import { data } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requirePermission, runCommand } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { SectionTree } from "#app/views/people/section-tree.tsx";
import { appliedWorkflow } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import { addSection, deleteSection, moveSection, previewMove, renameSection } from "#server/sections/commands.ts";
import type { Route } from "./+types/people-sections.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "section.edit");
  const words = new URL(request.url).searchParams;
  const { places } = viewer;
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const sections = [...places.sections.values()].map(({ id, name, parentId, revision }) => ({
    id,
    name,
    parentId,
    revision,
    workflow: appliedWorkflow(places, id, null, today)?.binding.workflow ?? null,
    own: places.bindings.some((one) => one.scope === "section" && one.scopeId === id),
  }));
  const moving = words.get("move");
  const under = words.get("under") || null;
  const preview = moving ? await previewMove(context.db, viewer, { id: moving, parentId: under }) : null;
  return { name: places.name, sections, preview };
}

const name = z.string().trim().min(1, "A section needs a name.").max(80, "At most 80 characters fit.");
const revision = z.coerce.number().int();
const parent = z.union([z.literal("").transform(() => null), z.uuid()]);

const FORMS = {
  add: { schema: z.object({ name, parentId: parent }), run: addSection },
  rename: { schema: z.object({ id: z.uuid(), name, revision }), run: renameSection },
  move: {
    schema: z.object({ id: z.uuid(), parentId: parent, position: z.coerce.number().int().min(0), revision }),
    run: moveSection,
  },
  delete: { schema: z.object({ id: z.uuid(), revision }), run: deleteSection },
} as const;

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "section.edit");
  const form = await request.formData();
  const intent = String(form.get("intent"));
  if (!Object.hasOwn(FORMS, intent)) throw notFound();
  const { schema, run } = FORMS[intent as keyof typeof FORMS];
  const read = readForm(schema, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand<unknown>(intent, () => run(context.act(viewer.id), read.values as never));
  return "value" in done ? data(answered(intent)) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Sections · Elenco" }];

export default function Sections({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  return <SectionTree {...loaderData} answer={actionData ?? null} />;
}
