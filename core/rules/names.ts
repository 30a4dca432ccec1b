import type { RuleNames } from "./say.ts";

/** What rules can be put together from, by keys and names. */
export interface RuleChoices {
  workflows: { key: string; name: string; states: Named[]; transitions: Named[] }[];
  sections: Named[];
  kinds: Named[];
  fields: Named[];
  roles: Named[];
  people: Named[];
}
/** A key with what it is called. */
export interface Named {
  key: string;
  name: string;
}

/** What keys are called; one that is no more is called by itself. */
export const namesOf = (choices: RuleChoices): RuleNames => {
  const of = (some: readonly Named[]) => (key: string) => some.find((one) => one.key === key)?.name ?? key;
  const among = (part: "states" | "transitions") => (key: string, workflow: string | undefined) =>
    of(choices.workflows.filter((one) => workflow === undefined || one.key === workflow).flatMap((one) => one[part]))(
      key,
    );
  return {
    state: among("states"),
    transition: among("transitions"),
    workflow: of(choices.workflows),
    section: of(choices.sections),
    kind: of(choices.kinds),
    field: of(choices.fields),
    role: of(choices.roles),
    person: of(choices.people),
  };
};
