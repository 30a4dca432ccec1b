import { parseArgs } from "node:util";

/** What `npm run bench` is asked for. */
export interface Options {
  /** The parts to measure; all where none is named. */
  parts: readonly string[];
  /** How many pieces and ledger entries the publication has. */
  pieces: number;
  entries: number;
  /** A file of earlier results to compare with. */
  against?: string | undefined;
}

/** @throws Error with one sentence where something asked for cannot be had */
export function readOptions(asked: readonly string[], known: readonly string[]): Options {
  const { values, positionals } = parseArgs({
    args: [...asked],
    allowPositionals: true,
    options: {
      pieces: { type: "string", default: "20000" },
      entries: { type: "string", default: "200000" },
      against: { type: "string" },
    },
  });
  const unknown = positionals.find((part) => !known.includes(part));
  if (unknown !== undefined) throw new Error(`There is no part ${unknown}; there are ${known.join(", ")}.`);
  return {
    parts: positionals,
    pieces: count("--pieces", values.pieces),
    entries: count("--entries", values.entries),
    against: values.against,
  };
}

function count(name: string, text: string): number {
  const number = Number(text);
  if (!Number.isInteger(number) || number < 1)
    throw new Error(`${name}: expected a whole number above 0, not "${text}".`);
  return number;
}
