import { type ReactNode, useEffect, useMemo, useRef } from "react";
import { Form, useNavigation } from "react-router";
import { FieldErrors, Hidden } from "./field.tsx";
import { Message } from "./message.tsx";

/** What an action answers a form: a sentence for each field, or a "no" for all of it. */
export interface Answer {
  intent: string;
  fields: Readonly<Record<string, string>>;
  refusal: {
    sentence: string;
    field?: string | undefined;
    missing?: readonly string[] | undefined;
    who?: readonly string[] | undefined;
  } | null;
}

/** Whether a form of this intent is on its way; without one, whether anything is. */
export function useBusy(intent?: string): boolean {
  const { state, formData } = useNavigation();
  return state !== "idle" && (intent === undefined || formData?.get("intent") === intent);
}

/** What is amiss with a form's fields, by their names: what was not understood, and what was refused about one. */
export function errorsOf(answer: Answer | null | undefined, intent: string): Readonly<Record<string, string>> {
  if (answer?.intent !== intent) return {};
  const { refusal, fields } = answer;
  return refusal?.field ? { ...fields, [refusal.field]: refusal.sentence } : fields;
}

interface Props {
  intent: string;
  answer: Answer | null | undefined;
  /** Values sent along that nobody sees. */
  sends?: Readonly<Record<string, string | number | undefined>>;
  action?: string;
  className?: string;
  label?: string;
  /** By which buttons that stand elsewhere name the form they send. */
  id?: string;
  encType?: "multipart/form-data";
  /** Whether it is empty again once it was done. */
  empties?: boolean;
  /** What stands below a refusal: a way to mend it. */
  mend?: ReactNode;
  children?: ReactNode;
}

/**
 * A form for one act. It says what was refused and who could; each field says what is amiss with it,
 * and the first of them has the keyboard then. What was typed stays.
 */
export function ActionForm({
  intent,
  answer,
  sends = {},
  action,
  className = "space-y-3",
  label,
  id,
  encType,
  empties = false,
  mend,
  children,
}: Props) {
  const form = useRef<HTMLFormElement>(null);
  const errors = useMemo(() => errorsOf(answer, intent), [answer, intent]);
  const refusal = answer?.intent === intent ? answer.refusal : null;
  const done = answer?.intent === intent && !refusal && Object.keys(answer.fields).length === 0;
  // A field says one sentence; what is missing beyond it is said above.
  const said = refusal && (Boolean(refusal.missing?.length) || !isSaidAtField(form.current, refusal.field));
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer is heard once
  useEffect(() => {
    if (empties && done) form.current?.reset();
    form.current?.querySelector<HTMLElement>("[aria-invalid=true]")?.focus();
  }, [answer]);
  return (
    <FieldErrors value={errors}>
      <Form
        ref={form}
        method="post"
        preventScrollReset
        className={className}
        {...(action && { action })}
        {...(label && { "aria-label": label })}
        {...(id && { id })}
        {...(encType && { encType })}
      >
        <Hidden name="intent" value={intent} />
        {Object.entries(sends).map(([name, value]) => (
          <Hidden key={name} name={name} value={value} />
        ))}
        {said && refusal && (
          <Message
            more={[...(refusal.missing ?? []), ...(refusal.who?.length ? [`Open to: ${refusal.who.join(", ")}.`] : [])]}
          >
            {refusal.sentence}
          </Message>
        )}
        {refusal && mend}
        {children}
      </Form>
    </FieldErrors>
  );
}

const isSaidAtField = (form: HTMLFormElement | null, field: string | undefined) =>
  field !== undefined &&
  (form?.elements.namedItem(field) ?? form?.querySelector(`[data-field="${CSS.escape(field)}"]`)) != null;
