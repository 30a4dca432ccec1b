import { useEffect, useId, useState } from "react";
import type { loader as find } from "#app/routes/find.ts";
import { SelectField, TextField } from "#app/ui/field.tsx";

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
        {optional && <option value="">none yet</option>}
        {choices.roles.map((one) => (
          <option key={one.key} value={one.key}>
            {one.name}
          </option>
        ))}
      </SelectField>
      <SelectField label="For" name="scope" value={scope} onChange={(event) => setScope(event.target.value)}>
        <option value="publication">the whole publication</option>
        <option value="section">a section and all below</option>
        <option value="kind">a kind of piece</option>
        <option value="piece">one piece</option>
      </SelectField>
      {scope === "section" && (
        <SelectField label="Section" name="section" error={errors.scopeId}>
          {choices.sections.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </SelectField>
      )}
      {scope === "kind" && (
        <SelectField label="Kind" name="kind" error={errors.scopeId}>
          {choices.kinds.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </SelectField>
      )}
      {scope === "piece" && <PieceField name="piece" error={errors.scopeId} />}
      <div className="grid grid-cols-2 gap-3">
        <TextField label="From" type="date" name="from" error={errors.from} />
        <TextField label="Until, that day included" type="date" name="until" error={errors.until} />
      </div>
      <details open={Boolean(errors.publishFrom || errors.publishUntil) || undefined}>
        <summary className="text-13 font-semibold text-blue">Only for pieces that appear on certain days</summary>
        <div className="mt-2 grid grid-cols-2 gap-3">
          <TextField label="Appearing from" type="date" name="publishFrom" error={errors.publishFrom} />
          <TextField label="Appearing until" type="date" name="publishUntil" error={errors.publishUntil} />
        </div>
      </details>
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
  const id = useId();
  const [words, setWords] = useState(value);
  const [found, setFound] = useState<{ slug: string; title: string }[]>([]);
  useEffect(() => {
    const asking = new AbortController();
    if (words.trim() === "") return;
    fetch(`/find?q=${encodeURIComponent(words)}`, { signal: asking.signal })
      .then((response) => response.json() as ReturnType<typeof find>)
      .then((answer) =>
        setFound(
          answer.found.flatMap(({ to, name: title }) =>
            to.startsWith("/pieces/") ? [{ slug: to.slice("/pieces/".length), title }] : [],
          ),
        ),
      )
      .catch(() => undefined);
    return () => asking.abort();
  }, [words]);
  return (
    <>
      <TextField
        label="Piece"
        name={name}
        list={id}
        defaultValue={value}
        autoComplete="off"
        placeholder={optional ? "any" : "words of its title"}
        error={error}
        onChange={(event) => setWords(event.target.value)}
      />
      <datalist id={id}>
        {found.map((one) => (
          <option key={one.slug} value={one.slug}>
            {one.title}
          </option>
        ))}
      </datalist>
    </>
  );
}
