import { type Named, namesOf, type RuleChoices } from "#core/rules/names.ts";
import type { RuleNames } from "#core/rules/say.ts";
import type { Workflow } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, requestForm, role, section } from "../db/schema/index.ts";
import { knownHere } from "./rows.ts";

/** What there is to choose from. */
export async function ruleChoices(db: Queryable): Promise<RuleChoices> {
  const [{ workflows }, roles, people, kinds, sections, forms] = await Promise.all([
    knownHere(db),
    db.select({ key: role.key, name: role.name }).from(role).orderBy(role.name),
    db.select({ key: person.key, name: person.name }).from(person).orderBy(person.name),
    db.select({ key: kind.key, name: kind.name, fields: kind.fields }).from(kind).orderBy(kind.name),
    db.select({ key: section.key, name: section.name }).from(section).orderBy(section.name),
    db.select({ fields: requestForm.fields }).from(requestForm).orderBy(requestForm.name),
  ]);
  const fields = [...kinds, ...forms].flatMap((one) => one.fields.filter(({ type }) => SIMPLE.has(type)));
  return {
    workflows: workflows.map(({ key, name, states, transitions }: Workflow) => ({
      key,
      name,
      states: states.map(pick),
      transitions: transitions.map(pick),
    })),
    sections,
    kinds: kinds.map(pick),
    fields: [...new Map(fields.map((one) => [one.key, pick(one)])).values()],
    roles,
    people,
  };
}

const pick = ({ key, name }: Named): Named => ({ key, name });
/** Fields whose value is a few words or a number. */
const SIMPLE: ReadonlySet<string> = new Set(["line", "words", "number", "date", "choice", "link"]);

export const namesHere = async (db: Queryable): Promise<RuleNames> => namesOf(await ruleChoices(db));
