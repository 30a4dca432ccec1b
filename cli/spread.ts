import { parseArgs } from "node:util";
import { z } from "zod";
import { spread } from "#core/people/spread.ts";
import { readJson, Unusable } from "./input.ts";

/** So many people are weighed against one another at once: what it takes grows with their square. */
const PEOPLE = 200;

const key = z.string().min(1).max(200);
const loadSchema = z
  .strictObject({
    people: z.array(z.strictObject({ key, limit: z.int().min(0).max(100_000) })).max(PEOPLE),
    items: z.array(z.strictObject({ id: key, holder: key, able: z.array(key).max(PEOPLE) })).max(10_000),
  })
  .superRefine(({ people, items }, context) => {
    const twice = (keys: readonly string[]) => {
      const seen = new Set<string>();
      return keys.findIndex((one) => seen.size === seen.add(one).size);
    };
    for (const [list, at] of [
      ["people", twice(people.map((one) => one.key))],
      ["items", twice(items.map((one) => one.id))],
    ] as const)
      if (at >= 0) context.addIssue({ code: "custom", path: [list, at], message: "expected a key of its own" });
  });

/** `elenco spread`: what to hand to whom so that people are over their limits by the least, with the fewest moves. */
export async function spreadCommand(rest: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args: rest,
    options: { json: { type: "boolean", default: false } },
    allowPositionals: true,
  });
  const [file, ...more] = positionals;
  if (!file || more.length > 0) throw new Unusable("spread: expected one file");
  const { people, items } = readJson(file, loadSchema);
  const answer = spread(people, items);
  const lines = [...answer.moves.map(({ item, to }) => `${item} → ${to}`), `over: ${answer.over}`];
  console.log(values.json ? JSON.stringify(answer) : lines.join("\n"));
  return 0;
}
