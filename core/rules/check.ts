import { meaningOf, type Principal } from "../people/principals.ts";
import { groupBy } from "../words/group.ts";
import { list } from "../words/say.ts";
import type { Workflow } from "../workflow/document.ts";
import type { Known as KnownPeople } from "../workflow/references.ts";
import { contradict, subjectOf } from "./conditions.ts";
import type { Rule } from "./document.ts";
import { circles } from "./loops.ts";

export type Code = "duplicate-key" | "unknown-reference" | "unknown-principal" | "loop" | "never";

/** Something the checker found: an error keeps rules from being switched on. */
export interface Finding {
  code: Code;
  severity: "error" | "warning";
  at?: { rule: string };
  message: string;
  /** The rules of a shortest circle. */
  witness?: { rules: string[] };
}

/** What rules may name. Fields, sections and kinds are not checked where they are not known. */
export interface Known extends KnownPeople {
  workflows: readonly Workflow[];
  fields?: ReadonlySet<string>;
  sections?: ReadonlySet<string>;
  kinds?: ReadonlySet<string>;
}

/**
 * Checks standing rules: keys that stand twice, names that stand for nothing; only where nothing is wrong with
 * these, circles in which they may set each other off, and conditions that cannot hold together.
 */
export function checkRules(rules: readonly Rule[], known: Known): Finding[] {
  const faults = [...duplicateKeys(rules), ...rules.flatMap((rule) => [...unknown(rule, known)])];
  if (faults.length > 0) return faults;
  return [
    ...circles(rules, known.workflows).map((keys): Finding => {
      const names = keys.map((key) => rules.find((rule) => rule.key === key)?.name ?? key);
      const message =
        names.length === 1 ? `${names[0]} may set itself off.` : `${list(names)} may set each other off in a circle.`;
      return { code: "loop", severity: "error", message, witness: { rules: keys } };
    }),
    ...rules.flatMap((rule) => [...never(rule)]),
  ];
}

function* duplicateKeys(rules: readonly Rule[]): Generator<Finding> {
  for (const [key, some] of groupBy(rules, (rule) => rule.key))
    if (some.length > 1) yield fault("duplicate-key", key, `the key ${key} stands ${some.length} times.`);
}

const fault = (code: Code, rule: string, message: string): Finding => ({
  code,
  severity: "error",
  at: { rule },
  message,
});

function* unknown({ key, when, if: conditions, then }: Rule, known: Known): Generator<Finding> {
  const { workflows } = known;
  const amiss = (what: string) => fault("unknown-reference", key, `there is no ${what}.`);
  const travelled = workflows.filter((one) => when.workflow === undefined || one.key === when.workflow);
  if (when.workflow !== undefined && travelled.length === 0) yield amiss(`workflow ${when.workflow}`);
  if (when.state !== undefined && !travelled.some(({ states }) => states.some((one) => one.key === when.state)))
    yield amiss(`state ${when.state}`);
  if (when.section !== undefined && known.sections?.has(when.section) === false) yield amiss(`section ${when.section}`);
  if (when.kind !== undefined && known.kinds?.has(when.kind) === false) yield amiss(`kind ${when.kind}`);
  const fields = [
    when.field,
    ...conditions.map((one) => one.field),
    ...then.map((one) => (one.do === "set" ? one.field : undefined)),
  ];
  for (const field of new Set(fields))
    if (field !== undefined && known.fields?.has(field) === false) yield amiss(`field ${field}`);
  for (const action of then)
    if (
      action.do === "take" &&
      !travelled.some(({ transitions }) => transitions.some((one) => one.key === action.transition))
    )
      yield amiss(`transition ${action.transition}`);
  const principals = then.flatMap((one) => (one.do === "assign" ? [one.to] : one.do === "notify" ? one.to : []));
  for (const principal of new Set(principals))
    if (!isKnown(principal, known)) yield fault("unknown-principal", key, `nobody is ${principal}.`);
}

function isKnown(principal: Principal, { roles, people }: Known): boolean {
  const { sort, key } = meaningOf(principal);
  if (key === null) return true;
  return sort === "person" ? people.has(key) : roles.has(key);
}

function* never({ key, if: conditions }: Rule): Generator<Finding> {
  for (const [subject, some] of groupBy(conditions, subjectOf))
    if (contradict(some)) {
      const message = `what is asked of the ${subject} cannot hold together.`;
      yield { code: "never", severity: "warning", at: { rule: key }, message };
    }
}
