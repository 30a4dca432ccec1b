import { parseArgs } from "node:util";
import { peopleSchema } from "#core/people/document.ts";
import { check, type Finding, isSound } from "#core/workflow/checking/check.ts";
import { workflowSchema } from "#core/workflow/document.ts";
import { readJson, Unusable } from "./input.ts";

/** `elenco check`: what is wrong with a workflow, given the people there are. Exit code 1 where there is an error. */
export async function checkCommand(rest: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args: rest,
    options: { people: { type: "string" }, json: { type: "boolean", default: false } },
    allowPositionals: true,
  });
  const [file, ...more] = positionals;
  if (!file || more.length > 0) throw new Unusable("check: expected one workflow document");
  if (!values.people) throw new Unusable("--people: expected a file");
  if (file === "-" && values.people === "-") throw new Unusable("--people: only one of the two can be standard input");
  const findings = check(readJson(file, workflowSchema), readJson(values.people, peopleSchema));
  if (values.json) console.log(JSON.stringify({ findings }));
  else console.log(findings.map(sayFinding).join("\n") || "Nothing was found.");
  return isSound(findings) ? 0 : 1;
}

function sayFinding({ severity, code, at, message, witness }: Finding): string {
  const place = at ? ` at ${Object.values(at)[0]}` : "";
  const proof = witness ? ` (${Object.values(witness)[0]?.join(" → ")})` : "";
  return `${severity}: ${code}${place}: ${message}${proof}`;
}
