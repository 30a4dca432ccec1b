import { readFileSync } from "node:fs";
import { peopleSchema } from "../people/document.ts";
import { workflowSchema } from "../workflow/document.ts";
import { knownIn } from "../workflow/references.ts";
import { checkRules } from "./check.ts";
import { rulesSchema } from "./document.ts";

const read = JSON.parse(readFileSync("core/rules/cases/rules.json", "utf8"));
const known = { workflows: [workflowSchema.parse(read.workflow)], ...knownIn(peopleSchema.parse(read.people)) };

test.each(read.cases.map((one: object, i: number) => [i, one]))("case %i", (...[, one]) => {
  const { rules, expect: expected } = one as { rules: unknown; expect: object[] };
  const findings = checkRules(rulesSchema.parse(rules).rules, known);
  expect(findings.map(({ message, ...rest }) => rest)).toEqual(expected);
});
