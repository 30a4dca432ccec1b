import { useDeferredValue } from "react";
import { useNavigationType } from "react-router";
import { useCameBack } from "#app/views/frame/arrival.ts";

/** As many rows as a high window shows. */
const AT_ONCE = 30;

/**
 * The rows of a long list as they are drawn: those in view with the page, the others at once after.
 * Who comes back finds all of them, since the place in the list, or its row, is looked for then.
 */
export function useAtOnce<T>(rows: readonly T[]): readonly T[] {
  const back = useCameBack();
  // A page as it was first sent is whole, too.
  const whole = useNavigationType() === "POP" || back;
  return useDeferredValue(rows, whole ? rows : rows.slice(0, AT_ONCE));
}
