import { readFileSync } from "node:fs";
import { z } from "zod";
import { describeIssue } from "#core/words/problems.ts";

/** Input that cannot be used: the message names the file, the place in it, and what was expected. */
export class Unusable extends Error {}

/** How a file is called in messages. */
export const nameOf = (file: string) => (file === "-" ? "standard input" : file);

/**
 * Reads a JSON file, or standard input for `-`, by a schema.
 *
 * @throws Unusable when it cannot be read, is no JSON, or does not fit
 */
export function readJson<S extends z.ZodType>(file: string, schema: S): z.output<S> {
  const name = nameOf(file);
  return accept(name, parseJson(name, readText(file)), schema);
}

/** Judges a value by a schema. @throws Unusable with the first thing that does not fit and its path */
export function accept<S extends z.ZodType>(name: string, value: unknown, schema: S): z.output<S> {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const [problem] = parsed.error.issues.flatMap(describeIssue);
  throw new Unusable(`${name}: ${problem?.path}: ${problem?.message}`);
}

/** A file's text, or that of standard input for `-`. @throws Unusable when it cannot be read */
export function readText(file: string): string {
  try {
    return readFileSync(file === "-" ? 0 : file, "utf8");
  } catch (error) {
    throw new Unusable(`${nameOf(file)}: cannot be read: ${(error as Error).message}`);
  }
}

/** @throws Unusable when the text is no JSON */
export function parseJson(name: string, text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new Unusable(`${name}: the document: expected JSON: ${(error as Error).message}`);
  }
}

const INSTANT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:\d{2})$/;

/** An instant as a command takes it, as epoch milliseconds. */
export const instantSchema = z
  .string()
  .refine(
    (text) => INSTANT.test(text) && !Number.isNaN(Date.parse(text)),
    "expected an instant such as 2026-11-24T09:30Z",
  )
  .transform((text) => Date.parse(text));

/** ISO 8601 in UTC, to the minute where it is a whole one. */
export const sayInstant = (at: number) =>
  new Date(at)
    .toISOString()
    .replace(/:00\.000Z$/, "Z")
    .replace(/\.000Z$/, "Z");

/** Judges the options of a command. @throws Unusable with the first that does not fit, by its name */
export function readOptions<S extends z.ZodType>(schema: S, values: unknown): z.output<S> {
  const given = schema.safeParse(values);
  if (given.success) return given.data;
  const [issue] = given.error.issues;
  throw new Unusable(`--${String(issue?.path[0])}: ${issue?.message}`);
}
