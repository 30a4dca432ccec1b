import { z } from "zod";
import { takeSchema } from "../time/due.ts";

const key = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, "expected a key of small letters, digits and single hyphens")
  .max(60);
const name = z.string().trim().min(1, "expected a name").max(80);

/** Who a rule speaks of: the piece's author, whoever it is assigned to, anyone, a role, a person. */
export const principalSchema = z
  .string()
  .regex(
    /^(author|assignee|anyone|(role|person):[a-z0-9]+(-[a-z0-9]+)*)$/,
    "expected author, assignee, anyone, role:KEY or person:KEY",
  );

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
    seats: z.array(seatRuleSchema).min(1, "expected at least one seat"),
    approve: key,
    return: key,
    decline: key.optional(),
    remind: z.array(takeSchema).default([]),
    overdue: z
      .strictObject({ after: takeSchema, do: z.enum(["escalate", "stand-in"]), to: principalSchema.optional() })
      .optional(),
  })
  .refine((review) => review.rule !== "count" || review.count !== undefined, {
    path: ["count"],
    message: "the rule count needs how many approvals",
  });

const stateSchema = z.strictObject({
  key,
  name,
  description: z.string().max(500).optional(),
  kind: z.enum(["writing", "review", "ready", "live", "parked", "closed"]),
  take: takeSchema.optional(),
  editors: z.array(principalSchema).default([]),
  viewers: z.array(principalSchema).default(["anyone"]),
  /** The transition a piece takes at once on arrival: its presence switches the state off. */
  bypass: key.optional(),
  arrival: z
    .strictObject({
      assign: z.array(principalSchema).default([]),
      notify: z.array(principalSchema).default([]),
      checklist: z.array(z.string().min(1).max(200)).default([]),
    })
    .default({ assign: [], notify: [], checklist: [] }),
  review: reviewSchema.optional(),
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
  states: z.array(stateSchema).min(1).max(10_000),
  transitions: z.array(transitionSchema).max(30_000),
});

export type Workflow = z.infer<typeof workflowSchema>;
export type State = Workflow["states"][number];
export type StateKind = State["kind"];
export type Transition = Workflow["transitions"][number];
export type Review = NonNullable<State["review"]>;
export type SeatRule = Review["seats"][number];
export type Principal = string;

/** Something wrong in a document: where, by path, and what was expected there. */
export interface Problem {
  path: string;
  message: string;
}

/** The state with this key. @throws Error when the document, already read, has none: a bug, not an input */
export function stateOf(workflow: Workflow, key: string): State {
  const state = workflow.states.find((candidate) => candidate.key === key);
  if (!state) throw new Error(`workflow ${workflow.key} has no state ${key}`);
  return state;
}

/** The transition with this key, or undefined. */
export const transitionOf = (workflow: Workflow, key: string) =>
  workflow.transitions.find((transition) => transition.key === key);

/**
 * Reads a workflow document from parsed JSON: its shape first, then what it refers to.
 *
 * @returns the workflow with defaults filled in, or every problem found, each with its path
 */
export function readWorkflow(json: unknown): { workflow: Workflow } | { problems: Problem[] } {
  const parsed = workflowSchema.safeParse(json);
  if (!parsed.success) return { problems: parsed.error.issues.flatMap(describe) };
  const problems = [...brokenReferences(parsed.data)];
  return problems.length > 0 ? { problems } : { workflow: parsed.data };
}

/** Roles and people a document speaks of that are not among those given. */
export function unknownPrincipals(
  workflow: Workflow,
  roles: ReadonlySet<string>,
  people: ReadonlySet<string>,
): Problem[] {
  return [...principalsNamed(workflow)].flatMap(({ path, principal }) => {
    const [sort, name] = principal.split(":");
    const known = sort === "role" ? roles : sort === "person" ? people : null;
    return known && name && !known.has(name) ? [{ path, message: `there is no ${sort} "${name}" here` }] : [];
  });
}

function* principalsNamed(workflow: Workflow): Generator<{ path: string; principal: Principal }> {
  const list = (path: string, principals: readonly Principal[]) =>
    principals.map((principal, i) => ({ path: `${path}[${i}]`, principal }));
  for (const [i, state] of workflow.states.entries()) {
    const at = `states[${i}]`;
    yield* list(`${at}.editors`, state.editors);
    yield* list(`${at}.viewers`, state.viewers);
    yield* list(`${at}.arrival.assign`, state.arrival.assign);
    yield* list(`${at}.arrival.notify`, state.arrival.notify);
    const seats = state.review?.seats ?? [];
    yield* list(
      `${at}.review.seats`,
      seats.map((seat) => ("person" in seat ? `person:${seat.person}` : `role:${seat.role}`)),
    );
    const overdue = state.review?.overdue?.to;
    if (overdue) yield { path: `${at}.review.overdue.to`, principal: overdue };
  }
  for (const [i, transition] of workflow.transitions.entries()) {
    yield* list(`transitions[${i}].by`, transition.by);
    yield* list(`transitions[${i}].notify`, transition.notify);
  }
}

function* brokenReferences(workflow: Workflow): Generator<Problem> {
  const states = new Set<string>();
  const transitions = new Set<string>();
  for (const [list, keys] of [
    ["states", states],
    ["transitions", transitions],
  ] as const) {
    for (const [i, { key }] of workflow[list].entries()) {
      if (keys.has(key)) yield { path: `${list}[${i}].key`, message: `the key "${key}" stands here a second time` };
      keys.add(key);
    }
  }
  const state = (path: string, key: string): Problem[] =>
    states.has(key) ? [] : [{ path, message: `there is no state "${key}"` }];
  const transition = (path: string, key: string, from: string): Problem[] => {
    const found = transitionOf(workflow, key);
    if (!found) return [{ path, message: `there is no transition "${key}"` }];
    return found.from.includes(from)
      ? []
      : [{ path, message: `the transition "${key}" does not leave the state "${from}"` }];
  };
  yield* state("initial", workflow.initial);
  for (const [i, key] of workflow.mainLine.entries()) yield* state(`mainLine[${i}]`, key);
  for (const [i, item] of workflow.transitions.entries()) {
    for (const [j, from] of item.from.entries()) yield* state(`transitions[${i}].from[${j}]`, from);
    yield* state(`transitions[${i}].to`, item.to);
  }
  for (const [i, item] of workflow.states.entries()) {
    const at = `states[${i}]`;
    if ((item.kind === "review") !== (item.review !== undefined)) {
      yield {
        path: `${at}.review`,
        message: item.review ? "only a state of kind review has a review" : "a state of kind review needs a review",
      };
    }
    if (item.bypass) yield* transition(`${at}.bypass`, item.bypass, item.key);
    for (const outcome of ["approve", "return", "decline"] as const) {
      const named = item.review?.[outcome];
      if (named) yield* transition(`${at}.review.${outcome}`, named, item.key);
    }
  }
  const { from, until } = workflow.effective ?? {};
  if (from && until && until < from) yield { path: "effective.until", message: "the period ends before it begins" };
}

function describe(issue: z.core.$ZodIssue): Problem[] {
  const path = issue.path
    .map((step, i) => (typeof step === "number" ? `[${step}]` : i ? `.${String(step)}` : String(step)))
    .join("");
  if (issue.code === "unrecognized_keys") {
    return issue.keys.map((key) => ({ path: path ? `${path}.${key}` : key, message: "this key is not known here" }));
  }
  return [{ path: path || "the document", message: issue.message }];
}
