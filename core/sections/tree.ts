/** A node of the publication's tree of sections. */
export interface Section {
  id: string;
  key: string;
  name: string;
  parentId: string | null;
  position: number;
  revision: number;
}

/** What a workflow can be set for. */
export type BindingScope = "publication" | "section" | "kind" | "piece";

/** A workflow set for a place; `from` and `until` are local dates, inclusive, null where it is always valid. */
export interface Binding {
  scope: BindingScope;
  scopeId: string;
  workflowId: string;
  workflow: string;
  validFrom: string | null;
  validUntil: string | null;
}

/** The publication's sections by id, and the workflows set for them and for it. */
export interface Tree {
  publicationId: string;
  /** The publication's name. */
  name: string;
  sections: ReadonlyMap<string, Section>;
  bindings: readonly Binding[];
}

/** A section and every section above it, nearest first. */
export function lineage(tree: Tree, sectionId: string): Section[] {
  const line: Section[] = [];
  for (
    let next = tree.sections.get(sectionId);
    next && !line.includes(next);
    next = next.parentId ? tree.sections.get(next.parentId) : undefined
  ) {
    line.push(next);
  }
  return line;
}

/** A section and every section below it. */
export function below(tree: Tree, sectionId: string): string[] {
  return [...tree.sections.keys()].filter((id) => lineage(tree, id).some((ancestor) => ancestor.id === sectionId));
}

/** A section's name with those above it: `Routes / Winter`. */
export function pathName(tree: Tree, sectionId: string): string {
  return lineage(tree, sectionId)
    .map((one) => one.name)
    .reverse()
    .join(" / ");
}

/** The workflow that applies somewhere, where it is set, and nearer ones that are not valid on that day. */
export interface Applied {
  binding: Binding;
  passedBy: Binding[];
}

/**
 * The workflow for pieces of a kind in a section: what is set for the kind, else for the section or
 * the nearest above it, else for the publication. One that is not valid on the day is passed by.
 *
 * @param kindId null asks for the section alone
 * @param today the local date
 */
export function appliedWorkflow(
  tree: Tree,
  sectionId: string | null,
  kindId: string | null,
  today: string,
): Applied | null {
  const nearestFirst = [
    ...(kindId ? [["kind", kindId]] : []),
    ...(sectionId ? lineage(tree, sectionId).map((one) => ["section", one.id]) : []),
    ["publication", tree.publicationId],
  ];
  const set = nearestFirst.flatMap(([scope, id]) =>
    tree.bindings.filter((one) => one.scope === scope && one.scopeId === id),
  );
  const isValid = ({ validFrom, validUntil }: Binding) =>
    (validFrom ?? today) <= today && today <= (validUntil ?? today);
  const chosen = set.findIndex(isValid);
  return chosen < 0 ? null : { binding: set[chosen] as Binding, passedBy: set.slice(0, chosen) };
}

/** The place a workflow is set for, in words; `kinds` names kinds by id. */
export function sayBinding(tree: Tree, { scope, scopeId }: Binding, kinds: ReadonlyMap<string, string>): string {
  if (scope === "section") return pathName(tree, scopeId);
  if (scope === "kind") return `every ${(kinds.get(scopeId) ?? "piece of that kind").toLowerCase()}`;
  return tree.name;
}
