import { data } from "react-router";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { SectionTree } from "#app/views/publication/sections.tsx";
import { appliedWorkflow } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import {
  addInput,
  addSection,
  deleteInput,
  deleteSection,
  moveInput,
  moveSection,
  previewMove,
  renameInput,
  renameSection,
} from "#server/sections/commands.ts";
import type { Route } from "./+types/publication-sections.ts";

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

const FORMS: Record<string, PageForm> = {
  add: form(addInput, addSection),
  rename: form(renameInput, renameSection),
  move: form(moveInput, moveSection),
  delete: form(deleteInput, deleteSection),
};

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "section.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? data(answered(intent)) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Sections · Elenco" }];

export default function Sections({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  return <SectionTree {...loaderData} answer={actionData ?? null} />;
}
