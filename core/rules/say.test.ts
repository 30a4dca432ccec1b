import { type Rule, ruleSchema } from "./document.ts";
import { namesOf, type RuleChoices } from "./names.ts";
import { sayRule } from "./say.ts";

const named = (key: string, name: string) => ({ key, name });
const choices: RuleChoices = {
  workflows: [
    {
      key: "item",
      name: "Item",
      states: [named("check", "Copy edit")],
      transitions: [named("send", "Send for copy edit")],
    },
    { key: "note", name: "Notice", states: [named("check", "Safety officer")], transitions: [] },
  ],
  sections: [named("huts", "Huts")],
  kinds: [named("hut-page", "Hut page")],
  fields: [named("beds", "Beds")],
  roles: [named("chief", "Managing editor")],
  people: [named("noor", "Noor Castellan")],
};

const say = (rule: Pick<Rule, "when" | "then"> & Partial<Rule>) =>
  sayRule(ruleSchema.parse({ key: "r", name: "R", ...rule }), namesOf(choices));
const due: Rule["then"] = [{ do: "due", in: "1wd" }];

test.each<[Rule["when"], string]>([
  [{ event: "piece.arrived" }, "When a piece arrives"],
  [{ event: "piece.arrived", state: "check" }, "When a piece arrives in Copy edit"],
  [
    { event: "piece.arrived", state: "check", workflow: "note" },
    "When a piece arrives in Safety officer on the line Notice",
  ],
  [{ event: "piece.changed", field: "beds", kind: "hut-page" }, "When a Hut page is changed in its Beds"],
  [{ event: "comment.made", kind: "hut-page", section: "huts" }, "When somebody comments on a Hut page below Huts"],
  [{ event: "due.passed", section: "gone" }, "When a due date passes below gone"],
])("what it waits for: %j", (when, words) => {
  expect(say({ when, then: due })).toBe(`${words}, then have it due 1 working day later.`);
});

test.each<[Rule["if"][number], string]>([
  [{ fact: "urgency", is: "urgent" }, "its urgency is “urgent”"],
  [{ fact: "words", over: 80 }, "its number of words is over 80"],
  [{ fact: "words", under: 80 }, "its number of words is under 80"],
  [{ field: "beds", empty: true }, "its Beds is empty"],
  [{ field: "beds", filled: true }, "its Beds is filled"],
  [{ field: "beds", "is-not": 12 }, "its Beds is not 12"],
  [{ field: "beds", is: "" }, "its Beds is empty"],
])("what must hold: %j", (one, words) => {
  expect(say({ when: { event: "piece.begun" }, if: [one], then: due })).toContain(`, if ${words}, then `);
});

test.each<[Rule["then"][number], string]>([
  [{ do: "assign", to: "least-busy:chief" }, "give it to the least busy who is Managing editor"],
  [{ do: "assign", to: "person:noor" }, "give it to Noor Castellan"],
  [{ do: "due", in: "4wh" }, "have it due 4 working hours later"],
  [{ do: "due", in: "1d" }, "have it due 1 day later"],
  [
    { do: "notify", to: ["author", "role:chief"], text: "{{piece.title}} is late." },
    "tell its author and everyone who is Managing editor “‹its title› is late”",
  ],
  [{ do: "set", field: "beds", to: "" }, "set its Beds to empty"],
  [{ do: "comment", text: "Look." }, "comment “Look”"],
  [{ do: "take", transition: "send" }, "take “Send for copy edit”"],
  [{ do: "call", url: "https://service.example/hook" }, "call https://service.example/hook"],
])("what it does: %j", (one, words) => {
  expect(say({ when: { event: "piece.begun" }, then: [one] })).toBe(`When a piece is begun, then ${words}.`);
});

test("words that go on for long are cut in the sentence, not in what is said", () => {
  const said = say({ when: { event: "piece.begun" }, then: [{ do: "comment", text: "word ".repeat(100) }] });
  expect(said.length).toBeLessThan(140);
  expect(said).toContain("…”");
});
