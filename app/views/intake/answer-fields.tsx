import { FieldSet, Radio, TextArea, TextField } from "#app/ui/field.tsx";
import type { Field } from "#core/text/field.ts";

/** What a form asks, each as its type is written without a script; what counts is counted beside it. */
export const AnswerFields = ({
  fields,
  prefix,
  typed,
}: {
  fields: readonly Field[];
  /** What stands before a field's key in what is sent. */
  prefix: string;
  typed: Readonly<Record<string, string>>;
}) => fields.map((field) => <Answer key={field.key} field={field} name={prefix + field.key} typed={typed} />);

function Answer({ field, name, typed }: { field: Field; name: string; typed: Readonly<Record<string, string>> }) {
  const said = typed[name] ?? "";
  const label = field.required ? field.name : `${field.name} (if you like)`;
  const counts = countOf(field);
  const counted = counts && {
    "data-counts": counts.of,
    ...(counts.most !== undefined && { "data-most": counts.most }),
  };
  if (field.type === "choice")
    return (
      <FieldSet legend={label} name={name}>
        {field.guidance && <p className="text-12 text-rail">{field.guidance}</p>}
        {field.options?.map((option) => (
          <Radio key={option} name={name} value={option} defaultChecked={said === option}>
            {option}
          </Radio>
        ))}
      </FieldSet>
    );
  return (
    <div data-answer="">
      {field.type === "manuscript" ? (
        <TextArea label={label} name={name} rows={8} defaultValue={said} hint={hintOf(field)} {...counted} />
      ) : (
        <TextField
          label={label}
          name={name}
          defaultValue={said}
          hint={hintOf(field)}
          inputMode={field.type === "number" ? "decimal" : undefined}
          placeholder={PLACEHOLDERS[field.type]}
          {...counted}
        />
      )}
      {counts && <p data-count="" className="text-12 text-rail" />}
    </div>
  );
}

const PLACEHOLDERS: Partial<Record<Field["type"], string>> = { date: "3 Dec", link: "https://" };

/** What is counted in a field while one writes; nothing where it has no limit. */
function countOf({ type, maxWords, minWords, maxCharacters }: Field) {
  if (maxCharacters !== undefined) return { of: "characters", most: maxCharacters };
  if (maxWords !== undefined || minWords !== undefined || type === "manuscript") return { of: "words", most: maxWords };
  return null;
}

/** The guidance of a field, with its limits. */
function hintOf({ guidance, minWords, maxWords, maxCharacters, unit, least, most }: Field): string | undefined {
  const limits = [
    minWords !== undefined && `at least ${minWords} words`,
    maxWords !== undefined && `at most ${maxWords} words`,
    maxCharacters !== undefined && `at most ${maxCharacters} characters`,
    unit && `in ${unit}`,
    least !== undefined && `from ${least}`,
    most !== undefined && `to ${most}`,
  ].filter(Boolean);
  return [guidance, limits.join(", ")].filter(Boolean).join(" · ") || undefined;
}
