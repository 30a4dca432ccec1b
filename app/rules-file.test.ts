import type { Act } from "#server/write.ts";
import { broughtIn } from "./rules-file.ts";

/** Nothing of it is touched by what is no document of rules. */
const act = {} as Act;
const file = (text: string) => new File([text], "rules.json");

test.each<[string, FormDataEntryValue | null, string | RegExp]>([
  ["no file", null, "Choose a file."],
  ["an empty one", file(""), "Choose a file."],
  ["words instead of one", "rules", "Choose a file."],
  ["one too large, unread", file(" ".repeat(500_001)), "The file is larger than 500 KB."],
  ["no JSON", file("{"), /^These are no rules: the document: /],
  ["another document", file('{"format":"elenco.windows/1"}'), /^These are no rules: format: /],
  [
    "a rule with an event there is none of",
    file('{"format":"elenco.rules/1","rules":[{"key":"a","name":"A","when":{"event":"piece.sung"},"then":[]}]}'),
    "These are no rules: rules[0].when.event: expected an event a rule can wait for.",
  ],
])("%s is answered at the field of the file", async (_, sent, said) => {
  const answer = await broughtIn(act, sent);
  expect(answer).toMatchObject({ intent: "bring", refusal: null });
  const message = "fields" in answer ? answer.fields.file : undefined;
  if (typeof said === "string") expect(message).toBe(said);
  else expect(message).toMatch(said);
});
