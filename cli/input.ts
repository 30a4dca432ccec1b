import { readFileSync } from "node:fs";
import type { z } from "zod";

/** Input that cannot be used: the message names the file, the place in it, and what was expected. */
export class Unusable extends Error {}

/**
 * Reads a JSON file, or standard input for `-`, by a schema.
 *
 * @throws Unusable when it cannot be read, is no JSON, or does not fit
 */
export function readJson<S extends z.ZodType>(file: string, schema: S): z.output<S> {
  const name = file === "-" ? "standard input" : file;
  const parsed = schema.safeParse(parse(name, read(file, name)));
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const path = (issue?.path ?? [])
    .map((step) => (typeof step === "number" ? `[${step}]` : `.${String(step)}`))
    .join("");
  const keys = issue?.code === "unrecognized_keys" ? ` (${issue.keys.join(", ")})` : "";
  throw new Unusable(`${name}: ${path.replace(/^\./, "") || "the document"}: ${issue?.message}${keys}`);
}

function read(file: string, name: string): string {
  try {
    return readFileSync(file === "-" ? 0 : file, "utf8");
  } catch (error) {
    throw new Unusable(`${name}: cannot be read: ${(error as Error).message}`);
  }
}

function parse(name: string, text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Unusable(`${name}: the document: expected JSON: ${(error as Error).message}`);
  }
}
