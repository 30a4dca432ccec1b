import { type ReactNode, useState } from "react";
import { useNavigation } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button, IconButton } from "#app/ui/button.tsx";
import { Checkbox, Hidden, Input, NumberInput, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { Sortable } from "#app/ui/sortable.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import type { Field } from "#core/text/fields.ts";
import type { KindRow } from "#server/kinds/commands.ts";

type Row = Field & { row: number };

/** What a field can hold, in words. */
const HOLDS: Record<Field["type"], string> = {
  line: "a line",
  manuscript: "a text",
  number: "a number",
  date: "a date",
  choice: "a choice",
  link: "a link",
  image: "a picture",
  file: "a file",
  piece: "another piece",
};

/** A kind's fields in their order, each with its guidance and limits. */
export function KindForm({ kind, answer }: { kind: KindRow; answer: FormAnswer | null }) {
  const busy = useNavigation().state === "submitting";
  const [rows, setRows] = useState<Row[]>(kind.fields.map((field, row) => ({ ...field, row })));
  const errors = fieldErrors(answer, "save");
  const change = (row: number, more: Partial<Field>) =>
    setRows(rows.map((one) => (one.row === row ? { ...one, ...more } : one)));
  const add = () =>
    setRows([
      ...rows,
      { key: "", name: "", type: "line", required: false, row: Math.max(-1, ...rows.map((one) => one.row)) + 1 },
    ]);
  return (
    <div className="min-w-0 border-rule px-4 py-5 md:px-6 lg:border-l">
      <PanelHead title={kind.name} leave="/publication/kinds" />
      <ActForm intent="save" answer={answer} sends={{ key: kind.key, revision: kind.revision }} className="space-y-4">
        <Hidden name="fields" value={JSON.stringify(rows.map(({ row: _, ...field }) => field))} />
        <div className="max-w-80">
          <TextField label="Name" name="name" defaultValue={kind.name} maxLength={80} />
        </div>
        {errors.fields && <Message>{errors.fields}</Message>}
        <fieldset>
          <legend className="mb-1 text-13 font-semibold">Fields</legend>
          <Sortable
            label="Fields"
            items={rows}
            keyOf={(field) => String(field.row)}
            nameOf={(field) => field.name || "the new field"}
            onMove={(from, to) => setRows(rows.toSpliced(from, 1).toSpliced(to, 0, rows[from] as Row))}
          >
            {(field, at) => (
              <FieldRow
                field={field}
                onChange={(more) => change(field.row, more)}
                onRemove={() => setRows(rows.toSpliced(at, 1))}
              />
            )}
          </Sortable>
          <Button type="button" look="quiet" onClick={add} className="mt-1 -ml-3">
            Add a field
          </Button>
        </fieldset>
        <div className="flex items-center gap-3">
          <Button look="go" busy={busy}>
            {busy ? "Keeping …" : "Keep this kind"}
          </Button>
          {answer?.intent === "save" && !answer.refusal && Object.keys(answer.fields).length === 0 && (
            <span role="status" className="text-13 text-rail">
              Kept.
            </span>
          )}
        </div>
      </ActForm>
      {kind.pieces === 0 && (
        <ActForm intent="delete" answer={answer} className="mt-6">
          <Button look="quiet" name="key" value={kind.key} className="-ml-3">
            Do away with this kind
          </Button>
        </ActForm>
      )}
    </div>
  );
}

function FieldRow({
  field,
  onChange,
  onRemove,
}: {
  field: Row;
  onChange(more: Partial<Field>): void;
  onRemove(): void;
}) {
  const name = field.name || "the new field";
  const limit = (key: "minWords" | "maxWords" | "maxCharacters" | "least" | "most", words: string) => (
    <NumberInput
      min={key === "least" || key === "most" ? undefined : 1}
      step={key === "least" || key === "most" ? "any" : 1}
      aria-label={`${words} for ${name}`}
      placeholder={words}
      value={field[key] ?? ""}
      className="w-full! min-w-0"
      onChange={(event) => onChange({ [key]: event.target.value === "" ? undefined : Number(event.target.value) })}
    />
  );
  const words = (label: string, value: string, set: (words: string) => void) => (
    <Input
      look="small"
      aria-label={`${label} of ${name}`}
      placeholder={label}
      title={label}
      value={value}
      onChange={(event) => set(event.target.value)}
      className="narrow w-full"
    />
  );
  const more = limits(field, limit, words, onChange);
  return (
    <div className="grid gap-x-2 gap-y-1 py-1.5 sm:grid-cols-[150px_116px_minmax(0,1fr)_92px_92px_auto]">
      <Input
        look="small"
        aria-label={`Name of ${name}`}
        placeholder="Name"
        value={field.name}
        maxLength={80}
        onChange={(event) => onChange({ name: event.target.value })}
        className="w-full font-semibold"
      />
      <Select
        aria-label={`What ${name} holds`}
        value={field.type}
        onChoose={(value) => onChange({ type: value as Field["type"] })}
        className="w-full"
      >
        {Object.entries(HOLDS).map(([type, words]) => (
          <Option key={type} value={type}>
            {words}
          </Option>
        ))}
      </Select>
      <Input
        look="small"
        aria-label={`Guidance for ${name}`}
        placeholder="Guidance for who writes"
        value={field.guidance ?? ""}
        maxLength={300}
        onChange={(event) => onChange({ guidance: event.target.value })}
        className="w-full"
      />
      {more[0]}
      {more[1]}
      <span className="flex items-center gap-1 text-13">
        <Checkbox
          checked={field.required}
          onChange={(event) => onChange({ required: event.target.checked })}
          className="pr-1"
        >
          required
        </Checkbox>
        <Checkbox
          checked={field.free ?? false}
          onChange={(event) => onChange({ free: event.target.checked || undefined })}
          className="pr-1"
        >
          free
        </Checkbox>
        <IconButton label={`Take ${name} out`} onClick={onRemove}>
          ×
        </IconButton>
      </span>
    </div>
  );
}

/** What a field's type lets one limit, at most two of them beside its name. */
function limits(
  field: Row,
  limit: (key: "minWords" | "maxWords" | "maxCharacters" | "least" | "most", words: string) => ReactNode,
  words: (label: string, value: string, set: (words: string) => void) => ReactNode,
  onChange: (more: Partial<Field>) => void,
): [ReactNode, ReactNode] {
  switch (field.type) {
    case "manuscript":
      return [limit("minWords", "min words"), limit("maxWords", "max words")];
    case "line":
      return [limit("maxCharacters", "max signs"), limit("maxWords", "max words")];
    case "number":
      return [
        words("Unit", field.unit ?? "", (unit) => onChange({ unit: unit || undefined })),
        <span key="bounds" className="grid grid-cols-2 gap-1">
          {limit("least", "from")}
          {limit("most", "to")}
        </span>,
      ];
    case "choice":
      return [
        <span key="choices" className="block sm:col-span-2">
          {words("Choices, with commas between", (field.options ?? []).join(","), (all) =>
            onChange({ options: all.split(",").map((one) => one.trimStart()) }),
          )}
        </span>,
        null,
      ];
    default:
      return [<span key="none" className="hidden sm:block sm:col-span-2" />, null];
  }
}
