import type { Field } from "../text/field.ts";
import { type Content, countFields, fieldProblems } from "../text/fields.ts";

/** What a request lacks before it can be judged: each a sentence its sender understands. */
export const missingIn = (fields: readonly Field[], content: Content): string[] =>
  fieldProblems(fields, content, countFields(content)).map((one) => one.sentence);
