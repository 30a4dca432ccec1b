import { parseArgs } from "node:util";
import { peopleSchema } from "#core/people/document.ts";
import { checkRules, type Finding } from "#core/rules/check.ts";
import { rulesSchema } from "#core/rules/document.ts";
import { workflowSchema } from "#core/workflow/document.ts";
import { knownIn } from "#core/workflow/references.ts";
import { readJson, Unusable } from "./input.ts";

/** `elenco rules`: what is wrong with standing rules, given the people and the workflows there are. Exit code 1 where there is an error. */
export async function rulesCommand(rest: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args: rest,
    options: {
      people: { type: "string" },
      workflow: { type: "string", multiple: true },
      json: { type: "boolean", default: false },
    },
    allowPositionals: true,
  });
  const [file, ...more] = positionals;
  if (!file) throw new Unusable("rules: expected one document of rules");
  if (!values.people) throw new Unusable("--people: expected a file");
  // A list behind one option, as a shell writes it for `*.json`.
  const workflows = [...(values.workflow ?? []), ...more];
  if (workflows.length === 0) throw new Unusable("--workflow: expected at least one file");
  if ([file, values.people, ...workflows].filter((one) => one === "-").length > 1)
    throw new Unusable("rules: only one of the files can be standard input");
  const findings = checkRules(readJson(file, rulesSchema).rules, {
    workflows: workflows.map((one) => readJson(one, workflowSchema)),
    ...knownIn(readJson(values.people, peopleSchema)),
  });
  if (values.json) console.log(JSON.stringify({ findings }));
  else console.log(findings.map(say).join("\n") || "Nothing was found.");
  return findings.some((one) => one.severity === "error") ? 1 : 0;
}

const say = ({ severity, code, at, message, witness }: Finding): string =>
  `${severity}: ${code}${at ? ` at ${at.rule}` : ""}: ${message}${witness ? ` (${witness.rules.join(" → ")})` : ""}`;
