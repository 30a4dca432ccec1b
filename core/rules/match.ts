import { holds, type Value } from "./conditions.ts";
import type { Condition, Rule, RuleEvent } from "./document.ts";

/** Something that happened to a piece, or came in, as far as a rule may ask of it. Keys, as documents name them. */
export interface Happened {
  event: RuleEvent;
  /** Where it arrived. */
  state?: string;
  /** Which of its fields changed. */
  fields?: readonly string[];
  /** Empty where it is no piece, or where nobody has said. */
  workflow: string;
  /** Its section first, then those above. */
  sections: readonly string[];
  kind: string;
}

/** A piece as conditions look at it. */
export interface Facts {
  urgency: string;
  words: number;
  fields: Readonly<Record<string, unknown>>;
}

/** A piece, or what came in, as rules look at it. */
export interface Seen {
  place: Omit<Happened, "event">;
  facts: Facts;
}

/** Whether a rule is meant by something that happened, whatever its conditions say. */
export const isMeant = ({ when }: Pick<Rule, "when">, happened: Happened): boolean =>
  when.event === happened.event &&
  (when.state === undefined || when.state === happened.state) &&
  (when.field === undefined || happened.fields?.includes(when.field) === true) &&
  (when.workflow === undefined || when.workflow === happened.workflow) &&
  (when.section === undefined || happened.sections.includes(when.section)) &&
  (when.kind === undefined || when.kind === happened.kind);

/** Whether all conditions of a rule hold for a piece. */
export const allHold = (rule: Pick<Rule, "if">, facts: Facts): boolean =>
  rule.if.every((condition) => holds(condition, heldBy(condition, facts)));

function heldBy({ fact, field }: Condition, { urgency, words, fields }: Facts): Value {
  if (fact === "urgency") return urgency;
  if (fact === "words") return words;
  const value = Object.hasOwn(fields, field ?? "") ? fields[field ?? ""] : undefined;
  return typeof value === "string" || typeof value === "number" ? value : undefined;
}

/** Rules that are on, by the event they wait for: of hundreds a few are looked at. */
export function byEvent<R extends Pick<Rule, "when" | "on">>(
  rules: readonly R[],
): ReadonlyMap<RuleEvent, readonly R[]> {
  const by = new Map<RuleEvent, R[]>();
  for (const rule of rules) {
    if (!rule.on) continue;
    const some = by.get(rule.when.event) ?? [];
    some.push(rule);
    by.set(rule.when.event, some);
  }
  return by;
}
