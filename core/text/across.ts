import type { Field } from "./field.ts";
import { type Content, isManuscript, type Value } from "./fields.ts";

/**
 * What of a content another kind can hold: the values of fields it has too, by key and type; and where none of its
 * texts was given anything, the first text for its first.
 *
 * @param from the fields the content was written in
 * @param into the fields of the other kind
 * @returns the values it takes, and the fields that hold something and have no place there
 */
export function across(
  from: readonly Field[],
  { fields }: Content,
  into: readonly Field[],
): { fields: Content["fields"]; left: Field[] } {
  const taken: Content["fields"] = {};
  const left: Field[] = [];
  for (const field of from) {
    const value = fields[field.key];
    if (value === undefined) continue;
    if (into.some(({ key, type }) => key === field.key && type === field.type)) taken[field.key] = value;
    else left.push(field);
  }
  const target = into.find(({ type }) => type === "manuscript");
  const source = left.find(({ type }) => type === "manuscript");
  if (!target || !source || Object.values(taken).some(isManuscript)) return { fields: taken, left };
  return {
    fields: { ...taken, [target.key]: fields[source.key] as Value },
    left: left.filter((field) => field !== source),
  };
}
