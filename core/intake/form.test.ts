import fc from "fast-check";
import type { Field } from "../text/field.ts";
import type { Content } from "../text/fields.ts";
import { missingIn } from "./completeness.ts";
import { fateOf } from "./fate.ts";
import { amended, answersOf, paragraphsOf, readAnswers, requestFormSchema } from "./form.ts";
import { intakeSettingsSchema, READY_INTAKE, tally } from "./ideas.ts";
import { type IntakeAct, SORTS, type Sort, STANDINGS, type Standing, whyNot } from "./item.ts";
import { takeOver } from "./taking.ts";

const field = (key: string, type: Field["type"], more: Partial<Field> = {}): Field => ({
  key,
  name: key.toUpperCase(),
  type,
  required: false,
  ...more,
});
const FIELDS = [
  field("body", "manuscript", { required: true, maxWords: 6 }),
  field("when", "date"),
  field("people", "number", { least: 1, unit: "beds" }),
  field("who", "line", { required: true, maxCharacters: 20 }),
  field("for", "choice", { options: ["walkers", "members"] }),
  field("more", "link"),
];
const read = (given: Record<string, string>, title = "A title") => readAnswers(FIELDS, title, given);
const content = (given: Record<string, string>): Content => {
  const done = read(given);
  if ("problems" in done) throw new Error(done.problems[0]?.sentence);
  return done.content;
};

test("a text of plain lines is paragraphs, however its lines end", () => {
  const said = (words: string) => paragraphsOf(words).content?.map((one: Content["fields"]) => JSON.stringify(one));
  expect(said("one\r\nline\r\n\r\n\r\nand another")).toEqual(said("one line\n\nand another"));
  expect(paragraphsOf("")).toEqual({ type: "doc", content: [{ type: "paragraph" }] });
});

test.each<[Record<string, string>, string[]]>([
  [{ body: "Three plain words", who: "Berta" }, []],
  [{}, ["BODY is empty", "WHO is empty"]],
  [{ body: "one two three four five six seven", who: "B" }, ["BODY has 7 words, at most 6 fit"]],
  [{ body: "one", who: "a name of far too many letters" }, ["WHO has 30 characters, at most 20 fit"]],
  [{ body: "one", who: "B", people: "0" }, ["PEOPLE is less than 1 beds"]],
  [{ body: "one", who: "B", for: "nobody" }, ["FOR is not among the choices"]],
])("what %j lacks is said: %j", (given, missing) => {
  expect(missingIn(FIELDS, content(given))).toEqual(missing);
});

test.each<[string, string, string]>([
  ["when", "next week", "WHEN: this is no date."],
  ["people", "many", "PEOPLE: this is no number."],
  ["more", "javascript:alert(1)", "MORE: an address begins with https://, mailto: or /."],
  ["body", "x".repeat(20_001), "BODY: this is longer than 20000 characters."],
])("what is no answer is refused at its field: %s %s", (key, words, sentence) => {
  const done = read({ [key]: words });
  expect(done).toEqual({ problems: [{ key, sentence }] });
});

test("nothing is asked for without a title, and what no field asks is left alone", () => {
  expect(read({}, " ")).toEqual({ problems: [{ key: "title", sentence: "A piece needs a title." }] });
  expect(content({ other: "x" }).fields).toEqual({});
});

test("law: what is read is shown as the same words, and read again is the same", () => {
  const plain = fc.stringMatching(/^[a-z]{1,8}( [a-z]{1,8}){0,3}(\n\n[a-z]{1,8}){0,2}$/);
  fc.assert(
    fc.property(plain, fc.stringMatching(/^[a-z]{1,20}$/), fc.integer({ min: 1, max: 900 }), (body, who, people) => {
      const given = { body, who, people: String(people), when: "2026-12-03", for: "members", more: "/read" };
      const once = content(given);
      expect(answersOf(FIELDS, once)).toEqual(given);
      expect(content(answersOf(FIELDS, once))).toEqual(once);
      expect(amended(FIELDS, once, once)).toEqual([]);
    }),
  );
});

test("an amendment is told field by field", () => {
  const [before, after] = [content({ who: "Berta" }), content({ who: "Carla", body: "New words" })];
  expect(amended(FIELDS, before, { ...after, title: "Another" })).toEqual([
    { name: "Title", was: "A title", is: "Another" },
    { name: "BODY", was: "", is: "New words" },
    { name: "WHO", was: "Berta", is: "Carla" },
  ]);
});

test("a piece begins with the answers its kind has fields for, and its brief says the others", () => {
  const kind = [field("body", "manuscript"), field("when", "line")];
  const taken = takeOver(FIELDS, content({ body: "Words", when: "2026-12-03", who: "Berta", people: "8" }), kind);
  expect(Object.keys(taken.fields)).toEqual(["body"]);
  expect(taken.brief).toBe("WHEN: 3 December 2026\nPEOPLE: 8 beds\nWHO: Berta");
  expect(takeOver(FIELDS, content({ body: "a\n\nb" }), []).brief).toBe("BODY:\na\n\nb");
});

test.each<[IntakeAct, Sort, Standing, string | null]>([
  ["take", "request", "waiting", null],
  ["take", "request", "asked", null],
  ["take", "request", "taken", "This became a piece meanwhile."],
  ["take", "report", "waiting", "This is not done with what a reader said."],
  ["correct", "report", "waiting", null],
  ["judge", "request", "waiting", "This is not done with a request."],
  ["reopen", "idea", "declined", null],
  ["reopen", "idea", "waiting", "This waits to be judged meanwhile."],
  ["amend-own", "request", "unconfirmed", null],
  ["amend-own", "request", "taken", "This became a piece meanwhile."],
  ["withdraw-own", "request", "declined", "This was declined meanwhile."],
])("whether %s is done with %s that is %s: %j", (act, sort, standing, why) => {
  expect(whyNot(act, { sort, standing })).toBe(why);
});

test("law: what is settled is only taken up again, and only when it was declined", () => {
  const acts: IntakeAct[] = [
    "take",
    "join",
    "decline",
    "ask",
    "answer",
    "correct",
    "give",
    "amend",
    "outline",
    "judge",
  ];
  for (const act of acts)
    for (const sort of SORTS)
      for (const standing of STANDINGS)
        if (standing !== "waiting" && standing !== "asked") expect(whyNot(act, { sort, standing })).not.toBeNull();
});

const NO_WORDS = { question: "", reason: "", corrected: null };
test.each<[Standing, { state: "writing" | "live" | "closed"; out: boolean } | null, string, string]>([
  ["unconfirmed", null, "Sent", "Your address is not confirmed yet: follow the link in our mail."],
  ["waiting", null, "Sent", "It is with us, and waits to be read."],
  ["asked", null, "Sent", "We asked you something back."],
  ["withdrawn", null, "Sent", "You took it back."],
  ["declined", null, "Read", "We cannot do it: "],
  ["answered", null, "Read", "We answered it."],
  ["taken", { state: "writing", out: false }, "In work", "It is being written."],
  ["joined", { state: "writing", out: false }, "In work", "It goes into something we were writing already."],
  ["taken", { state: "closed", out: false }, "In work", "We began it, and it was not finished."],
  ["taken", null, "In work", "We began it, and it was not finished."],
  ["taken", { state: "live", out: true }, "Out", "It is out."],
])("whoever asked sees of what is %s, its piece %j: %s, %s", (standing, piece, here, sentence) => {
  const fate = fateOf(standing, piece, NO_WORDS);
  expect(fate.stops.filter((one) => one.here).map((one) => one.name)).toEqual([here]);
  expect(fate.sentence).toBe(sentence);
});

test("what is asked back and why it was declined is said in the team's own words", () => {
  expect(fateOf("asked", null, { ...NO_WORDS, question: "How many?" }).sentence).toBe("How many?");
  expect(fateOf("declined", null, { ...NO_WORDS, reason: "Too late." }).sentence).toBe("We cannot do it: Too late.");
});

test.each([
  [false, "In work", "We are correcting it."],
  [true, "Out", "It is corrected."],
])("of a reader's word for a piece that is out, its correction out %s: %s, %s", (corrected, here, sentence) => {
  const fate = fateOf("taken", { state: "live", out: true }, { ...NO_WORDS, corrected });
  expect(fate.stops.filter((one) => one.here).map((one) => one.name)).toEqual([here]);
  expect(fate.sentence).toBe(sentence);
});

test("judgements are counted by answer, and answers there are no more count for nothing", () => {
  const [question] = READY_INTAKE.questions;
  if (!question) throw new Error("no question");
  const said = [{ readers: "many would" }, { readers: "many would" }, { readers: "gone" }, {}] as Record<
    string,
    string
  >[];
  expect(
    tally(
      question,
      said.map((answers) => ({ answers })),
    ),
  ).toEqual([
    { answer: "nobody would", count: 0 },
    { answer: "a few would", count: 0 },
    { answer: "many would", count: 2 },
  ]);
});

test("what is ready holds by the same schema as what a team agrees on", () => {
  expect(intakeSettingsSchema.parse(READY_INTAKE)).toEqual(READY_INTAKE);
});

test.each<[object, string]>([
  [{ lead: "soon" }, "lead"],
  [{ invited: ["nobody"] }, "invited"],
  [{ fields: [{ key: "a", name: "A", type: "image" }] }, "fields"],
  [{ name: "" }, "name"],
])("a form with %j is refused", (wrong, at) => {
  const form = { name: "F", fields: [], lead: null, promise: null, openTo: "anybody", invited: [] };
  const parsed = requestFormSchema.safeParse({ ...form, ...wrong });
  expect(parsed.error?.issues[0]?.path[0]).toBe(at);
});
