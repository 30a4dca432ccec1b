import { type ComponentProps, type ReactNode, useId } from "react";

const box =
  "w-full rounded border border-track bg-paper px-2 text-15 text-ink placeholder:text-rail aria-invalid:border-red";

interface Frame {
  label: string;
  hint?: ReactNode;
  error?: string | undefined;
}

/** A labelled line of text, date or file. */
export function TextField({ label, hint, error, className = "", ...rest }: Frame & ComponentProps<"input">) {
  const id = useId();
  return (
    <Framed id={id} label={label} hint={hint} error={error}>
      <input
        id={id}
        className={`${box} h-8 ${rest.type === "file" ? "py-1" : ""} ${className}`}
        {...described(id, hint, error)}
        {...rest}
      />
    </Framed>
  );
}

/** A labelled box for a few sentences. */
export function TextArea({ label, hint, error, className = "", ...rest }: Frame & ComponentProps<"textarea">) {
  const id = useId();
  return (
    <Framed id={id} label={label} hint={hint} error={error}>
      <textarea
        id={id}
        className={`${box} field-sizing-content min-h-16 py-1.5 ${className}`}
        {...described(id, hint, error)}
        {...rest}
      />
    </Framed>
  );
}

/** A labelled choice of one. */
export function SelectField({
  label,
  hint,
  error,
  children,
  className = "",
  ...rest
}: Frame & ComponentProps<"select">) {
  const id = useId();
  return (
    <Framed id={id} label={label} hint={hint} error={error}>
      <select id={id} className={`${box} h-8 ${className}`} {...described(id, hint, error)} {...rest}>
        {children}
      </select>
    </Framed>
  );
}

function Framed({ id, label, hint, error, children }: Frame & { id: string; children: ReactNode }) {
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-13 font-semibold">
        {label}
      </label>
      {children}
      {hint && (
        <p id={`${id}-hint`} className="mt-1 text-12 text-rail">
          {hint}
        </p>
      )}
      {error && (
        <p id={`${id}-error`} className="mt-1 text-13 font-semibold text-red">
          {error}
        </p>
      )}
    </div>
  );
}

function described(id: string, hint: ReactNode, error: string | undefined) {
  const by = [hint && `${id}-hint`, error && `${id}-error`].filter(Boolean).join(" ");
  return { "aria-describedby": by || undefined, "aria-invalid": error ? true : undefined };
}
