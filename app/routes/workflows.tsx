import { Link, redirect } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { ButtonLink } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Begin, Binding, Line } from "#app/views/workflow/list.tsx";
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

export default function Workflows({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
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
