import { readFileSync } from "node:fs";
import fc from "fast-check";
import { readXml } from "../../words/xml.ts";
import { readShape, type Workflow } from "../document.ts";
import { toMermaid } from "./mermaid.ts";
import { type Document, fromScxml, toScxml } from "./scxml.ts";

const read = (json: unknown): Workflow => {
  const shape = readShape(json);
  if ("problems" in shape) throw new Error(JSON.stringify(shape.problems));
  return shape.workflow;
};

const ready = ["route-guide", "bulletin-item", "safety-notice", "magazine-feature", "hut-page", "straight-out"].map(
  (key): Document => JSON.parse(readFileSync(`demo/workflows/${key}.json`, "utf8")),
);

describe("SCXML", () => {
  test.each(ready.map((document) => [document.key, document] as const))("%s comes back as it was", (_, document) => {
    const back = fromScxml(toScxml(document));
    expect(back).toEqual({ document, leftOut: [] });
  });

  const text = fc.string({ unit: fc.constantFrom(..."aé日😀 &<>\"'\n\t\r:;"), minLength: 1, maxLength: 12 });
  const key = fc.stringMatching(/^[a-z0-9]+(-[a-z0-9]+)?$/, { maxLength: 8 } as never);
  const principals = fc.option(
    fc.array(fc.constantFrom("author", "anyone", "role:checker", "person:wim"), { maxLength: 3 }),
    { nil: undefined },
  );
  const random = fc
    .record({
      keys: fc.uniqueArray(key, { minLength: 1, maxLength: 5 }),
      names: fc.array(text, { minLength: 5, maxLength: 5 }),
      principals: fc.array(principals, { minLength: 5, maxLength: 5 }),
      checklist: fc.option(fc.array(text, { maxLength: 3 }), { nil: undefined }),
      description: fc.option(text, { nil: undefined }),
      count: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined }),
      mayDecide: fc.option(fc.boolean(), { nil: undefined }),
      from: fc.option(fc.constantFrom("2026-01-01"), { nil: undefined }),
      steps: fc.array(fc.tuple(fc.nat(4), fc.nat(4), fc.nat(4)), { minLength: 1, maxLength: 6 }),
    })
    .map(({ keys, names, principals, checklist, description, count, mayDecide, from, steps }): Document => {
      const at = (n: number) => keys[n % keys.length] as string;
      const given = <T extends object>(value: T) =>
        Object.fromEntries(Object.entries(value).filter(([, part]) => part !== undefined)) as T;
      return given({
        format: "elenco.workflow/1" as const,
        key: at(0),
        name: `W${names[0]}`,
        purpose: description,
        effective: from && { from },
        initial: at(0),
        mainLine: [...keys],
        states: keys.map((state, i) =>
          given({
            key: state,
            name: `S${names[i]}`,
            kind: i === 1 ? ("review" as const) : ("writing" as const),
            description,
            editors: principals[i],
            arrival: checklist && { checklist },
            review:
              i === 1
                ? given({
                    rule: "any" as const,
                    count,
                    authorMayDecide: mayDecide,
                    seats: [{ person: "wim" }, given({ role: "checker", pick: "everyone" as const, number: count })],
                    approve: "t0",
                    return: "t0",
                    remind: ["1wd", "2h"],
                    overdue: { after: "1wd", do: "escalate" as const, to: "role:chief" },
                  })
                : undefined,
          }),
        ),
        transitions: steps.map(([a, b, c], i) =>
          given({
            key: `t${i}`,
            name: `T${names[i % 5]}`,
            from: a % keys.length === c % keys.length ? [at(a)] : [at(c), at(a)],
            to: at(b),
            by: principals[i % 5],
            requires: i === 0 ? ["note" as const, "fields" as const] : undefined,
          }),
        ),
      }) as Document;
    });

  test("nothing is lost on the way there and back, whatever the texts hold", () =>
    fc.assert(
      fc.property(random, (document) => {
        expect(fromScxml(toScxml(document))).toEqual({ document, leftOut: [] });
      }),
    ));

  test("a plain file comes in as far as it goes, and says what it could not use", () => {
    const back = fromScxml(`<scxml xmlns="http://www.w3.org/2005/07/scxml" version="1.0" initial="work">
  <datamodel><data id="x"/></datamodel>
  <state id="work" initial="first">
    <transition event="stop.now" target="over" cond="x &gt; 1"/>
    <state id="first"><onentry><log expr="'hi'"/></onentry><transition event="goOn" target="second"/></state>
    <state id="second"><transition target="nowhere"/></state>
  </state>
  <final id="over"/>
</scxml>`);
    if ("problem" in back) throw new Error(back.problem);
    expect(read(back.document)).toMatchObject({
      initial: "first",
      states: [
        { key: "first", name: "First", kind: "writing" },
        { key: "second", kind: "writing" },
        { key: "over", kind: "closed" },
      ],
      transitions: [
        { name: "Stop now", from: ["first", "second"], to: "over" },
        { name: "Go on", from: ["first"], to: "second" },
      ],
    });
    expect(back.leftOut).toEqual([
      'line 4: the condition "x > 1" is left out',
      "line 5: <onentry> is left out",
      'line 6: a transition to "nowhere", which is not there, is left out',
      "line 2: <datamodel> is left out",
    ]);
  });

  test.each([
    ["entities that grow", `<!DOCTYPE a [<!ENTITY b "bb"><!ENTITY c "&b;&b;">]><scxml>&c;</scxml>`, "document type"],
    ["an entity from elsewhere", `<!DOCTYPE a SYSTEM "file:///etc/passwd"><scxml/>`, "document type"],
    ["an entity of its own", `<scxml xmlns="http://www.w3.org/2005/07/scxml">&x;</scxml>`, "line 1"],
    ["no XML", "{}", "line 1"],
    ["another root", "<svg/>", "expected the element scxml"],
    ["depth without end", "<a>".repeat(5000), "nested more than"],
  ])("%s is refused, with the line", (_, source, expected) => {
    const back = fromScxml(source);
    expect("problem" in back && back.problem).toContain(expected);
  });

  test("a control character is refused rather than lost", () => {
    expect(() => toScxml({ ...(ready[0] as Document), name: "a\u0001b" })).toThrow(/control character/);
  });

  test("no text whatever makes the reader throw", () =>
    fc.assert(
      fc.property(
        fc.oneof(fc.string(), fc.string({ unit: fc.constantFrom(..."<>/&;a=\"'![]-? ") })),
        (source) => void readXml(source),
      ),
    ));
});

test("Mermaid names every state and step, whatever their names hold", () => {
  const [document] = ready as [Document];
  const workflow = read({
    ...document,
    states: document.states.map((state) => ({ ...state, name: `${state.name}: "a" #;` })),
  });
  const drawn = toMermaid(workflow);
  expect(drawn).toContain('state "Draft#58; #34;a#34; #35;#59;" as s1');
  expect(drawn).toContain("  [*] --> s1\n");
  expect(drawn.match(/ --> /g)).toHaveLength(1 + document.transitions.flatMap((step) => step.from).length + 1);
});
