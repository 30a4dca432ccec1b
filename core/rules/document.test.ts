import { describeIssue } from "../words/problems.ts";
import { rulesSchema } from "./document.ts";

const rule = (more: object) => ({
  format: "elenco.rules/1",
  rules: [{ key: "a", name: "A", when: { event: "comment.made" }, then: [{ do: "comment", text: "Look." }], ...more }],
});
const first = (document: unknown) => rulesSchema.safeParse(document).error?.issues.flatMap(describeIssue)[0];

test("a rule is off, and asks nothing, where it does not say so", () => {
  expect(rulesSchema.parse(rule({})).rules[0]).toMatchObject({ on: false, if: [] });
});

test.each<[string, unknown, string]>([
  ["another format", { format: "elenco.rules/2", rules: [] }, "format"],
  ["an event there is none of", rule({ when: { event: "piece.sung" } }), "rules[0].when.event"],
  ["a stop for what arrives nowhere", rule({ when: { event: "comment.made", state: "draft" } }), "rules[0].when.state"],
  ["a field for what changes none", rule({ when: { event: "comment.made", field: "beds" } }), "rules[0].when.field"],
  ["a fact and a field at once", rule({ if: [{ fact: "words", field: "beds", over: 1 }] }), "rules[0].if[0]"],
  ["nothing that is asked", rule({ if: [{ fact: "words" }] }), "rules[0].if[0]"],
  ["two things asked at once", rule({ if: [{ fact: "words", over: 1, under: 9 }] }), "rules[0].if[0]"],
  ["a fact there is none of", rule({ if: [{ fact: "mood", is: "good" }] }), "rules[0].if[0].fact"],
  ["a field that is no key", rule({ if: [{ field: 'a"b', is: "x" }] }), "rules[0].if[0].field"],
  ["nothing done", rule({ then: [] }), "rules[0].then"],
  ["what cannot be done", rule({ then: [{ do: "sing" }] }), "rules[0].then[0].do"],
  ["a comment without words", rule({ then: [{ do: "comment", text: " " }] }), "rules[0].then[0].text"],
  ["nobody told", rule({ then: [{ do: "notify", to: [], text: "Hello." }] }), "rules[0].then[0].to"],
  ["somebody who is no principal", rule({ then: [{ do: "assign", to: "noor" }] }), "rules[0].then[0].to"],
  ["a time that is none", rule({ then: [{ do: "due", in: "soon" }] }), "rules[0].then[0].in"],
  ["an address of another kind", rule({ then: [{ do: "call", url: "file:///etc/passwd" }] }), "rules[0].then[0].url"],
  ["a key it does not know", rule({ mood: "good" }), "rules[0].mood"],
  ["more rules than there may be", { format: "elenco.rules/1", rules: Array(501).fill(rule({}).rules[0]) }, "rules"],
])("%s is refused at its place", (_, document, path) => {
  expect(first(document)?.path).toBe(path);
});
