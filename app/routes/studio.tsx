import { redirect } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { named } from "#app/forms.ts";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { StudioView } from "#app/views/studio/page.tsx";
import { fromLocalInput } from "#core/time/local.ts";
import { check, isWalkable } from "#core/workflow/checking/check.ts";
import { cancelPlanned, putInUse } from "#server/workflows/adopt.ts";
import { deleteWorkflow, retireWorkflow, reviveWorkflow } from "#server/workflows/bindings.ts";
import { discardCopy, takeOver } from "#server/workflows/copies.ts";
import { previewChange } from "#server/workflows/preview.ts";
import { openStudio } from "#server/workflows/queries.ts";
import { mayConfigure } from "#server/workflows/staff.ts";
import type { Route } from "./+types/studio.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const studio = mayConfigure(viewer, viewer.now) ? await openStudio(context.db, viewer, params.key) : null;
  const workflow = studio?.copy?.document ?? studio?.inUse?.document;
  if (!studio || !workflow) throw notFound();
  const look = new URL(request.url).searchParams.get("look");
  const walkable = look === "changes" && studio.copy && isWalkable(check(workflow, studio.people));
  const preview = walkable ? await previewChange(context.db, viewer, studio.id, workflow) : null;
  return { studio, workflow, preview, calendar: viewer.calendar, now: viewer.now, formKey: v7() };
}

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

const fate = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("stays") }),
  z.object({ kind: z.literal("moves"), to: z.string() }),
  z.object({ kind: z.literal("finishes-there") }),
]);
/** A field that holds JSON of a shape. */
const jsonField = <T extends z.ZodType>(schema: T) =>
  z
    .string()
    .transform((text, issue): unknown => {
      try {
        return JSON.parse(text);
      } catch {
        issue.addIssue({ code: "custom", message: "The choices did not arrive whole." });
        return z.NEVER;
      }
    })
    .pipe(schema);
const use = z.object({
  formKey: z.uuid(),
  revision: z.coerce.number().int(),
  choices: jsonField(z.object({ states: z.record(z.string(), fate), pieces: z.record(z.string(), fate) })),
  acknowledged: jsonField(z.array(z.string())),
  when: z.enum(["now", "at"]),
  at: z.string().default(""),
});

const ORDERS: Record<string, typeof retireWorkflow> = {
  "take-over": takeOver,
  "cancel-plan": cancelPlanned,
  retire: retireWorkflow,
  revive: reviveWorkflow,
};

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  if (!mayConfigure(viewer, viewer.now)) throw notFound();
  const form = await request.formData();
  const intent = String(form.get("intent") ?? "");
  const { key } = params;
  const order = named(ORDERS, intent);
  if (order) {
    const done = await runCommand(intent, () => order(context.act(viewer.id), key));
    return "value" in done ? answered(intent) : done;
  }
  if (intent === "discard") {
    const done = await runCommand(intent, () => discardCopy(context.act(viewer.id), key));
    return "value" in done ? redirect("/workflows") : done;
  }
  if (intent === "delete") {
    const done = await runCommand(intent, () => deleteWorkflow(context.act(viewer.id), key));
    return "value" in done ? redirect("/workflows") : done;
  }
  const read = readForm(use, form);
  if ("fields" in read) return misread("use", read.fields);
  const { formKey, when, at, ...rest } = read.values;
  const instant = when === "now" ? null : fromLocalInput(at, viewer.zone);
  if (when === "at" && instant === null) return misread("use", { at: "This is no date and time." });
  const done = await runCommand("use", () => putInUse(context.act(viewer.id, formKey), { key, ...rest, at: instant }));
  return "value" in done ? redirect(`/workflows/${key}`) : done;
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.workflow.name ?? "Workflow"} · Elenco` },
];

export default function StudioPage(props: Route.ComponentProps) {
  useKept(clientLoader, props.loaderData);
  return <StudioView {...props} />;
}
