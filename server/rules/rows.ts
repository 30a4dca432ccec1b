import { asc, eq } from "drizzle-orm";
import type { Known } from "#core/rules/check.ts";
import type { Rule } from "#core/rules/document.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, requestForm, role, rule, section, workflow } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";

/** A rule as it stands, with whose it is. */
export interface StandingRule extends Rule {
  id: string;
  revision: number;
  makerId: string;
  maker: string;
  makerIsHere: boolean;
  changedAt: number;
  /** What was before this number of the ledger is not for it. */
  since: number;
}

/** The rules there are, by their names. */
export async function loadRules(db: Queryable): Promise<StandingRule[]> {
  const rows = await db
    .select({ rule, maker: person.name, makerIsHere: person.active })
    .from(rule)
    .innerJoin(person, eq(person.id, rule.makerId))
    .orderBy(asc(rule.name), asc(rule.id));
  return rows.map(({ rule: { hears, asks, does, ...row }, ...whose }) => ({
    ...row,
    ...whose,
    when: hears,
    if: asks,
    then: does,
  }));
}

/** What rules may name here: the workflows in use, roles, people, fields of kinds, sections and kinds, by their keys. */
export async function knownHere(
  db: Queryable,
): Promise<Known & Required<Pick<Known, "fields" | "sections" | "kinds">>> {
  const [lines, roles, people, kinds, sections, forms] = await Promise.all([
    db.select({ id: workflow.currentRevisionId }).from(workflow),
    db.select({ key: role.key }).from(role),
    db.select({ key: person.key }).from(person).where(eq(person.active, true)),
    db.select({ key: kind.key, fields: kind.fields }).from(kind),
    db.select({ key: section.key }).from(section),
    db.select({ fields: requestForm.fields }).from(requestForm),
  ]);
  const documents = await loadDocuments(
    db,
    lines.flatMap((one) => one.id ?? []),
  );
  const keys = (rows: readonly { key: string }[]) => new Set(rows.map((one) => one.key));
  return {
    workflows: [...documents.values()],
    roles: keys(roles),
    people: keys(people),
    kinds: keys(kinds),
    sections: keys(sections),
    fields: keys([...kinds, ...forms].flatMap((one) => one.fields)),
  };
}
