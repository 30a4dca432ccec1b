import { z } from "zod";
import { assignedSchema, principalSchema } from "../people/principals.ts";
import { takeSchema } from "../time/take-format.ts";
import { describeIssue, type Problem } from "../words/problems.ts";

const key = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, "expected a key of small letters, digits and single hyphens")
  .max(60);
const name = z.string().trim().min(1, "expected a name").max(80);

const seatRuleSchema = z.union(
  [
    z.strictObject({ person: key }),
    z.strictObject({
      role: key,
      pick: z.enum(["everyone", "least-busy", "sender"]).default("everyone"),
      number: z.int().min(1).max(50).optional(),
    }),
  ],
  { error: "expected a seat: { person } or { role, pick, number }" },
);

const reviewSchema = z
  .strictObject({
    rule: z.enum(["any", "all", "count", "in-order"]),
    count: z.int().min(1).max(50).optional(),
    authorMayDecide: z.boolean().default(false),
    /** A sign-off: the text is locked, whoever approves signs with their name, one refusal withdraws the other signatures. */
    signed: z.literal(true).optional(),
    seats: z.array(seatRuleSchema).min(1, "expected at least one seat"),
    approve: key,
    return: key,
    decline: key.optional(),
    remind: z.array(takeSchema).default([]),
    /** What follows for who has not decided so long after it was due: somebody is told, or their seat goes on. */
    overdue: z
      .strictObject({ after: takeSchema, do: z.enum(["escalate", "stand-in", "pass"]), to: principalSchema.optional() })
      .refine((overdue) => overdue.do !== "pass" || overdue.to !== undefined, {
        path: ["to"],
        message: "passing the seat needs whom it passes to",
      })
      .optional(),
  })
  .refine((review) => review.rule !== "count" || review.count !== undefined, {
    path: ["count"],
    message: "the rule count needs how many approvals",
  });

const stateSchema = z
  .strictObject({
    key,
    name,
    description: z.string().max(500).optional(),
    kind: z.enum(["writing", "review", "ready", "live", "parked", "closed"]),
    take: takeSchema.optional(),
    /** Due so long before the publish date, where one is set; else by `take`. */
    dueBefore: takeSchema.optional(),
    editors: z.array(principalSchema).default([]),
    viewers: z.array(principalSchema).default(["anyone"]),
    /** The transition a piece takes at once on arrival: its presence switches the state off. */
    bypass: key.optional(),
    arrival: z
      .strictObject({
        assign: z.array(assignedSchema).default([]),
        notify: z.array(principalSchema).default([]),
        checklist: z.array(z.string().min(1).max(200)).default([]),
      })
      .default({ assign: [], notify: [], checklist: [] }),
    review: reviewSchema.optional(),
  })
  .refine((state) => (state.kind === "review") === (state.review !== undefined), {
    path: ["review"],
    error: ({ input }) =>
      (input as { review?: unknown }).review
        ? "only a state of kind review has a review"
        : "a state of kind review needs a review",
  });

const transitionSchema = z.strictObject({
  key,
  name,
  from: z.array(key).min(1, "expected at least one state"),
  to: key,
  by: z.array(principalSchema).default([]),
  requires: z
    .array(z.enum(["fields", "checklist", "comments-settled", "note", "publish-date", "not-author"]))
    .default([]),
  notify: z.array(principalSchema).default([]),
  /** Readers lose the piece by it, with a reason. */
  withdraws: z.boolean().optional(),
});

/** The workflow document `elenco.workflow/1`. Keys it does not know are refused with their path. */
export const workflowSchema = z.strictObject({
  format: z.literal("elenco.workflow/1"),
  key,
  name,
  purpose: z.string().max(500).optional(),
  effective: z.strictObject({ from: z.iso.date().optional(), until: z.iso.date().optional() }).optional(),
  initial: key,
  mainLine: z.array(key).min(1),
  states: z.array(stateSchema).min(1).max(5_000, "expected at most 5000 states"),
  transitions: z.array(transitionSchema).max(20_000, "expected at most 20000 transitions"),
});

export type Workflow = z.infer<typeof workflowSchema>;
export type State = Workflow["states"][number];
export type StateKind = State["kind"];
export type Transition = Workflow["transitions"][number];
export type Review = NonNullable<State["review"]>;
export type SeatRule = Review["seats"][number];

/** The state with this key. @throws Error when the document, already read, has none: a bug, not an input */
export function stateOf(workflow: Workflow, key: string): State {
  const state = workflow.states.find((candidate) => candidate.key === key);
  if (!state) throw new Error(`workflow ${workflow.key} has no state ${key}`);
  return state;
}

/** The transition with this key, or undefined. */
export const transitionOf = (workflow: Workflow, key: string) =>
  workflow.transitions.find((transition) => transition.key === key);

/** The outcomes of a review, each naming a transition. */
export const OUTCOMES = ["approve", "return", "decline"] as const;

/** The transitions that reviews take: nobody need be named on them. */
export function outcomeKeys(workflow: Workflow): Set<string> {
  const keys = new Set<string>();
  for (const { review } of workflow.states) {
    if (!review) continue;
    for (const outcome of OUTCOMES) {
      const key = review[outcome];
      if (key !== undefined) keys.add(key);
    }
  }
  return keys;
}

/**
 * Reads the shape of a workflow document from parsed JSON; what it refers to is judged by `references`.
 *
 * @returns the workflow with defaults filled in, or every problem found, each with its path
 */
export function readShape(json: unknown): { workflow: Workflow } | { problems: Problem[] } {
  const parsed = workflowSchema.safeParse(json);
  return parsed.success ? { workflow: parsed.data } : { problems: parsed.error.issues.flatMap(describeIssue) };
}
