import type { FieldComparison } from "./compare.ts";
import { type Change, side } from "./diff.ts";
import { textOf } from "./plain.ts";
import { runSide } from "./runs.ts";

/**
 * Just what differs, as plain text to be pasted: of each field its name, and of each passage that changed how it was
 * and how it is, after a minus and a plus sign. What only moved says so.
 */
export function sayDifference(compared: readonly FieldComparison[]): string {
  return compared
    .flatMap(({ name, change }) => {
      const lines =
        change.kind === "same"
          ? []
          : change.kind === "words"
            ? [
                `- ${textOf({ type: "paragraph", content: change.runs.flatMap((run) => runSide(run, "before")) })}`,
                `+ ${textOf({ type: "paragraph", content: change.runs.flatMap((run) => runSide(run, "after")) })}`,
              ]
            : change.changes.flatMap(passages);
      return lines.length > 0 ? [`${name}:\n${lines.join("\n")}`] : [];
    })
    .join("\n\n");
}

function passages(change: Change): string[] {
  switch (change.kind) {
    case "kept":
    case "left":
      return [];
    case "removed":
      return [`- ${textOf(change.node)}`];
    case "added":
      return [`+ ${textOf(change.node)}`];
    case "arrived":
      return change.change.kind === "kept"
        ? [`> moved: ${textOf(change.change.node)}`]
        : [`> moved:`, ...passages(change.change)];
    default:
      return [`- ${textOf(side(change, "before"))}`, `+ ${textOf(side(change, "after"))}`];
  }
}
