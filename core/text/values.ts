import { Temporal } from "temporal-polyfill";
import type { Field } from "./field.ts";
import type { Content } from "./fields.ts";

/** What is behind an id a field holds: a piece's title, a file's name. */
export type Names = Readonly<Record<string, string>>;

/** A field's plain value in words: a number with its unit, a date as one says it, a name for an id; empty for what is no words. */
export function sayValue(field: Field, content: Content, names: Names = {}): string {
  const value = content.fields[field.key];
  if (typeof value === "number") return `${value.toLocaleString("en")}${field.unit ? ` ${field.unit}` : ""}`;
  if (typeof value !== "string") return "";
  if (field.type === "piece") return names[value] ?? "a piece that is not shown to you";
  if (field.type === "file") return names[value] ?? "a file";
  if (field.type !== "date") return value;
  return Temporal.PlainDate.from(value).toLocaleString("en-GB", { day: "numeric", month: "long", year: "numeric" });
}

/** Whether a field's value can be said in words beside the text. */
export const isFact = ({ type }: Field) => ["line", "number", "date", "choice", "link"].includes(type);

/** The ids of the pieces a content refers to. */
export function referredTo(fields: readonly Field[], content: Content): string[] {
  return fields.flatMap(({ key, type }) => {
    const value = content.fields[key];
    return type === "piece" && typeof value === "string" ? [value] : [];
  });
}
