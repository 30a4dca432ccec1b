import { data } from "react-router";
import { v5 } from "uuid";
import type { z } from "zod";
import { z as schema } from "zod";
import type { Result } from "#core/refusal.ts";
import { fromLocalInput } from "#core/time/local.ts";
import type { Act } from "#server/write.ts";
import { misread, readForm, runCommand } from "./request.ts";

/** What became of a form: what its command gave, or the answer that goes back to it. */
type Outcome = { value: unknown } | ReturnType<typeof misread>;

/** One form of a page: what it holds, the command it leads to, and whether one leaves it afterwards. */
export interface PageForm {
  leaves: boolean;
  submit(intent: string, form: FormData, act: Act): Promise<Outcome>;
}

/**
 * A form by its command's own input: every limit is said once, where the command is.
 *
 * @param leaves whether the page is shown anew without the form when all went well
 */
export function form<S extends z.ZodType, T>(
  input: S,
  run: (act: Act, values: z.output<S>) => Promise<Result<T>>,
  leaves = false,
): PageForm {
  return {
    leaves,
    async submit(intent, sent, act) {
      const read = readForm(input, sent);
      if ("fields" in read) return misread(intent, read.fields);
      return runCommand<unknown>(intent, () => run(act, read.values));
    },
  };
}

/** What a word that came from outside names in a table; nothing that every object has. */
export const named = <T>(table: Record<string, T>, word: string): T | undefined =>
  Object.hasOwn(table, word) ? table[word] : undefined;

/** The form an intent names, of those a page has. @throws a 400 response where it names none */
export function formNamed(forms: Record<string, PageForm>, intent: string): PageForm {
  const wanted = named(forms, intent);
  if (!wanted) throw data(null, { status: 400 });
  return wanted;
}

/** A field of date and time in the zone its reader sees, as an instant; null where it is left empty. */
export const moment = (zone: string) =>
  schema
    .string()
    .max(40)
    .default("")
    .transform((text, issue) => {
      if (text === "") return null;
      const at = fromLocalInput(text, zone);
      if (at === null) issue.addIssue({ code: "custom", message: "This is no date and time." });
      return at;
    });

/** The same where it must not be left empty. */
export const someMoment = (zone: string) =>
  moment(zone).transform((at, issue) => {
    if (at !== null) return at;
    issue.addIssue({ code: "custom", message: "Choose a date and a time." });
    return schema.NEVER;
  });

/**
 * The key of a form that was sent: the same one twice is done once. The forms of a page share the key
 * it gave them, and who is quick sends a second before the page has another; each has its own by what
 * stands in it.
 */
export const formKeyOf = (sent: FormData): string | undefined => {
  const key = schema.uuid().safeParse(sent.get("formKey"));
  if (!key.success) return undefined;
  const says = [...sent].map(([name, value]) => [name, typeof value === "string" ? value : [value.name, value.size]]);
  return v5(JSON.stringify(says), key.data);
};
