import { z } from "zod";
import { assignedSchema, principalSchema } from "../people/principals.ts";
import { takeSchema } from "../time/take-format.ts";

const key = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, "expected a key of small letters, digits and single hyphens")
  .max(60);
/** A field's key, as kinds have them. */
const field = z
  .string()
  .regex(/^[a-z0-9-]+$/, "expected the key of a field")
  .max(60);
const text = z.string().trim().min(1, "expected some words").max(2_000);

/** What can happen that a rule waits for. */
export const RULE_EVENTS = [
  "piece.begun",
  "piece.arrived",
  "piece.changed",
  "piece.assigned",
  "comment.made",
  "review.decided",
  "release.done",
  "due.passed",
  "request.came",
  "material.came",
  "report.came",
] as const;
export type RuleEvent = (typeof RULE_EVENTS)[number];

/** What comes in is no piece yet. */
const COMING = ["request.came", "material.came", "report.came"] as const satisfies readonly RuleEvent[];
type Coming = (typeof COMING)[number];

/** Whether an event is about something that came in, of which no piece has begun. */
export const isComing = (event: RuleEvent): event is Coming => COMING.some((one) => one === event);

const whenSchema = z
  .strictObject({
    event: z.enum(RULE_EVENTS, { error: "expected an event a rule can wait for" }),
    /** Where a piece arrived. */
    state: key.optional(),
    /** Which of its fields changed. */
    field: field.optional(),
    workflow: key.optional(),
    /** The section, with all below it. */
    section: key.optional(),
    kind: key.optional(),
  })
  .refine((when) => when.state === undefined || when.event === "piece.arrived", {
    path: ["state"],
    message: "only piece.arrived is narrowed by a state",
  })
  .refine((when) => when.field === undefined || when.event === "piece.changed", {
    path: ["field"],
    message: "only piece.changed is narrowed by a field",
  });

/** What is true of any piece: how urgent it is, and of how many words. */
export const FACTS = ["urgency", "words"] as const;
const value = z.union([z.string().max(500), z.number()]);

/** What is asked of a value, one a condition. */
export const TESTS = ["is", "is-not", "over", "under", "empty", "filled"] as const;

const conditionSchema = z
  .strictObject({
    fact: z.enum(FACTS).optional(),
    field: field.optional(),
    is: value.optional(),
    "is-not": value.optional(),
    over: z.number().optional(),
    under: z.number().optional(),
    empty: z.literal(true).optional(),
    filled: z.literal(true).optional(),
  })
  .refine((one) => (one.fact === undefined) !== (one.field === undefined), "expected either a fact or a field")
  .refine((one) => TESTS.filter((test) => one[test] !== undefined).length === 1, `expected one of ${TESTS.join(", ")}`);

const actionSchema = z.discriminatedUnion("do", [
  z.strictObject({ do: z.literal("assign"), to: assignedSchema }),
  z.strictObject({ do: z.literal("due"), in: takeSchema }),
  z.strictObject({ do: z.literal("notify"), to: z.array(principalSchema).min(1).max(20), text }),
  z.strictObject({ do: z.literal("set"), field, to: value }),
  z.strictObject({ do: z.literal("comment"), text }),
  z.strictObject({ do: z.literal("take"), transition: key }),
  z.strictObject({ do: z.literal("call"), url: z.url({ protocol: /^https?$/ }).max(500) }),
]);

export const ruleSchema = z.strictObject({
  key,
  name: z.string().trim().min(1, "expected a name").max(120),
  on: z.boolean().default(false),
  when: whenSchema,
  /** All of them must hold. */
  if: z.array(conditionSchema).max(20).default([]),
  then: z.array(actionSchema).min(1, "expected at least one thing to do").max(20),
});

/** What a rule can do with what came in: the rest asks for a piece. */
export const DONE_TO_COMING = ["notify", "assign"] as const satisfies readonly Action["do"][];

/** Why the rest cannot be done. */
export const NO_PIECE_YET =
  "Of what comes in no piece has begun: a rule can give it to somebody, and tell people of it.";

/** Whether a rule can do something to what its event is about. */
export const canDo = (event: RuleEvent, what: Action["do"]): boolean =>
  !isComing(event) || DONE_TO_COMING.some((one) => one === what);

/** The document `elenco.rules/1`. Keys it does not know are refused with their path. */
export const rulesSchema = z.strictObject({
  format: z.literal("elenco.rules/1"),
  rules: z.array(ruleSchema).max(500, "expected at most 500 rules"),
});

export type Rule = z.infer<typeof ruleSchema>;
export type When = Rule["when"];
export type Condition = Rule["if"][number];
export type Action = Rule["then"][number];
