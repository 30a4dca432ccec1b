import { useState } from "react";
import { Combobox } from "#app/ui/combobox.tsx";
import { DayField } from "#app/ui/date-field.tsx";
import { Field, Hidden } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useFound } from "#app/views/frame/found.ts";

/** What can be chosen when a role is given. */
export interface Choices {
  roles: { key: string; name: string }[];
  sections: { id: string; name: string }[];
  kinds: { id: string; name: string }[];
}

interface Props {
  choices: Choices;
  /** A sentence for each field that was refused. */
  errors: Record<string, string>;
  /** Whether no role at all can be chosen too. */
  optional?: boolean;
}

/** The fields by which a role is given: which, where, and, folded away, for how long and for which publish days. */
export function GrantFields({ choices, errors, optional = false }: Props) {
  const [scope, setScope] = useState("publication");
  return (
    <>
      <SelectField label="Role" name="roleKey" error={errors.roleKey}>
        <Option value="">{optional ? "none yet" : "choose"}</Option>
        {choices.roles.map((one) => (
          <Option key={one.key} value={one.key}>
            {one.name}
          </Option>
        ))}
      </SelectField>
      <SelectField label="For" name="scope" value={scope} onChoose={setScope}>
        <Option value="publication">the whole publication</Option>
        <Option value="section">a section and all below</Option>
        <Option value="kind">a kind of piece</Option>
        <Option value="piece">one piece</Option>
      </SelectField>
      {scope === "section" && (
        <SelectField label="Section" name="section" error={errors.scopeId}>
          {choices.sections.map((one) => (
            <Option key={one.id} value={one.id}>
              {one.name}
            </Option>
          ))}
        </SelectField>
      )}
      {scope === "kind" && (
        <SelectField label="Kind" name="kind" error={errors.scopeId}>
          {choices.kinds.map((one) => (
            <Option key={one.id} value={one.id}>
              {one.name}
            </Option>
          ))}
        </SelectField>
      )}
      {scope === "piece" && <PieceField name="piece" error={errors.scopeId} />}
      <div className="grid grid-cols-2 gap-3">
        <DayField label="From" name="from" error={errors.from} />
        <DayField label="Until, that day included" name="until" error={errors.until} />
      </div>
      <Fold
        summary="Only for pieces that appear on certain days"
        open={Boolean(errors.publishFrom || errors.publishUntil)}
      >
        <div className="mt-2 grid grid-cols-2 gap-3">
          <DayField label="Appearing from" name="publishFrom" error={errors.publishFrom} />
          <DayField label="Appearing until" name="publishUntil" error={errors.publishUntil} />
        </div>
      </Fold>
    </>
  );
}

/** A piece by the words of its title; what is found is offered while one types. */
export function PieceField({
  name,
  error,
  value = "",
  optional = false,
}: {
  name: string;
  error?: string | undefined;
  value?: string;
  optional?: boolean;
}) {
  const [slug, setSlug] = useState(value);
  const [words, setWords] = useState<string | null>(null);
  const { found, settled } = useFound(words?.trim() ? words : null);
  return (
    <Field label="Piece" error={error} name={name}>
      {(tied) => (
        <>
          <Hidden name={name} value={slug} />
          <Combobox
            {...tied}
            placeholder={optional ? "any" : "words of its title"}
            chosen={slug}
            suggestions={found.filter((one) => one.slug !== null)}
            settled={settled}
            none="No piece you may see has these words."
            onType={setWords}
            onChoose={(one) => setSlug(one?.slug ?? "")}
          />
        </>
      )}
    </Field>
  );
}
