import { type ComponentProps, useState } from "react";
import { Field, type Labelled } from "./field.tsx";

/** A file, chosen or dropped. */
export function FileDrop({
  label,
  hint,
  error,
  onFiles,
  ...rest
}: Labelled & ComponentProps<"input"> & { onFiles?(files: File[]): void }) {
  const [over, setOver] = useState(false);
  return (
    <Field label={label} hint={hint} error={error} name={rest.name?.replace("[]", "")}>
      {(tied) => (
        <input
          {...tied}
          {...rest}
          type="file"
          onDragEnter={() => setOver(true)}
          onDragLeave={() => setOver(false)}
          onDrop={() => setOver(false)}
          onChange={(event) => {
            onFiles?.([...(event.target.files ?? [])]);
            rest.onChange?.(event);
          }}
          className={`w-full rounded border border-dashed px-2 py-2 text-13 file:mr-3 file:rounded file:border file:border-ink file:bg-paper file:px-2 file:py-1 file:text-13 file:font-semibold file:text-ink aria-invalid:border-red ${over ? "border-blue bg-wash" : "border-track bg-paper"}`}
        />
      )}
    </Field>
  );
}
