import { useState } from "react";
import { Link, useNavigation } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Option, OptionGroup, Select, SelectField } from "#app/ui/select.tsx";
import type { BindingRow, WorkflowRow } from "#server/workflows/queries.ts";
import { WorkflowLine } from "./line.tsx";

/** How a workflow begins: from a ready-made one, a copy, a file, or nothing. */
export function Begin({
  workflows,
  ready,
  formKey,
  answer,
}: {
  workflows: WorkflowRow[];
  ready: { key: string; name: string; purpose: string }[];
  formKey: string;
  answer: FormAnswer | null;
}) {
  const [from, setFrom] = useState(`ready:${ready[1]?.key}`);
  const [tooLarge, setTooLarge] = useState(false);
  const busy = useNavigation().state === "submitting";
  const model = ready.find((one) => `ready:${one.key}` === from);
  return (
    <ActionForm intent="start" answer={answer} sends={{ formKey }} encType="multipart/form-data">
      <SelectField label="Begin from" name="from" value={from} onChoose={setFrom} hint={model?.purpose}>
        <OptionGroup label="Ready-made">
          {ready.map((one) => (
            <Option key={one.key} value={`ready:${one.key}`}>
              {one.name}
            </Option>
          ))}
        </OptionGroup>
        <OptionGroup label="A copy of">
          {workflows
            .filter((one) => one.revision !== null)
            .map((one) => (
              <Option key={one.key} value={`workflow:${one.key}`}>
                {one.name}
              </Option>
            ))}
        </OptionGroup>
        <Option value="file">a file (JSON or SCXML)</Option>
        <Option value="empty">nothing</Option>
      </SelectField>
      {from === "file" ? (
        <>
          <Hidden name="name" value="" />
          <FileDrop
            label="Workflow document"
            name="file"
            accept=".json,.scxml,.xml,application/json,application/xml"
            error={tooLarge ? "The file is larger than 1 MB." : undefined}
            hint="One with a known key becomes the working copy of that workflow. Nothing is in use by it."
            onChange={(event) => setTooLarge((event.target.files?.[0]?.size ?? 0) > 1_000_000)}
          />
        </>
      ) : (
        <TextField label="Name" name="name" maxLength={80} />
      )}
      <Button look="go" busy={busy} disabled={from === "file" && tooLarge}>
        {busy ? "Reading …" : from === "file" ? "Bring in" : "Begin"}
      </Button>
    </ActionForm>
  );
}

/** One workflow in the list: its line with what is on it. */
export function Line({ row }: { row: WorkflowRow }) {
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

/** A place and the workflow that applies there, chosen anew at once. */
export function Binding({ binding, workflows }: { binding: BindingRow; workflows: WorkflowRow[] }) {
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
      <ChoiceForm method="post" className="flex items-center justify-between gap-2">
        <Hidden name="intent" value="bind" />
        <Hidden name="scope" value={binding.scope} />
        <Hidden name="scopeId" value={binding.id} />
        <span
          className={`min-w-0 truncate text-13 ${binding.scope === "publication" ? "font-semibold" : ["", "", "pl-4", "pl-8"][Math.min(3, binding.depth)]}`}
        >
          {binding.name}
        </span>
        <Select
          key={workflowId}
          name="workflowId"
          aria-label={`Workflow of ${binding.name}`}
          defaultValue={workflowId ?? ""}
          className="narrow w-44"
        >
          <Option value="">{inherits}</Option>
          {workflows
            .filter((one) => one.revision !== null && (!one.retired || one.id === workflowId))
            .map((one) => (
              <Option key={one.id} value={one.id}>
                {one.name}
              </Option>
            ))}
        </Select>
      </ChoiceForm>
      {binding.notValid.length > 0 && (
        <p className="mt-0.5 text-12 text-rail">
          Not valid today: {binding.notValid.join("; ")}.{" "}
          {applies ? `${applies.workflow} applies.` : "Nothing applies."}
        </p>
      )}
    </li>
  );
}
