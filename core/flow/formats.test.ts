import { z } from "zod";
import { questionSchema } from "./forecast.ts";
import { staysSchema } from "./measure.ts";

const instant = z.number();
const question = questionSchema(instant);
const stays = staysSchema(instant);

const ASKED = {
  now: 1_000,
  runs: 100,
  seed: 7,
  states: [
    { state: "draft", takes: [60, 120] },
    { state: "check", takes: [30], capacity: 1 },
    { state: "live", takes: [] },
  ],
  pieces: [
    { id: "a", at: "draft", since: 900, publishAt: 2_000 },
    { id: "b", at: "check", since: 1_000 },
  ],
};
const STAYED = {
  format: "elenco.stays/1",
  from: 0,
  until: 1_000,
  stays: [
    { piece: "a", state: "draft", arrivedAt: 10, leftAt: 10 },
    { piece: "a", state: "check", arrivedAt: 10, back: true },
  ],
};

/** What is amiss with some input, each with where it stands. */
const amiss = (schema: z.ZodType, input: unknown): string[] =>
  schema.safeParse(input).error?.issues.map(({ path, message }) => `${path.join(".")}: ${message}`) ?? [];

test("a whole question, and whole stays, are read as they are", () => {
  expect(question.parse(ASKED)).toEqual(ASKED);
  expect(stays.parse(STAYED)).toEqual(STAYED);
});

const [draft, check, live] = ASKED.states;
const [first, second] = ASKED.pieces;

test.each<[string, object, string[]]>([
  ["no run", { runs: 0 }, ["runs: expected at least one run"]],
  ["half a run", { runs: 1.5 }, ["runs: Invalid input: expected int, received number"]],
  ["a stop alone", { states: [live], pieces: [] }, ["states: expected at least two stops"]],
  ["a stop twice", { states: [draft, check, draft] }, ["states: expected each stop once"]],
  ["a piece twice", { pieces: [first, first] }, ["pieces: expected each piece once"]],
  ["a piece at no stop of these", { pieces: [{ ...second, at: "desk" }] }, ["pieces.0.at: expected one of the stops"]],
  [
    "a piece that comes later",
    { pieces: [{ ...first, since: 1_001 }] },
    ["pieces.0.since: expected an instant not after now"],
  ],
  [
    "no place at a stop",
    { states: [draft, { ...check, capacity: 0 }, live] },
    ["states.1.capacity: expected at least one place"],
  ],
  [
    "a take below nothing",
    { states: [{ ...draft, takes: [-1] }, check, live] },
    ["states.0.takes.0: expected minutes"],
  ],
  [
    "more than can be drawn",
    { runs: 100_000, pieces: Array.from({ length: 200 }, (_, i) => ({ id: `p${i}`, at: "draft", since: 0 })) },
    ["runs: expected fewer runs: more than 50000000 takes would be drawn"],
  ],
  ["a word nobody knows", { fast: true }, [': Unrecognized key: "fast"']],
])("a question with %s is refused where that stands", (_, changed, expected) => {
  expect(amiss(question, { ...ASKED, ...changed })).toEqual(expected);
});

test.each<[string, object, string[]]>([
  ["of another format", { format: "elenco.stays/2" }, ['format: Invalid input: expected "elenco.stays/1"']],
  ["that end before they begin", { until: 0 }, ["until: expected an instant after from"]],
  [
    "of which one ends before it began",
    { stays: [{ piece: "a", state: "draft", arrivedAt: 10, leftAt: 9 }] },
    ["stays.0.leftAt: expected an instant not before arrivedAt"],
  ],
  ["without a key", { stays: [{ piece: "", state: "draft", arrivedAt: 10 }] }, ["stays.0.piece: expected a key"]],
  ["with a word nobody knows", { stays: [{ ...STAYED.stays[0], note: "x" }] }, ['stays.0: Unrecognized key: "note"']],
])("stays %s are refused where that stands", (_, changed, expected) => {
  expect(amiss(stays, { ...STAYED, ...changed })).toEqual(expected);
});
