import type { z } from "zod";

/** Something wrong in a document: where, by path, and what was expected there. */
export interface Problem {
  path: string;
  message: string;
}

/** A schema's issue as problems with paths as they stand in the document: `states[1].take`. */
export function describeIssue(issue: z.core.$ZodIssue): Problem[] {
  const path = issue.path
    .map((step, i) => (typeof step === "number" ? `[${step}]` : i ? `.${String(step)}` : String(step)))
    .join("");
  if (issue.code === "unrecognized_keys") {
    return issue.keys.map((key) => ({ path: path ? `${path}.${key}` : key, message: "this key is not known here" }));
  }
  const tooLong = issue.code === "too_big" && issue.origin === "string";
  return [{ path: path || "the document", message: tooLong ? `at most ${issue.maximum} characters` : issue.message }];
}
