import type { FlowWanted } from "#server/flow/queries.ts";

/** How many weeks of a flow can be looked at. */
export const FLOW_WEEKS = [2, 6, 13, 26, 52] as const;

/** Which flow an address asks for. */
export function flowWanted(words: URLSearchParams): FlowWanted {
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const weeks = FLOW_WEEKS.find((one) => String(one) === words.get("weeks")) ?? 6;
  return { line: get("line") ?? "", weeks, section: get("section"), kind: get("kind"), author: get("author") };
}
