import fc from "fast-check";
import { type Workflow, workflowSchema } from "../workflow/document.ts";
import { contradict, holds } from "./conditions.ts";
import { type Condition, type Rule, ruleSchema } from "./document.ts";
import { circles, setsOff } from "./loops.ts";
import { allHold, byEvent, type Facts, type Happened, isMeant } from "./match.ts";

const STATES = ["draft", "check", "ready"];
const workflow: Workflow = workflowSchema.parse({
  format: "elenco.workflow/1",
  key: "item",
  name: "Item",
  initial: "draft",
  mainLine: STATES,
  states: STATES.map((key) => ({ key, name: key, kind: "writing" })),
  transitions: STATES.flatMap((to) => [{ key: `to-${to}`, name: to, from: STATES, to, by: ["anyone"] }]),
});

const state = fc.constantFrom(...STATES);
const field = fc.constantFrom("season", "grade");
const value = fc.constantFrom("", "a", "b");
const when = fc.oneof(
  fc.record({ event: fc.constant("piece.arrived"), state }, { requiredKeys: ["event"] }),
  fc.record({ event: fc.constant("piece.changed"), field }, { requiredKeys: ["event"] }),
  fc.record({ event: fc.constantFrom("comment.made", "piece.assigned", "due.passed") }),
);
const condition = fc.oneof(
  fc.record({ field, is: value }),
  fc.record({ field, "is-not": value }),
  fc.record({ field, filled: fc.constant(true) }),
  fc.record({ field, empty: fc.constant(true) }),
);
const action = fc.oneof(
  fc.record({ do: fc.constant("take"), transition: state.map((one) => `to-${one}`) }),
  fc.record({ do: fc.constant("set"), field, to: value }),
  fc.constant({ do: "comment", text: "Look." }),
  fc.constant({ do: "assign", to: "author" }),
  fc.constant({ do: "due", in: "2wd" }),
);
const rules = fc
  .array(
    fc.record({
      on: fc.boolean(),
      when,
      if: fc.array(condition, { maxLength: 2 }),
      then: fc.array(action, { minLength: 1, maxLength: 3 }),
    }),
    { maxLength: 6 },
  )
  .map((some) => some.map((one, i): Rule => ruleSchema.parse({ key: `r${i}`, name: `Rule ${i}`, ...one })));

/** What an action does to a piece of this world, and what of it rules may hear. */
function carryOut(one: Rule["then"][number], piece: Facts, at: string): { piece: Facts; at: string; made: Happened[] } {
  const base = { workflow: "item", sections: [], kind: "k" };
  if (one.do === "take")
    return {
      piece,
      at: one.transition.slice(3),
      made: [{ ...base, event: "piece.arrived", state: one.transition.slice(3) }],
    };
  if (one.do === "set")
    return {
      piece: { ...piece, fields: { ...piece.fields, [one.field]: one.to } },
      at,
      made: [{ ...base, event: "piece.changed", fields: [one.field] }],
    };
  if (one.do === "comment") return { piece, at, made: [{ ...base, event: "comment.made" }] };
  if (one.do === "assign") return { piece, at, made: [{ ...base, event: "piece.assigned" }] };
  return { piece, at, made: [] };
}

const first = fc.record({
  urgency: fc.constant("normal"),
  words: fc.nat(100),
  fields: fc.record({ season: value, grade: value }),
});
const beginnings: Happened[] = [
  { event: "piece.arrived", state: "draft", workflow: "item", sections: [], kind: "k" },
  { event: "piece.changed", fields: ["season"], workflow: "item", sections: [], kind: "k" },
  { event: "comment.made", workflow: "item", sections: [], kind: "k" },
];

test("under any rules a chain ends, each rule acting at most once", () => {
  fc.assert(
    fc.property(rules, first, fc.constantFrom(...beginnings), (some, piece, begun) => {
      const by = byEvent(some);
      const acted = new Set<string>();
      let [now, at] = [piece as Facts, "draft"];
      const waiting = [begun];
      for (const happened of waiting)
        for (const rule of by.get(happened.event) ?? []) {
          if (acted.has(rule.key) || !isMeant(rule, happened) || !allHold(rule, now)) continue;
          acted.add(rule.key);
          for (const one of rule.then) {
            const done = carryOut(one, now, at);
            [now, at] = [done.piece, done.at];
            waiting.push(...done.made);
          }
        }
      expect(waiting.length).toBeLessThanOrEqual(1 + some.length * 3);
    }),
  );
});

test("rules without a circle end by themselves, without being held to once", () => {
  fc.assert(
    fc.property(rules, first, fc.constantFrom(...beginnings), (some, piece, begun) => {
      fc.pre(circles(some, [workflow]).length === 0);
      let [now, at] = [piece as Facts, "draft"];
      const waiting = [begun];
      for (const happened of waiting) {
        // Each event's rules are judged by the piece as the event left it, as if nothing else went on.
        for (const rule of some) {
          if (!rule.on || !isMeant(rule, happened) || !allHold(rule, now)) continue;
          for (const one of rule.then) {
            const done = carryOut(one, now, at);
            [now, at] = [done.piece, done.at];
            waiting.push(...done.made);
          }
        }
        if (waiting.length > 5_000) throw new Error("it does not end");
      }
    }),
  );
});

test("a circle that is named is one, as short as any in it, and each rule that can come back to itself lies in one", () => {
  fc.assert(
    fc.property(rules, (some) => {
      const on = some.filter((rule) => rule.on);
      const next = setsOff(on, [workflow]);
      const reach = on.map((_, from) => {
        const length = new Map<number, number>();
        const waiting = (next[from] ?? []).map((to) => ({ to, steps: 1 }));
        for (const { to, steps } of waiting) {
          if (length.has(to)) continue;
          length.set(to, steps);
          waiting.push(...(next[to] ?? []).map((one) => ({ to: one, steps: steps + 1 })));
        }
        return length;
      });
      const found = circles(some, [workflow]);
      const placeOf = (key: string | undefined) => on.findIndex((rule) => rule.key === key);
      for (const keys of found) {
        for (const [i, key] of keys.entries())
          expect(next[placeOf(key)]).toContain(placeOf(keys[(i + 1) % keys.length]));
        expect(keys[0]).toBe([...keys].sort()[0]);
        const together = on.flatMap((_, i) =>
          reach[placeOf(keys[0])]?.has(i) && reach[i]?.has(placeOf(keys[0])) ? [i] : [],
        );
        expect(keys).toHaveLength(Math.min(...together.map((i) => reach[i]?.get(i) ?? Infinity)));
      }
      const back = on.filter((_, i) => reach[i]?.has(i));
      for (const rule of back)
        expect(
          found.some(
            ([one]) =>
              one === rule.key ||
              (reach[placeOf(rule.key)]?.has(placeOf(one)) && reach[placeOf(one)]?.has(placeOf(rule.key))),
          ),
        ).toBe(true);
    }),
  );
});

const numeric = fc.oneof(
  fc.record({ fact: fc.constant("words" as const), over: fc.integer({ min: -2, max: 12 }) }),
  fc.record({ fact: fc.constant("words" as const), under: fc.integer({ min: -2, max: 12 }) }),
  fc.record({ fact: fc.constant("words" as const), "is-not": fc.integer({ min: 0, max: 10 }) }),
  fc.record({ fact: fc.constant("words" as const), is: fc.integer({ min: 0, max: 10 }) }),
);

test("what cannot hold together is what no number of words satisfies", () => {
  fc.assert(
    fc.property(fc.array(numeric, { minLength: 1, maxLength: 6 }), (some: Condition[]) => {
      const numbers = Array.from({ length: 40 }, (_, i) => i);
      expect(contradict(some)).toBe(!numbers.some((words) => some.every((one) => holds(one, words))));
    }),
  );
});

const ofField = fc.oneof(
  fc.record({ field: fc.constant("grade"), is: fc.constantFrom("", "a", "b", 3) }),
  fc.record({ field: fc.constant("grade"), "is-not": fc.constantFrom("", "a", "b", 3, 4) }),
  fc.record({ field: fc.constant("grade"), filled: fc.constant(true as const) }),
  fc.record({ field: fc.constant("grade"), empty: fc.constant(true as const) }),
  fc.record({ field: fc.constant("grade"), over: fc.integer({ min: 0, max: 5 }) }),
  fc.record({ field: fc.constant("grade"), under: fc.integer({ min: 0, max: 5 }) }),
);

test("of a field it is what nothing, no word and no number satisfies", () => {
  fc.assert(
    fc.property(fc.array(ofField, { minLength: 1, maxLength: 5 }), (some: Condition[]) => {
      const values = [undefined, "a", "b", "c", ...Array.from({ length: 81 }, (_, i) => (i - 8) / 8)];
      expect(contradict(some)).toBe(!values.some((one) => some.every((condition) => holds(condition, one))));
    }),
  );
});
