import { createContext, type ReactNode, useContext, useEffect, useRef } from "react";
import { Form, useSubmit } from "react-router";

const Chosen = createContext<(() => void) | null>(null);

/**
 * A row of fields that narrow what is shown; the address says them. What is chosen acts at once, words with Enter.
 */
export function FilterForm({
  label,
  className = "my-3 flex flex-wrap items-center gap-2 text-13",
  children,
}: {
  label: string;
  className?: string;
  children: ReactNode;
}) {
  const form = useRef<HTMLFormElement>(null);
  const submit = useSubmit();
  const act = () => form.current && submit(form.current, { replace: true, preventScrollReset: true });
  return (
    <Chosen value={act}>
      <Form
        ref={form}
        aria-label={label}
        className={className}
        onChange={({ target }) => (target as HTMLElement).matches("[type=checkbox], [type=radio]") && act()}
      >
        {children}
      </Form>
    </Chosen>
  );
}

/** Tells the row of filters a field stands in that something else was chosen in it. */
export function useTellsChosen(value: string): void {
  const chosen = useContext(Chosen);
  const told = useRef(value);
  useEffect(() => {
    if (told.current === value) return;
    told.current = value;
    chosen?.();
  });
}
