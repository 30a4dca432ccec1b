import { redirect } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { WorkflowsView } from "#app/views/workflow/page.tsx";
import { STARTING_POINTS } from "#core/workflow/editing/starting-points.ts";
import { bindWorkflow } from "#server/workflows/bindings.ts";
import { startCopy, WORKFLOW_BYTES } from "#server/workflows/copies.ts";
import { listBindings, listWorkflows, pieceBindings } from "#server/workflows/queries.ts";
import { mayConfigure } from "#server/workflows/staff.ts";
import type { Route } from "./+types/workflows.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  if (!mayConfigure(viewer, viewer.now)) throw notFound();
  const [workflows, bindings, pieces] = await Promise.all([
    listWorkflows(context.db, viewer),
    listBindings(context.db, viewer),
    pieceBindings(context.db, viewer),
  ]);
  const ready = STARTING_POINTS.map(({ key, name, purpose = "" }) => ({ key, name, purpose }));
  return { workflows, bindings, pieces, ready, formKey: v7() };
}

const binding = z.object({
  scope: z.enum(["publication", "section", "kind"]),
  scopeId: z.uuid(),
  workflowId: z.union([z.literal("").transform(() => null), z.uuid()]),
});
const start = z.object({ formKey: z.uuid(), from: z.string(), name: z.string(), file: z.instanceof(File).optional() });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  if (!mayConfigure(viewer, viewer.now)) throw notFound();
  const form = await request.formData();
  if (form.get("intent") === "bind") {
    const read = readForm(binding, form);
    if ("fields" in read) return misread("bind", read.fields);
    const done = await runCommand("bind", () => bindWorkflow(context.act(viewer.id), read.values));
    return "value" in done ? answered("bind") : done;
  }
  const read = readForm(start, form);
  if ("fields" in read) return misread("start", read.fields);
  const { from, name, file, formKey } = read.values;
  const act = context.act(viewer.id, formKey);
  const [sort, model = ""] = from.split(":");
  const begun = async () => {
    if (sort === "file") return startCopy(act, { from: "file", source: (await file?.text()) ?? "" });
    if (sort === "ready" || sort === "workflow") return startCopy(act, { from: sort, key: model, name });
    return startCopy(act, { from: "empty", name });
  };
  if (sort === "file" && (!file || file.size === 0)) return misread("start", { file: "Choose a file." });
  if (file && file.size > WORKFLOW_BYTES) return misread("start", { file: "The file is larger than 1 MB." });
  const done = await runCommand("start", begun);
  if (!("value" in done)) return done;
  const { key, leftOut } = done.value;
  if (leftOut.length === 0) return redirect(`/workflows/${key}`);
  return { ...answered("start"), begun: { key, leftOut } };
});

export const meta: Route.MetaFunction = () => [{ title: "Workflows · Elenco" }];

export default function Workflows(props: Route.ComponentProps) {
  return <WorkflowsView {...props} />;
}
