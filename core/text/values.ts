import { Temporal } from "temporal-polyfill";
import type { Content, Field } from "./fields.ts";

/** A field's plain value in words: a number with its unit, a date as one says it; empty for what is no words. */
export function sayValue(field: Field, content: Content): string {
  const value = content.fields[field.key];
  if (typeof value === "number") return `${value.toLocaleString("en")}${field.unit ? ` ${field.unit}` : ""}`;
  if (typeof value !== "string") return "";
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
