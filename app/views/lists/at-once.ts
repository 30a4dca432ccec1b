import { useDeferredValue, useSyncExternalStore } from "react";
import { useNavigationType } from "react-router";
import { useCameBack } from "#app/views/frame/arrival.ts";

/** As many rows as a high window shows. */
const AT_ONCE = 30;

/** Whether this is drawn for a page as it is first sent, on the server or by the browser that takes it over. */
const useFirstSent = () =>
  useSyncExternalStore(
    () => () => {},
    () => false,
    () => true,
  );

/**
 * The rows of a long list as they are drawn: those in view with the page, the others at once after.
 * Who comes back finds all of them, since the place in the list, or its row, is looked for then.
 *
 * @param sent how many come with a page as it is first sent: all, unless they are more than a page should be
 */
export function useAtOnce<T>(rows: readonly T[], sent = Number.POSITIVE_INFINITY): readonly T[] {
  const back = useCameBack();
  const first = useFirstSent();
  const popped = useNavigationType() === "POP";
  const whole = back || (popped && !first);
  return useDeferredValue(rows, whole ? rows : rows.slice(0, first ? sent : AT_ONCE));
}
