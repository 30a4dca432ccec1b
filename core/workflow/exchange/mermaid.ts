import type { Workflow } from "../document.ts";

/**
 * A workflow as Mermaid text, a `stateDiagram-v2`, for documents that draw it. It shows the states
 * and transitions by name; it is no form to bring back in.
 */
export function toMermaid(workflow: Workflow): string {
  const id = new Map(workflow.states.map((state, i) => [state.key, `s${i + 1}`]));
  const left = new Set(workflow.transitions.flatMap((step) => step.from));
  return [
    "stateDiagram-v2",
    "  direction LR",
    ...workflow.states.map((state) => `  state "${quoted(state.name)}" as ${id.get(state.key)}`),
    `  [*] --> ${id.get(workflow.initial)}`,
    ...workflow.transitions.flatMap((step) =>
      step.from.map((from) => `  ${id.get(from)} --> ${id.get(step.to)}: ${quoted(step.name)}`),
    ),
    ...workflow.states.filter((state) => !left.has(state.key)).map((state) => `  ${id.get(state.key)} --> [*]`),
    "",
  ].join("\n");
}

/** Text without what Mermaid would read as its own: quotes, line ends, colons and semicolons become harmless entities. */
const quoted = (text: string) =>
  text.replace(/\s+/g, " ").replace(/["#:;<>{}[\]]/g, (character) => `#${character.charCodeAt(0)};`);
