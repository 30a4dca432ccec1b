import { useRef } from "react";
import { useLocation } from "react-router";

/**
 * What an action answered, for as long as the person stays where they are. The router forgets it as
 * soon as the page's data is asked for anew, which a live page does whenever something happens.
 */
export function useLastAnswer<T>(answer: T | undefined): T | undefined {
  const { key } = useLocation();
  const last = useRef({ key, answer });
  if (answer !== undefined || last.current.key !== key) last.current = { key, answer };
  return last.current.answer;
}
