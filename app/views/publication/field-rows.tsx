import { type ReactNode, useState } from "react";
import { Button, IconButton } from "#app/ui/button.tsx";
import { Checkbox, Hidden, Input, NumberInput } from "#app/ui/field.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { Sortable } from "#app/ui/sortable.tsx";
import type { Field } from "#core/text/field.ts";

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

/** Fields in their order, each with its guidance and limits; they are sent as JSON, under `fields`. */
export function FieldRows({
  fields,
  types = Object.keys(HOLDS) as Field["type"][],
  free = false,
}: {
  fields: readonly Field[];
  /** What a field may hold here. */
  types?: readonly Field["type"][];
  /** Whether a field may be free: for the workshop alone. */
  free?: boolean;
}) {
  const [rows, setRows] = useState<Row[]>(fields.map((field, row) => ({ ...field, row })));
  const change = (row: number, more: Partial<Field>) =>
    setRows(rows.map((one) => (one.row === row ? { ...one, ...more } : one)));
  const add = () =>
    setRows([
      ...rows,
      { key: "", name: "", type: "line", required: false, row: Math.max(-1, ...rows.map((one) => one.row)) + 1 },
    ]);
  return (
    <fieldset data-field="fields">
      <legend className="mb-1 text-13 font-semibold">Fields</legend>
      <Hidden name="fields" value={JSON.stringify(rows.map(({ row: _, ...field }) => field))} />
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
            types={types}
            free={free}
            onChange={(more) => change(field.row, more)}
            onRemove={() => setRows(rows.toSpliced(at, 1))}
          />
        )}
      </Sortable>
      <Button type="button" look="quiet" onClick={add} className="mt-1 -ml-3">
        Add a field
      </Button>
    </fieldset>
  );
}

function FieldRow({
  field,
  types,
  free,
  onChange,
  onRemove,
}: {
  field: Row;
  types: readonly Field["type"][];
  free: boolean;
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
        {types.map((type) => (
          <Option key={type} value={type}>
            {HOLDS[type]}
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
        {free && (
          <Checkbox
            checked={field.free ?? false}
            onChange={(event) => onChange({ free: event.target.checked || undefined })}
            className="pr-1"
          >
            free
          </Checkbox>
        )}
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
