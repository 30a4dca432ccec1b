import { parseArgs } from "node:util";
import { z } from "zod";
import { HORIZON_DAYS, leave } from "#core/release/window.ts";
import { windowsSchema } from "#core/release/windows-format.ts";
import { instantSchema, readJson, readOptions, sayInstant, Unusable } from "./input.ts";

/** So many wishes are answered at once. */
const WISHES = 100_000;

/** `elenco window`: when what is wished for leaves through a channel; one wish, or a batch with the spacing between them kept. */
export async function windowCommand(rest: string[]): Promise<number> {
  const { values } = parseArgs({
    args: rest,
    options: {
      windows: { type: "string" },
      from: { type: "string" },
      batch: { type: "string" },
      json: { type: "boolean", default: false },
    },
  });
  if (!values.windows) throw new Unusable("--windows: expected a file");
  if (values.batch !== undefined && values.from !== undefined) throw new Unusable("--batch stands for --from");
  const windows = readJson(values.windows, windowsSchema);
  const wishes =
    values.batch === undefined
      ? [readOptions(z.object({ from: instantSchema }), values).from]
      : readJson(values.batch, z.array(instantSchema).max(WISHES));
  const answers = leave(windows, wishes).map((at, i) => {
    const place = values.batch === undefined ? "--from" : `[${i}]`;
    if (at === null) throw new Unusable(`${place}: nothing is open within ${HORIZON_DAYS} days`);
    return sayInstant(at);
  });
  if (!values.json) console.log(answers.join("\n"));
  else if (values.batch === undefined) console.log(JSON.stringify({ leaves: answers[0] }));
  else console.log(JSON.stringify(answers));
  return 0;
}
