import { useState } from "react";
import { Form, Link, redirect, useNavigation, useSubmit } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import {
  answered,
  type FormAnswer,
  guarded,
  misread,
  notFound,
  readForm,
  requireViewer,
  runCommand,
} from "#app/request.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { SelectField, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { WorkflowLine } from "#app/views/workflow/line.tsx";
import { STARTING_POINTS } from "#core/workflow/starting-points.ts";
import { bindWorkflow } from "#server/workflows/bindings.ts";
import { startCopy, WORKFLOW_BYTES } from "#server/workflows/copies.ts";
import {
  type BindingRow,
  listBindings,
  listWorkflows,
  pieceBindings,
  type WorkflowRow,
} from "#server/workflows/queries.ts";
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

export default function Workflows({ loaderData, actionData }: Route.ComponentProps) {
  const { workflows, bindings, pieces } = loaderData;
  const begun = actionData && "begun" in actionData ? actionData.begun : null;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_332px]">
      <div className="min-w-0 px-4 py-5 md:px-6">
        <h1>Workflows</h1>
        {workflows.length === 0 && <p className="mt-4 text-rail">None yet. Begin one beside this.</p>}
        {workflows.map((one) => (
          <Line key={one.id} row={one} />
        ))}
      </div>
      <aside className="space-y-8 border-rule px-4 py-5 lg:border-l">
        <section>
          <h2 className="mb-3 text-15! font-bold">A new workflow</h2>
          {begun && (
            <div className="mb-3">
              <Message more={begun.leftOut}>It was brought in, but not all of it could be used.</Message>
              <ButtonLink look="go" to={`/workflows/${begun.key}`} className="mt-2">
                Open it
              </ButtonLink>
            </div>
          )}
          <Begin {...loaderData} answer={actionData?.intent === "start" ? actionData : null} />
        </section>
        <section>
          <h2 className="mb-2 text-15! font-bold">Where they apply</h2>
          {actionData?.intent === "bind" && actionData.refusal && <Message>{actionData.refusal.sentence}</Message>}
          <ul className="border-t border-ink">
            {bindings
              .filter((one) => one.scope !== "kind")
              .map((one) => (
                <Binding key={one.id} binding={one} workflows={workflows} />
              ))}
          </ul>
          <h3 className="mt-4 mb-1 text-13 font-semibold text-rail">A kind, wherever it is written</h3>
          <ul className="border-t border-rule">
            {bindings
              .filter((one) => one.scope === "kind")
              .map((one) => (
                <Binding key={one.id} binding={one} workflows={workflows} />
              ))}
          </ul>
          {pieces.length > 0 && (
            <>
              <h3 className="mt-4 mb-1 text-13 font-semibold text-rail">A single piece</h3>
              <ul className="border-t border-rule">
                {pieces.map((one) => (
                  <li key={one.slug} className="flex justify-between gap-2 border-b border-rule py-1.5 text-13">
                    <Link to={`/pieces/${one.slug}`} className="truncate hover:text-blue">
                      {one.title}
                    </Link>
                    <span className="shrink-0 text-rail">{one.workflow}</span>
                  </li>
                ))}
              </ul>
            </>
          )}
          <p className="mt-2 text-12 text-rail">
            New pieces begin on the workflow that is nearest: of their kind, their section, the one above, or the
            publication.
          </p>
        </section>
      </aside>
    </div>
  );
}

function Begin({
  workflows,
  ready,
  formKey,
  answer,
}: Pick<Route.ComponentProps["loaderData"], "workflows" | "ready" | "formKey"> & { answer: FormAnswer | null }) {
  const [from, setFrom] = useState(`ready:${ready[1]?.key}`);
  const [tooLarge, setTooLarge] = useState(false);
  const busy = useNavigation().state === "submitting";
  const model = ready.find((one) => `ready:${one.key}` === from);
  const refusal = answer?.refusal;
  return (
    <Form method="post" encType="multipart/form-data" className="space-y-3">
      <input type="hidden" name="intent" value="start" />
      <input type="hidden" name="formKey" value={formKey} />
      {refusal && refusal.field !== "name" && <Message more={refusal.missing}>{refusal.sentence}</Message>}
      <SelectField
        label="Begin from"
        name="from"
        value={from}
        onChange={(event) => setFrom(event.target.value)}
        hint={model?.purpose}
      >
        <optgroup label="Ready-made">
          {ready.map((one) => (
            <option key={one.key} value={`ready:${one.key}`}>
              {one.name}
            </option>
          ))}
        </optgroup>
        <optgroup label="A copy of">
          {workflows
            .filter((one) => one.revision !== null)
            .map((one) => (
              <option key={one.key} value={`workflow:${one.key}`}>
                {one.name}
              </option>
            ))}
        </optgroup>
        <option value="file">a file (JSON or SCXML)</option>
        <option value="empty">nothing</option>
      </SelectField>
      {from === "file" ? (
        <>
          <input type="hidden" name="name" value="" />
          <TextField
            label="Workflow document"
            type="file"
            name="file"
            accept=".json,.scxml,.xml,application/json,application/xml"
            error={tooLarge ? "The file is larger than 1 MB." : answer?.fields.file}
            hint="One with a known key becomes the working copy of that workflow. Nothing is in use by it."
            onChange={(event) => setTooLarge((event.target.files?.[0]?.size ?? 0) > 1_000_000)}
          />
        </>
      ) : (
        <TextField
          label="Name"
          name="name"
          maxLength={80}
          error={refusal?.field === "name" ? refusal.sentence : answer?.fields.name}
        />
      )}
      <Button look="go" disabled={busy || (from === "file" && tooLarge)}>
        {busy ? "Reading …" : from === "file" ? "Bring in" : "Begin"}
      </Button>
    </Form>
  );
}

function Line({ row }: { row: WorkflowRow }) {
  const inFlight = Object.values(row.here).reduce((sum, here) => sum + here.count, 0);
  const late = Object.values(row.here).reduce((sum, here) => sum + here.late, 0);
  return (
    <section className="mt-5 border-t border-ink pt-2" aria-label={row.name} data-row>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="max-w-full text-19! break-words">
          <Link to={`/workflows/${row.key}`} className="hover:text-blue">
            {row.name}
          </Link>
        </h2>
        <p className="mr-auto text-13 text-rail">
          {row.retired ? "retired" : row.revision ? `revision ${row.revision}` : "not in use yet"} ·{" "}
          {inFlight === 1 ? "1 piece" : `${inFlight || "no"} pieces`} in flight
          {late > 0 && <span className="font-semibold text-red">, {late} late</span>} ·{" "}
          {row.places.length ? row.places.join(", ") : "applies nowhere yet"}
          {row.changing && ` · being changed by ${row.changing}`}
        </p>
        <ButtonLink to={`/workflows/${row.key}`}>Open</ButtonLink>
      </div>
      {row.document.purpose && <p className="mt-0.5 text-13 text-rail">{row.document.purpose}</p>}
      <section
        aria-label={`The line of ${row.name}`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing wider than its place must scroll by keyboard too
        tabIndex={0}
        className="overflow-x-auto pt-1"
      >
        <WorkflowLine workflow={row.document} here={row.here} />
      </section>
    </section>
  );
}

function Binding({ binding, workflows }: { binding: BindingRow; workflows: WorkflowRow[] }) {
  const submit = useSubmit();
  const { applies, workflowId } = binding;
  const set = workflowId !== null;
  const inherits =
    binding.scope === "kind"
      ? "as in its section"
      : binding.scope === "publication"
        ? "none"
        : applies && !set
          ? `${applies.workflow}, from ${applies.from.split(" / ").at(-1)}`
          : "from the section above";
  return (
    <li className="border-b border-rule py-1.5">
      <Form
        method="post"
        className="flex items-center justify-between gap-2"
        onChange={(event) => submit(event.currentTarget, { method: "post" })}
      >
        <input type="hidden" name="intent" value="bind" />
        <input type="hidden" name="scope" value={binding.scope} />
        <input type="hidden" name="scopeId" value={binding.id} />
        <span
          className={`min-w-0 truncate text-13 ${binding.scope === "publication" ? "font-semibold" : ["", "", "pl-4", "pl-8"][Math.min(3, binding.depth)]}`}
        >
          {binding.name}
        </span>
        <select
          key={workflowId}
          name="workflowId"
          aria-label={`Workflow of ${binding.name}`}
          defaultValue={workflowId ?? ""}
          className="narrow h-7 w-44 rounded border border-track bg-paper px-1 text-13"
        >
          <option value="">{inherits}</option>
          {workflows
            .filter((one) => one.revision !== null && (!one.retired || one.id === workflowId))
            .map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
        </select>
        <noscript>
          <Button>Set</Button>
        </noscript>
      </Form>
      {binding.notValid.length > 0 && (
        <p className="mt-0.5 text-12 text-rail">
          Not valid today: {binding.notValid.join("; ")}.{" "}
          {applies ? `${applies.workflow} applies.` : "Nothing applies."}
        </p>
      )}
    </li>
  );
}
