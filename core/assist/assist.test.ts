import fc from "fast-check";
import { PUBLICATION, type Target } from "../access/decide.ts";
import type { Field } from "../text/field.ts";
import type { Content } from "../text/fields.ts";
import { fromMarkdown } from "../text/markdown.ts";
import { textOf } from "../text/plain.ts";
import type { State } from "../workflow/document.ts";
import { readAnswer } from "./answer.ts";
import { type Assistant, whyNotAsk } from "./asking.ts";
import { ERRAND_KEYS, sentOf } from "./errand.ts";

const FIELDS: Field[] = [
  { key: "standfirst", name: "Standfirst", type: "line", required: true, guidance: "At most 40 words." },
  { key: "notes", name: "Notes", type: "manuscript", required: false, free: true },
  { key: "secret", name: "For us", type: "line", required: false, free: true },
  { key: "body", name: "Text", type: "manuscript", required: true, maxWords: 90 },
  { key: "picture", name: "Picture", type: "image", required: false },
];
const CONTENT: Content = {
  title: "The stove",
  fields: {
    standfirst: "It draws again.",
    notes: fromMarkdown("Ask Ottavia whether she paid.").manuscript,
    secret: "from a warden we do not name",
    body: fromMarkdown("The stove **draws** again.\n\nBring kindling.").manuscript,
    picture: { file: "a".repeat(64), alt: "A stove", caption: "", credit: "O. Prell" },
  },
};

test("what is sent is the text, the brief and what its kind asks for; nothing for the workshop alone, no file, no name", () => {
  const sent = sentOf(FIELDS, CONTENT, { kind: "Bulletin item", brief: "Sixty words." });
  expect(sent).toEqual({
    title: "The stove",
    kind: "Bulletin item",
    brief: "Sixty words.",
    fields: [{ name: "Standfirst", guidance: "At most 40 words.", says: "It draws again." }],
    text: "The stove **draws** again.\n\nBring kindling.\n",
    words: 6,
    mostWords: 90,
  });
  expect(JSON.stringify(sent)).not.toMatch(/Ottavia|warden|Prell|aaaa/);
});

test("a kind without a text sends none", () => {
  expect(sentOf(FIELDS.slice(0, 1), CONTENT, { kind: "Slip", brief: "" })).toMatchObject({ text: "", mostWords: null });
});

const read = (errand: (typeof ERRAND_KEYS)[number], answer: unknown) => readAnswer(errand, JSON.stringify(answer));

test("a text comes as one, without its scripts, its heading and where its links would lead", () => {
  const answer = read("draft", {
    text: "# Release me\n\n<script>alert(1)</script>\n\nThe [way](javascript:alert(1)) begins here.",
    reasons: ["Because.", " ", "Because."],
    cost: "0.02 EUR",
    transition: "release",
  });
  expect(answer).toMatchObject({ brought: { reasons: ["Because."] }, cost: "0.02 EUR" });
  const written = JSON.stringify(answer);
  expect(written).toContain("The ");
  expect(written).not.toMatch(/alert|javascript|"transition"/);
  expect(written).toContain("Its heading “Release me” is not taken");
});

test.each<[string, (typeof ERRAND_KEYS)[number], unknown]>([
  ["another shape", "draft", [1, 2]],
  ["words for a text", "draft", { words: ["a"] }],
  ["a text of nothing", "outline", { text: " \n\n <script>x</script>" }],
  ["no words", "keywords", { words: [" ", ""] }],
  ["a text for words", "keywords", { text: "many words" }],
  ["too long a text", "draft", { text: "x".repeat(60_001) }],
  ["too many words", "keywords", { words: Array.from({ length: 41 }, (_, i) => `w${i}`) }],
  ["neither points nor reasons", "check", { points: [] }],
  ["points that are none", "check", { points: ["look"] }],
])("%s is no answer", (_, errand, answer) => {
  expect(read(errand, answer)).toMatchObject({ problem: "It answered nothing one could use." });
});

test("what is no JSON is no answer either", () => {
  expect(readAnswer("draft", "<p>Hello</p>")).toEqual({
    problem: "It answered nothing one could use.",
    cost: null,
  });
});

test("words come each once, and points with what they quote; to have nothing to say is an answer where it says why", () => {
  expect(read("keywords", { words: ["stove", " stove ", "kind\nling"] })).toMatchObject({
    brought: { words: ["stove", "kind ling"] },
  });
  expect(read("check", { points: [{ says: "Too long." }, { quote: "draws", says: "Does it?" }] })).toMatchObject({
    brought: {
      points: [
        { quote: null, says: "Too long." },
        { quote: "draws", says: "Does it?" },
      ],
    },
  });
  expect(read("check", { reasons: ["All of the brief is there."] })).toMatchObject({ brought: { points: [] } });
});

test("law: whatever comes back is an answer or a sentence, and never breaks", () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...ERRAND_KEYS),
      fc.oneof(
        fc.string(),
        fc.json(),
        fc.string().map((text) => JSON.stringify({ text, words: [text], points: [{ says: text }] })),
      ),
      (errand, json) => {
        const answer = readAnswer(errand, json);
        if ("problem" in answer) expect(answer.problem).not.toBe("");
        else if (answer.brought.manuscript) expect(textOf(answer.brought.manuscript).trim()).not.toBe("");
      },
    ),
  );
});

const grant = {
  id: "g",
  group: null,
  roleKey: "writer",
  roleName: "Writer",
  permissions: ["assistant.ask.own", "piece.edit.own", "piece.read.own"] as const,
  scope: { kind: "publication" } as const,
  from: null,
  until: null,
  publishFrom: null,
  publishUntil: null,
};
const tobia = { id: "tobia", key: "tobia", active: true, grants: [grant] };
const target = (authorId: string): Target => ({
  ...PUBLICATION,
  sectionIds: ["winter", "routes"],
  piece: {
    id: "p",
    authorId,
    private: false,
    publishAt: null,
    assigneeIds: [],
    seatedIds: [],
    viewers: ["anyone"],
    editors: ["author"],
  },
});
const draft = {
  key: "draft",
  name: "Draft",
  kind: "writing",
  editors: ["author"],
  viewers: ["anyone"],
} as unknown as State;
const review = { ...draft, name: "Copy edit", kind: "review" } as State;
const ON: Assistant = { name: "Quillmoor", on: true, sectionIds: null };

test.each<[string, Assistant | null, string, State, string | null]>([
  ["the author of a draft", ON, "tobia", draft, null],
  ["in a section below one named", { ...ON, sectionIds: ["routes"] }, "tobia", draft, null],
  ["in none named", { ...ON, sectionIds: ["huts"] }, "tobia", draft, "not-here"],
  ["where it is named for nowhere", { ...ON, sectionIds: [] }, "tobia", draft, "not-here"],
  ["switched off", { ...ON, on: false }, "tobia", draft, "no-assistant"],
  ["never named", null, "tobia", draft, "no-assistant"],
  ["a piece of somebody else's", ON, "noor", draft, "not-granted"],
  ["in a review", ON, "tobia", review, "not-writing"],
  ["a draft others write", ON, "tobia", { ...draft, editors: ["role:chief"] } as State, null],
])("who may ask: %s", (_, assistant, authorId, state, code) => {
  expect(whyNotAsk(assistant, tobia, { target: target(authorId), state }, 0)?.code ?? null).toBe(code);
});
