import { type RefObject, useEffect, useRef } from "react";

/** Where one begins in a form: what is typed or chosen first, or else its first way on. */
const BEGINS = ["input:not([type=hidden]), [role=combobox], textarea", "button, a:not([data-back])", "a"];

/**
 * For a panel named in the address by the word `do`: it is brought into view and begun, and whoever leaves it comes back to
 * what opened it.
 *
 * @returns what holds the panel
 */
export function useBegun<E extends HTMLElement>(doing: string): RefObject<E | null> {
  const place = useRef<E>(null);
  useEffect(() => {
    const panel = place.current;
    const { top = 0 } = panel?.getBoundingClientRect() ?? {};
    if (top < 0 || top > window.innerHeight / 2) panel?.scrollIntoView({ block: "start" });
    const first = BEGINS.map((one) => panel?.querySelector<HTMLElement>(`:is(${one}):not(:disabled)`)).find(Boolean);
    first?.focus({ preventScroll: true });
    return () => {
      // The keyboard goes back to what opened it, or, where that is gone, to what comes next.
      const inside = panel?.contains(document.activeElement) || document.activeElement === document.body;
      if (!inside) return;
      requestAnimationFrame(() => {
        const opener = [...document.querySelectorAll<HTMLAnchorElement>("main a")].find(
          (one) => new URLSearchParams(one.search).get("do") === doing,
        );
        const onward = opener ?? document.querySelector<HTMLElement>("[data-key=J]") ?? document.getElementById("main");
        if (document.activeElement === document.body) onward?.focus();
      });
    };
  }, [doing]);
  return place;
}
