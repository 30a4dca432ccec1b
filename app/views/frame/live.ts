import { useEffect } from "react";
import { useLocation, useRevalidator } from "react-router";

const SETTLE = 150;

/**
 * Asks again for what the page shows whenever something that concerns the person has happened; on
 * pages of workflows, which count all pieces, whenever anything has.
 */
export function useLive(): void {
  const { revalidate } = useRevalidator();
  const lines = useLocation().pathname.startsWith("/workflows");
  useEffect(() => {
    const source = new EventSource(lines ? "/live?of=lines" : "/live");
    let timer: ReturnType<typeof setTimeout> | undefined;
    source.addEventListener("changed", () => {
      clearTimeout(timer);
      timer = setTimeout(revalidate, SETTLE);
    });
    return () => {
      clearTimeout(timer);
      source.close();
    };
  }, [revalidate, lines]);
}
