import * as functions from "./work.ts";

const WORK = new Map<string, unknown>(Object.entries(functions));

/** Where a thread begins: runs one of the functions of `work.ts`. */
export default ({ name, input }: { name: string; input: unknown }) =>
  (WORK.get(name) as (input: unknown) => unknown)(input);
