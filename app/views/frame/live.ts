import { useEffect } from "react";
import { useRevalidator } from "react-router";

const SETTLE = 150;

/** Asks again for what the page shows whenever something that concerns the person has happened. */
export function useLive(): void {
  const { revalidate } = useRevalidator();
  useEffect(() => {
    const source = new EventSource("/live");
    let timer: ReturnType<typeof setTimeout> | undefined;
    source.addEventListener("changed", () => {
      clearTimeout(timer);
      timer = setTimeout(revalidate, SETTLE);
    });
    return () => {
      clearTimeout(timer);
      source.close();
    };
  }, [revalidate]);
}
