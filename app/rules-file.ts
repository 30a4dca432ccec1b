import type { FormAnswer } from "#app/form-answer.ts";
import { rulesSchema } from "#core/rules/document.ts";
import { describeIssue } from "#core/words/problems.ts";
import { bringInRules } from "#server/rules/commands.ts";
import type { Act } from "#server/write.ts";

/** So large a document of rules is read, in bytes. */
const MOST = 500_000;

/** Brings rules in out of a file; what is wrong with it is said with its place. */
export async function broughtIn(act: Act, file: FormDataEntryValue | null): Promise<{ count: number } | FormAnswer> {
  const amiss = (message: string): FormAnswer => ({ intent: "bring", refusal: null, fields: { file: message } });
  if (!(file instanceof File) || file.size === 0) return amiss("Choose a file.");
  if (file.size > MOST) return amiss("The file is larger than 500 KB.");
  const read = rulesSchema.safeParse(parsed(await file.text()));
  if (!read.success) {
    const [problem] = read.error.issues.flatMap(describeIssue);
    return amiss(`These are no rules: ${problem?.path}: ${problem?.message}.`);
  }
  const done = await bringInRules(act, read.data);
  return done.ok ? done.value : { intent: "bring", refusal: done.refusal, fields: {} };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
