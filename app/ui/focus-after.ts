import { useEffect, useRef } from "react";
import { useBusy } from "./action-form.tsx";

/**
 * Where the keyboard goes when what was pressed went away with what it did; what still has it keeps it.
 *
 * @param next asked once an act is through; null where somebody else says it
 */
export function useFocusAfter(next: () => HTMLElement | null | undefined): void {
  const busy = useBusy();
  const was = useRef(false);
  const asked = useRef(next);
  asked.current = next;
  useEffect(() => {
    if (was.current && !busy && document.activeElement === document.body)
      asked.current()?.focus({ preventScroll: true });
    was.current = busy;
  }, [busy]);
}
