import { parseArgs } from "node:util";
import { z } from "zod";
import { type Anchor, anchorAt, find } from "#core/text/anchor.ts";
import { carry } from "#core/text/carry.ts";
import { fromMarkdown } from "#core/text/markdown.ts";
import { rangeSchema } from "#core/text/range-format.ts";
import { readJson, readText, Unusable } from "./input.ts";

const words = z.string().max(100_000);
const marksSchema = z
  .array(
    z.union([rangeSchema, z.strictObject({ exact: words.min(1), prefix: words.optional(), suffix: words.optional() })]),
  )
  .max(100_000);

/** What became of a mark. */
type Answer = { state: "gone" } | { state: "kept" | "changed"; start: number; end: number; exact: string };

/** `elenco anchor`: where marks made in one Markdown text stand in another. */
export async function anchorCommand(rest: string[]): Promise<number> {
  const { values } = parseArgs({
    args: rest,
    options: {
      before: { type: "string" },
      after: { type: "string" },
      marks: { type: "string" },
      json: { type: "boolean", default: false },
    },
  });
  const { before, after, marks } = values;
  if (!before || !after || !marks) throw new Unusable("--before, --after, --marks: expected a file each");
  const [was, now] = [before, after].map((file) => fromMarkdown(readText(file)).manuscript);
  const made = readJson(marks, marksSchema).map((mark, i) => {
    if ("exact" in mark) return find(was, mark);
    const anchor = anchorAt(was, mark);
    if (!anchor) throw new Unusable(`${marks}: [${i}]: expected a run of the first text`);
    return anchor;
  });
  const standing = made.filter((anchor) => anchor !== null);
  const carried = new Map(carry(standing, was, now).map((anchor, i) => [standing[i], anchor]));
  const answers = made.map((anchor) => answer(anchor, anchor && carried.get(anchor)));
  console.log(values.json ? JSON.stringify(answers) : answers.map(say).join("\n"));
  return 0;
}

function answer(before: Anchor | null, after: Anchor | null | undefined): Answer {
  if (!before || !after || after.gone) return { state: "gone" };
  const { start, end, exact } = after;
  return { state: exact === before.exact ? "kept" : "changed", start, end, exact };
}

const say = (one: Answer) => (one.state === "gone" ? "gone" : `${one.state} ${one.start}–${one.end} ${one.exact}`);
