import { across } from "../text/across.ts";
import type { Field } from "../text/field.ts";
import { type Content, isManuscript } from "../text/fields.ts";
import { sayValue } from "../text/values.ts";
import { answersOf } from "./form.ts";

/**
 * What of a request a new piece begins with: the answers whose field the kind has too, as they are; and the others
 * as a brief, a line each.
 *
 * @param asked the fields of the form it came by
 * @param kind the fields of the kind it becomes
 */
export function takeOver(
  asked: readonly Field[],
  content: Content,
  kind: readonly Field[],
): { fields: Content["fields"]; brief: string } {
  const { fields, left } = across(asked, content, kind);
  const words = answersOf(asked, content);
  const lines = left.map((field) => {
    const said = isManuscript(content.fields[field.key]) ? `\n${words[field.key]}` : ` ${sayValue(field, content)}`;
    return `${field.name}:${said}`;
  });
  return { fields, brief: lines.join("\n") };
}
