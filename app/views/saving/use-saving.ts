import { useCallback, useEffect, useRef, useState } from "react";
import { follow, type Happens, type Outcome, type Saving, sendsIn } from "./saving.ts";

/**
 * Words that save themselves a moment after the last keystroke, one sending at a time.
 *
 * @param send sends what there is now; null where there is nothing to send
 * @param pause so long a pause in typing is, in milliseconds
 */
export function useSaving<E>(send: () => Promise<Outcome<E> | null>, pause: number) {
  const [state, setState] = useState<Saving<E>>({ kind: "saved", at: null });
  const latest = useRef(send);
  latest.current = send;
  const sending = useRef<Promise<void> | null>(null);
  const tell = useCallback((event: Happens<E>) => setState((was) => follow(was, event)), []);
  const save = useCallback((): Promise<void> => {
    sending.current ??= (async () => {
      tell({ kind: "sent" });
      const outcome = await latest.current();
      sending.current = null;
      tell(outcome ?? { kind: "saved", at: null });
    })();
    return sending.current;
  }, [tell]);
  useEffect(() => {
    const wait = sendsIn(state, pause);
    if (wait === null) return;
    const timer = setTimeout(save, wait);
    return () => clearTimeout(timer);
  }, [state, pause, save]);
  return { state, tell, save };
}
