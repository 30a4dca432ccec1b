import { Form, useNavigation, useSubmit } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { WorkflowLine } from "#app/views/workflow/line.tsx";
import { bindWorkflow, importWorkflow, WORKFLOW_BYTES } from "#server/workflows/commands.ts";
import {
  listBindings,
  listWorkflows,
  mayConfigure,
  type SectionBinding,
  type WorkflowRow,
} from "#server/workflows/queries.ts";
import type { Route } from "./+types/workflows.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  if (!mayConfigure(viewer)) throw notFound();
  return { workflows: await listWorkflows(context.db, viewer), bindings: listBindings(viewer), formKey: v7() };
}

const upload = z.object({ formKey: z.uuid(), file: z.instanceof(File) });
const id = z.union([z.literal("").transform(() => null), z.uuid()]);
const binding = z.object({ sectionId: id, workflowId: id });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  if (!mayConfigure(viewer)) throw notFound();
  const form = await request.formData();
  if (form.get("intent") === "bind") {
    const read = readForm(binding, form);
    if ("fields" in read) return misread("bind", read.fields);
    const done = await runCommand("bind", () => bindWorkflow(context.act(viewer.id), read.values));
    return "value" in done ? answered("bind") : done;
  }
  const read = readForm(upload, form);
  if ("fields" in read || read.values.file.size === 0) return misread("import", { file: "Choose a file." });
  const { file, formKey } = read.values;
  if (file.size > WORKFLOW_BYTES) return misread("import", { file: "The file is larger than 1 MB." });
  const source = await file.text();
  const done = await runCommand("import", () => importWorkflow(context.act(viewer.id, formKey), source));
  return "value" in done ? { ...answered("import"), imported: done.value } : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Workflows · Elenco" }];

export default function Workflows({ loaderData, actionData }: Route.ComponentProps) {
  const { workflows, bindings, formKey } = loaderData;
  const busy = useNavigation().state === "submitting";
  const refusal = actionData?.refusal;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_316px]">
      <div className="min-w-0 px-4 py-5 md:px-6">
        <h1>Workflows</h1>
        {workflows.length === 0 && <p className="mt-4 text-rail">None yet. Bring one in from a file.</p>}
        {workflows.map((one) => (
          <Line key={one.id} row={one} />
        ))}
      </div>
      <aside className="space-y-8 border-rule px-4 py-5 lg:border-l">
        <section>
          <h2 className="mb-3 text-15! font-bold">Bring in a workflow</h2>
          <Form method="post" encType="multipart/form-data" className="space-y-3">
            <input type="hidden" name="intent" value="import" />
            <input type="hidden" name="formKey" value={formKey} />
            {actionData?.intent === "import" && refusal && <Message more={refusal.missing}>{refusal.sentence}</Message>}
            {actionData && "imported" in actionData && actionData.imported && (
              <p role="status" className="text-13">
                {actionData.imported.changed
                  ? `Revision ${actionData.imported.revision} of ${actionData.imported.key} is here. Choose below where it applies.`
                  : `Nothing to bring in: ${actionData.imported.key} says the same already.`}
              </p>
            )}
            <TextField
              label="Workflow document (JSON)"
              type="file"
              name="file"
              accept=".json,application/json"
              error={actionData?.intent === "import" ? actionData.fields.file : undefined}
              hint="A document with a known key becomes its next revision; pieces in flight stay on theirs."
            />
            <Button look="go" disabled={busy}>
              {busy ? "Reading …" : "Bring in"}
            </Button>
          </Form>
        </section>
        <section>
          <h2 className="mb-2 text-15! font-bold">Where they apply</h2>
          {actionData?.intent === "bind" && refusal && <Message>{refusal.sentence}</Message>}
          <ul className="border-t border-ink">
            {bindings.map((one) => (
              <Binding key={one.id ?? ""} binding={one} workflows={workflows} />
            ))}
          </ul>
          <p className="mt-2 text-12 text-rail">
            New pieces begin on the workflow that applies in their section; the nearest choice wins.
          </p>
        </section>
      </aside>
    </div>
  );
}

function Line({ row }: { row: WorkflowRow }) {
  const inFlight = Object.values(row.here).reduce((sum, count) => sum + count, 0);
  return (
    <section className="mt-5 border-t border-ink pt-2" aria-label={row.name}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-19!">{row.name}</h2>
        <p className="mr-auto text-13 text-rail">
          revision {row.revision} · {inFlight === 1 ? "1 piece" : `${inFlight || "no"} pieces`} in flight ·{" "}
          {row.places.length ? row.places.join(", ") : "applies nowhere yet"}
        </p>
        <a className="text-13 text-blue underline underline-offset-3" href={`/workflows/${row.key}/document`} download>
          Export
        </a>
      </div>
      {row.document.purpose && <p className="mt-0.5 text-13 text-rail">{row.document.purpose}</p>}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing wider than its place must scroll by keyboard too */}
      <section aria-label={`The line of ${row.name}`} tabIndex={0} className="overflow-x-auto pt-2">
        <WorkflowLine workflow={row.document} here={row.here} />
      </section>
    </section>
  );
}

function Binding({ binding, workflows }: { binding: SectionBinding; workflows: WorkflowRow[] }) {
  const submit = useSubmit();
  const applied = workflows.find((one) => one.id === binding.applies?.workflowId)?.name;
  const inherits =
    binding.id === null
      ? "none"
      : `as in ${binding.applies && binding.workflowId === null ? binding.applies.from : "the section above"}`;
  return (
    <li className="border-b border-rule py-1.5">
      <Form
        method="post"
        className="flex items-center justify-between gap-2"
        onChange={(event) => submit(event.currentTarget, { method: "post" })}
      >
        <input type="hidden" name="intent" value="bind" />
        <input type="hidden" name="sectionId" value={binding.id ?? ""} />
        <span
          className={`min-w-0 truncate text-13 ${["font-semibold", "", "pl-4", "pl-8"][Math.min(3, binding.depth)]}`}
        >
          {binding.name}
        </span>
        <select
          key={binding.workflowId}
          name="workflowId"
          aria-label={`Workflow of ${binding.name}`}
          defaultValue={binding.workflowId ?? ""}
          className="narrow h-7 w-40 rounded border border-track bg-paper px-1 text-13"
        >
          <option value="">
            {binding.workflowId === null && applied && binding.id !== null ? `${applied}, ${inherits}` : inherits}
          </option>
          {workflows.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
        <noscript>
          <Button>Set</Button>
        </noscript>
      </Form>
    </li>
  );
}
