import { type ComponentProps, createContext, type ReactNode, useContext, useId } from "react";

/** What is amiss with the fields of the form one is in, by their names. */
export const FieldErrors = createContext<Readonly<Record<string, string>>>({});

/**
 * How a field looks: `box` in a form, `small` in a row of filters or settings, `page` as the words of the page
 * itself, `bare` as whatever it stands in.
 */
export type FieldLook = "box" | "small" | "page" | "bare";

const LOOKS: Record<FieldLook, string> = {
  box: "w-full rounded border border-track bg-paper px-2 text-15 text-ink placeholder:text-rail aria-invalid:border-red disabled:bg-platform disabled:text-rail",
  small:
    "max-w-full rounded border border-track bg-paper px-2 text-13 text-ink placeholder:text-rail aria-invalid:border-red disabled:bg-platform disabled:text-rail",
  bare: "block w-full bg-transparent",
  page: "-mx-1 block w-full rounded border border-transparent bg-transparent px-1 font-semibold placeholder:font-normal placeholder:text-rail hover:border-track focus:border-blue focus:bg-paper aria-invalid:border-red",
};
const HEIGHTS: Record<FieldLook, string> = { box: "h-(--field)", small: "h-(--control)", page: "min-h-6", bare: "" };

/** The classes of a field of one line. */
export const fieldClass = (look: FieldLook) => `${LOOKS[look]} ${HEIGHTS[look]}`;

interface Look {
  look?: FieldLook;
}

/** A line of text; it needs a label from `Field` or an `aria-label`. */
export const Input = ({ look = "box", className = "", ...rest }: ComponentProps<"input"> & Look) => (
  <input className={`${fieldClass(look)} ${className}`} {...rest} />
);

/** A box for a few sentences, as high as they are. */
export const Area = ({ look = "box", className = "", ...rest }: ComponentProps<"textarea"> & Look) => (
  <textarea
    className={`${LOOKS[look]} field-sizing-content ${look === "page" || look === "bare" ? "resize-none" : "min-h-16 py-1.5"} ${className}`}
    {...rest}
  />
);

/** A value a form sends that nobody sees. */
export const Hidden = ({
  name,
  value,
  ...rest
}: {
  name: string;
  value: string | number | undefined;
  /** What a keeper of passwords should know it as. */
  autoComplete?: string;
}) => <input type="hidden" name={name} value={value ?? ""} readOnly {...rest} />;

export interface Labelled {
  label: ReactNode;
  hint?: ReactNode;
  /** What is amiss; where it is left out, what the form says of the field's name. */
  error?: string | undefined;
}

/** What ties a field to its label, its hint and what is amiss with it. */
export interface Tied {
  id: string;
  "aria-describedby": string | undefined;
  "aria-invalid": true | undefined;
}

/** A label, a field, a hint and what is amiss, tied together for those who hear them. */
export function Field({
  label,
  hint,
  error: said,
  name,
  children,
}: Labelled & { name?: string | undefined; children(tied: Tied): ReactNode }) {
  const id = useId();
  const errors = useContext(FieldErrors);
  const error = said ?? (name !== undefined && Object.hasOwn(errors, name) ? errors[name] : undefined);
  const by = [hint && `${id}-hint`, error && `${id}-error`].filter(Boolean).join(" ");
  return (
    <div data-field={name}>
      <label htmlFor={id} className="mb-1 block text-13 font-semibold">
        {label}
      </label>
      {children({ id, "aria-describedby": by || undefined, "aria-invalid": error ? true : undefined })}
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

/** A labelled line of text. @param suggests what may be chosen instead of written */
export const TextField = ({
  label,
  hint,
  error,
  suggests,
  ...rest
}: Labelled & ComponentProps<"input"> & Look & { suggests?: readonly string[] }) => (
  <Field label={label} hint={hint} error={error} name={rest.name}>
    {(tied) => (
      <>
        <Input {...tied} {...(suggests && { list: `${tied.id}-suggested` })} {...rest} />
        {suggests && (
          <datalist id={`${tied.id}-suggested`}>
            {suggests.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </datalist>
        )}
      </>
    )}
  </Field>
);

/** A labelled box for a few sentences. */
export const TextArea = ({ label, hint, error, ...rest }: Labelled & ComponentProps<"textarea"> & Look) => (
  <Field label={label} hint={hint} error={error} name={rest.name}>
    {(tied) => <Area {...tied} {...rest} />}
  </Field>
);

/** A number with its unit behind it. */
export const NumberInput = ({
  unit,
  look = "small",
  className = "w-20!",
  ...rest
}: ComponentProps<"input"> & Look & { unit?: ReactNode }) => (
  <span className="inline-flex items-baseline gap-1.5">
    <Input type="number" inputMode="decimal" look={look} className={className} {...rest} />
    {typeof unit === "string" ? <span className="text-13 text-rail">{unit}</span> : unit}
  </span>
);

/** A labelled number with its unit. */
export const NumberField = ({ label, hint, error, ...rest }: Labelled & ComponentProps<typeof NumberInput>) => (
  <Field label={label} hint={hint} error={error} name={rest.name}>
    {(tied) => <NumberInput look="box" {...tied} {...rest} />}
  </Field>
);

type Mark = Omit<ComponentProps<"input">, "children"> & { children?: ReactNode };

function Marked({ children, className = "", ...rest }: Mark) {
  // With its margin it is as large as a finger needs.
  if (children === undefined) return <input className={`m-1 size-4 shrink-0 accent-blue ${className}`} {...rest} />;
  return (
    <label className={`flex min-h-7 items-start gap-2 py-[5px] text-13 ${className}`}>
      <input className="mt-px size-4 shrink-0 accent-blue" {...rest} />
      <span className="min-w-0">{children}</span>
    </label>
  );
}

/** A yes or no among others; without words of its own it needs an `aria-label`. */
export const Checkbox = (props: Mark) => <Marked type="checkbox" {...props} />;

/** One of several that exclude each other. */
export const Radio = (props: Mark) => <Marked type="radio" {...props} />;

/** Several fields that answer one question. */
export const FieldSet = ({
  legend,
  name = "",
  className = "",
  children,
}: {
  legend: ReactNode;
  /** What the form calls the question, for what is amiss with its answer. */
  name?: string;
  className?: string;
  children: ReactNode;
}) => {
  const error = useContext(FieldErrors)[name];
  return (
    <fieldset className={`min-w-0 ${className}`}>
      <legend className="mb-1 text-13 font-semibold">{legend}</legend>
      {children}
      {error && <p className="mt-1 text-13 font-semibold text-red">{error}</p>}
    </fieldset>
  );
};
