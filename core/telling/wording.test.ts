import { FIELDS, type Field, type FieldValues, faultsIn, fill, fillLine, READY_WORDING, WORDED } from "./wording.ts";

const ALL = Object.keys(FIELDS) as Field[];
const values = (some: Partial<FieldValues>): FieldValues => ({
  ...(Object.fromEntries(ALL.map((field) => [field, ""])) as FieldValues),
  what: "“Night trains” waits on you",
  ...some,
});

test.each<[string, string, [number, number, string][]]>([
  ["nothing", "", []],
  ["plain words", "Good morning.", []],
  ["every field", ALL.map((field) => `{{${field}}} {{{${field}}}} {{& ${field} }}`).join("\n"), []],
  ["a part with and without", "{{#note}}“{{note}}”{{/note}}{{^note}}no word{{/note}}", []],
  ["a remark to oneself", "{{! for later }}{{what}}", []],
  ["an unknown field", "Hello,\n  {{titel}}", [[2, 3, "{{titel}} is no field of this notice."]]],
  [
    "two of them",
    "{{a}} {{b}}",
    [
      [1, 1, "{{a}} is no field of this notice."],
      [1, 7, "{{b}} is no field of this notice."],
    ],
  ],
  ["what every object has", "{{constructor}}", [[1, 1, "{{constructor}} is no field of this notice."]]],
  ["a part of a field", "{{piece.title}}", [[1, 1, "{{piece.title}} is no field of this notice."]]],
  ["the whole", "{{.}}", [[1, 1, "{{.}} is no field of this notice."]]],
  ["an empty one", "{{}}", [[1, 1, "{{}} is no field of this notice."]]],
  ["an open brace", "It is {{what\nand so on", [[1, 7, "{{ is not closed by }}."]]],
  ["an open part", "{{what}}\n{{#note}} {{note}}", [[2, 1, "{{#note}} is not closed by {{/note}}."]]],
  [
    "parts across each other",
    "{{#note}}{{#more}}{{/note}}{{/more}}",
    [[1, 10, "{{#more}} is not closed by {{/more}}."]],
  ],
  ["a part closed twice", "{{#note}}{{/note}} {{/note}}", [[1, 20, "{{/note}} closes nothing."]]],
  ["another template", "{{> other}}", [[1, 1, "Only fields stand between {{ and }}."]]],
  ["other braces", "{{=<% %>=}}", [[1, 1, "Only fields stand between {{ and }}."]]],
  [
    "an unknown part around an unknown field",
    "{{#x}}{{y}}{{/x}}",
    [
      [1, 1, "{{x}} is no field of this notice."],
      [1, 7, "{{y}} is no field of this notice."],
    ],
  ],
])("a template with %s", (_, template, faults) => {
  expect(faultsIn(template, ALL)).toEqual(faults.map(([line, column, sentence]) => ({ line, column, sentence })));
});

test("a field a notice does not have is none of its template", () => {
  expect(faultsIn("{{note}}", ["what"])).toHaveLength(1);
});

test("the ready-made words have no fault, say what happened and lose nothing that was written with it", () => {
  for (const place of WORDED) {
    const { headline, body } = READY_WORDING[place];
    expect([...faultsIn(headline, ALL), ...faultsIn(body, ALL)]).toEqual([]);
    const said = values({ note: "Mind the date.", more: "Ada sits for Bo now." });
    expect(fill(headline, said)).toBe(said.what);
    expect(fill(body, said)).toContain("Mind the date.");
    if (place !== "app") expect(fill(body, said)).toBe(`${said.what}.\n\n“Mind the date.”\n\nAda sits for Bo now.`);
  }
});

test("what stands in a field is said as it is: neither read as a template nor escaped", () => {
  const said = values({ note: "{{what}} <script>alert(1)</script> & {{#note}}" });
  expect(fill("{{note}}", said)).toBe(said.note);
});

test("an endless part says its words once, and what is long is cut", () => {
  const said = values({ note: "n".repeat(50_000) });
  expect(fill("{{#note}}a{{/note}}", said)).toBe("a");
  expect(fill("{{note}}".repeat(200), said).length).toBe(10_000);
  expect(fill(`${"{{#what}}".repeat(200)}x${"{{/what}}".repeat(200)}`, said)).toBe("x");
});

test("a line stays a line", () => {
  expect(fillLine("{{what}}\n{{note}}", values({ what: "A\r\nBcc: x", note: "b" }))).toBe("A Bcc: x b");
});
