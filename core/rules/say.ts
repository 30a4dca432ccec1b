import { meaningOf, type Principal } from "../people/principals.ts";
import { sayTake } from "../time/words.ts";
import { list } from "../words/say.ts";
import type { Action, Condition, Rule, RuleEvent, When } from "./document.ts";

/** What the keys of a rule are called. */
export interface RuleNames {
  state(key: string, workflow: string | undefined): string;
  transition(key: string, workflow: string | undefined): string;
  workflow(key: string): string;
  section(key: string): string;
  kind(key: string): string;
  field(key: string): string;
  role(key: string): string;
  person(key: string): string;
}

/** The events as they read behind "When". */
export const EVENT_WORDS: Record<RuleEvent, string> = {
  "piece.begun": "a piece is begun",
  "piece.arrived": "a piece arrives",
  "piece.changed": "a piece is changed",
  "piece.assigned": "a piece is given to somebody",
  "comment.made": "somebody comments",
  "review.decided": "a reviewer decides",
  "release.done": "a piece reaches readers",
  "due.passed": "a due date passes",
  "request.came": "a request comes",
  "material.came": "material comes",
  "report.came": "a reader says something",
};

/** A rule as one sentence. */
export function sayRule(rule: Pick<Rule, "when" | "if" | "then">, names: RuleNames): string {
  const conditions = rule.if.map((one) => sayCondition(one, names));
  const doing = rule.then.map((one) => sayAction(one, names, rule.when.workflow));
  return `When ${sayWhen(rule.when, names)}${conditions.length > 0 ? `, if ${list(conditions)}` : ""}, then ${list(doing)}.`;
}

function sayWhen({ event, state, field, workflow, section, kind }: When, names: RuleNames): string {
  const of = kind === undefined ? EVENT_WORDS[event] : EVENT_WORDS[event].replace("a piece", `a ${names.kind(kind)}`);
  return [
    of,
    kind !== undefined && !EVENT_WORDS[event].includes("a piece") && `on a ${names.kind(kind)}`,
    state !== undefined && `in ${names.state(state, workflow)}`,
    field !== undefined && `in its ${names.field(field)}`,
    workflow !== undefined && `on the line ${names.workflow(workflow)}`,
    section !== undefined && `below ${names.section(section)}`,
  ]
    .filter(Boolean)
    .join(" ");
}

const FACT_WORDS = { urgency: "urgency", words: "number of words" } as const;

export function sayCondition(condition: Condition, names: Pick<RuleNames, "field">): string {
  const { fact, field, is, over, under, empty, filled } = condition;
  const what = fact ? FACT_WORDS[fact] : names.field(field ?? "");
  if (empty) return `its ${what} is empty`;
  if (filled) return `its ${what} is filled`;
  if (over !== undefined) return `its ${what} is over ${over}`;
  if (under !== undefined) return `its ${what} is under ${under}`;
  if (is !== undefined) return `its ${what} is ${quoted(is)}`;
  return `its ${what} is not ${quoted(condition["is-not"] ?? "")}`;
}

const quoted = (value: string | number) => (value === "" ? "empty" : typeof value === "number" ? value : `“${value}”`);

/** What an action does, as the rest of a sentence that begins with "then". */
export function sayAction(action: Action, names: RuleNames, workflow?: string): string {
  switch (action.do) {
    case "assign":
      return `give it to ${saySomebody(action.to, names)}`;
    case "due":
      return `have it due ${sayTake(action.in)} later`;
    case "notify":
      return `tell ${list(action.to.map((one) => saySomebody(one, names)))} “${cut(action.text)}”`;
    case "set":
      return `set its ${names.field(action.field)} to ${quoted(action.to)}`;
    case "comment":
      return `comment “${cut(action.text)}”`;
    case "take":
      return `take “${names.transition(action.transition, workflow)}”`;
    case "call":
      return `call ${action.url}`;
  }
}

const SAID_MOST = 80;
/** The maker's words, as they stand in a sentence. */
function cut(text: string): string {
  const words = text.replaceAll(/\{\{\s*piece\.title\s*\}\}/g, "‹its title›").replace(/\.$/, "");
  return words.length > SAID_MOST ? `${words.slice(0, SAID_MOST).trimEnd()}…` : words;
}

function saySomebody(principal: Principal, { role, person }: RuleNames): string {
  const { sort, key } = meaningOf(principal);
  if (key === null) return { author: "its author", assignee: "whoever has it", anyone: "anyone" }[sort];
  if (sort === "person") return person(key);
  return sort === "role" ? `everyone who is ${role(key)}` : `the least busy who is ${role(key)}`;
}
