import { createContext, type ReactNode, useContext, useEffect, useRef } from "react";
import { Form, useSubmit } from "react-router";

const Chosen = createContext<(() => void) | null>(null);

/**
 * A form that acts as soon as something is chosen in it; words act with Enter. By itself it narrows what is
 * shown, and the address says how.
 */
export function ChoiceForm({
  label,
  method = "get",
  className = "my-3 flex flex-wrap items-center gap-2 text-13",
  children,
}: {
  label?: string;
  method?: "get" | "post";
  className?: string;
  children: ReactNode;
}) {
  const form = useRef<HTMLFormElement>(null);
  const submit = useSubmit();
  const act = () =>
    form.current && submit(form.current, { method, replace: method === "get", preventScrollReset: true });
  return (
    <Chosen value={act}>
      <Form
        ref={form}
        method={method}
        {...(label && { "aria-label": label })}
        className={className}
        onChange={({ target }) => (target as HTMLElement).matches("[type=checkbox], [type=radio]") && act()}
      >
        {children}
      </Form>
    </Chosen>
  );
}

/** Tells the form a field stands in that something else was chosen in it. */
export function useTellsChosen(value: string): void {
  const chosen = useContext(Chosen);
  const told = useRef(value);
  useEffect(() => {
    if (told.current === value) return;
    told.current = value;
    chosen?.();
  });
}
