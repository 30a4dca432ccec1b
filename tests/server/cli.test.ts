import { execFile } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { main } from "../../cli/main.ts";

const guide = "demo/workflows/route-guide.json";
const folder = mkdtempSync(path.join(tmpdir(), "elenco-cli-"));
afterAll(() => rmSync(folder, { recursive: true }));

const file = (name: string, content: unknown) => {
  const at = path.join(folder, name);
  writeFileSync(at, typeof content === "string" ? content : JSON.stringify(content));
  return at;
};

interface Answer {
  code: number;
  out: string;
  err: string;
}

let last: Promise<unknown> = Promise.resolve();

/** Runs a command in this process, one after another: what it prints is caught on its way out. */
function elenco(...parameters: string[]): Promise<Answer> {
  const answer = last.then(() => caught(parameters));
  last = answer;
  return answer;
}

async function caught(parameters: string[]): Promise<Answer> {
  const { log, error } = console;
  const out: string[] = [];
  const err: string[] = [];
  console.log = (words: unknown) => void out.push(`${words}\n`);
  console.error = (words: unknown) => void err.push(`${words}\n`);
  try {
    const code = await main(parameters);
    return { code, out: out.join(""), err: err.join("") };
  } finally {
    Object.assign(console, { log, error });
  }
}

/** Runs the command line as a person does, in a process of its own. @param input what it reads from standard input */
function spawned(parameters: readonly string[], input = ""): Promise<Answer> {
  return new Promise((resolve) => {
    const command = ["--disable-warning=ExperimentalWarning", "--import", "tsx", "cli/elenco.ts", ...parameters];
    const child = execFile(
      process.execPath,
      command,
      { env: { ...process.env, NODE_OPTIONS: "" } },
      (error, out, err) => resolve({ code: Number(error?.code ?? 0), out, err }),
    );
    child.stdin?.end(input);
  });
}

test("as a program it reads standard input, answers on standard output alone, and ends with the exit code", async () => {
  const fine = await spawned(["convert", "-", "--to", "json"], readFileSync(guide, "utf8"));
  expect({ ...fine, out: JSON.parse(fine.out) }).toEqual({
    code: 0,
    err: "",
    out: JSON.parse(readFileSync(guide, "utf8")),
  });
  expect(await spawned(["check", "-", "--people", guide], "{")).toEqual({
    code: 2,
    out: "",
    err: expect.stringContaining("standard input: the document: expected JSON"),
  });
});

interface Case {
  name: string;
  workflow: unknown;
  people: unknown;
  expect: object[];
}
const { cases }: { cases: Case[] } = JSON.parse(
  readFileSync("core/workflow/checking/cases/workflow-findings.json", "utf8"),
);
const ROME = { timeZone: "Europe/Rome", week: { mon: [["09:00", "17:00"]] } };

test("check answers with the findings alone, and its exit code says whether one is an error", async () => {
  const chosen = cases.filter((_, i) => i === 0 || i === 6 || i === 9);
  const answers = await Promise.all(
    chosen.map((one, i) =>
      elenco("check", file(`w${i}.json`, one.workflow), "--people", file(`p${i}.json`, one.people), "--json"),
    ),
  );
  for (const [i, { code, out, err }] of answers.entries()) {
    const { findings } = JSON.parse(out) as { findings: { severity: string; message: string }[] };
    expect(findings.map(({ message, ...rest }) => rest)).toEqual(chosen[i]?.expect);
    expect(code).toBe(findings.some((finding) => finding.severity === "error") ? 1 : 0);
    expect(err).toBe("");
  }
});

test("convert goes from JSON to SCXML and back without a loss, and to Mermaid", async () => {
  const scxml = await elenco("convert", guide, "--to", "scxml");
  const [back, drawn] = await Promise.all([
    elenco("convert", file("guide.scxml", scxml.out), "--to", "json"),
    elenco("convert", guide, "--to", "mermaid"),
  ]);
  expect(JSON.parse(back.out)).toEqual(JSON.parse(readFileSync(guide, "utf8")));
  expect(drawn.out).toMatch(/^stateDiagram-v2\n/);
  expect([scxml.code, back.code, drawn.code]).toEqual([0, 0, 0]);
});

test("anchor answers where marks stand in a changed text, in their order", async () => {
  const { cases: anchors } = JSON.parse(readFileSync("core/text/cases/anchors.json", "utf8"));
  const [{ before, after, marks, expect: wanted }] = anchors;
  const { code, out } = await elenco(
    ...["anchor", "--before", file("before.md", before), "--after", file("after.md", after)],
    ...["--marks", file("marks.json", marks), "--json"],
  );
  expect(JSON.parse(out)).toEqual(wanted);
  expect(code).toBe(0);
});

test("spread answers with the moves that even a load out", async () => {
  const { cases: loads } = JSON.parse(readFileSync("core/people/cases/spread.json", "utf8"));
  const [{ people, items, expect: wanted }] = loads;
  const { code, out } = await elenco("spread", file("load.json", { people, items }), "--json");
  const { moves, over } = JSON.parse(out);
  expect({ code, over, moves: moves.length }).toEqual({ code: 0, ...wanted });
});

test("plan says by when each stop must be reached and left, when it will be, and what is to spare", async () => {
  const { calendars, cases: plans } = JSON.parse(readFileSync("core/time/cases/plan.json", "utf8"));
  const [{ workflow, calendar, at, since, now, publish, expect: wanted }] = plans;
  const given = [
    ...["plan", "--workflow", file("planned.json", workflow), "--calendar", file("hours.json", calendars[calendar])],
    ...["--publish", publish, "--json"],
  ];
  const begun = await elenco(...given, "--at", at, "--since", since, "--now", now);
  expect(begun.code).toBe(0);
  expect(JSON.parse(begun.out)).toEqual(wanted);
  const unbegun = JSON.parse((await elenco(...given)).out);
  expect(unbegun).toEqual({
    stops: wanted.stops.map(({ expected: _, ...stop }: { expected: string }) => stop),
  });
});

test("window answers when a wish leaves, and a batch with the spacing kept", async () => {
  const { windows, cases: wishes } = JSON.parse(readFileSync("core/release/cases/windows.json", "utf8"));
  const one = wishes.find((wish: { from: string[] }) => wish.from.length > 3);
  const given = ["window", "--windows", file("windows.json", windows[one.windows]), "--json"];
  const batch = await elenco(...given, "--batch", file("wishes.json", one.from));
  expect([batch.code, JSON.parse(batch.out)]).toEqual([0, one.leaves]);
  const [first] = wishes.filter((wish: { from: string[]; windows: number }) => wish.from.length === 1);
  const alone = await elenco(
    "window",
    "--windows",
    file("alone.json", windows[first.windows]),
    "--from",
    first.from[0],
    "--json",
  );
  expect(JSON.parse(alone.out)).toEqual({ leaves: first.leaves[0] });
});

test("what of a plain SCXML file could not be used is said apart from the answer", async () => {
  const plain = file(
    "plain.scxml",
    '<scxml xmlns="http://www.w3.org/2005/07/scxml" version="1.0"><datamodel/><state id="a"><transition event="go" target="b"/></state><final id="b"/></scxml>',
  );
  const { code, out, err } = await elenco("convert", plain, "--to", "json");
  expect(JSON.parse(out)).toMatchObject({ states: [{ key: "a" }, { key: "b", kind: "closed" }] });
  expect([code, err]).toEqual([0, `${plain}: line 1: <datamodel> is left out\n`]);
});

test.each([
  [
    "a mark outside the text",
    () => [
      ...["anchor", "--before", file("one.md", "One."), "--after", file("two.md", "Two.")],
      ...["--marks", file("far.json", [{ start: 2, end: 90 }])],
    ],
    "far.json: [0]: expected a run of the first text",
  ],
  [
    "a mark with impossible numbers",
    () => [
      ...["anchor", "--before", file("one.md", "One."), "--after", file("two.md", "Two.")],
      ...["--marks", file("odd.json", [{ start: -2, end: 1e300 }])],
    ],
    "odd.json: ",
  ],
  [
    "a load with one person twice",
    () => [
      "spread",
      file("twice.json", {
        people: [
          { key: "a", limit: 1 },
          { key: "a", limit: 2 },
        ],
        items: [],
      }),
    ],
    "twice.json: people[1]: expected a key of its own",
  ],
  [
    "a window that is never open",
    () => [
      "window",
      ...["--windows", file("never.json", { format: "elenco.windows/1", zone: "Europe/Rome", open: [] })],
      ...["--from", "2026-11-24T09:30Z"],
    ],
    "--from: nothing is open within 400 days",
  ],
  [
    "a wish that is no instant",
    () => [
      "window",
      ...["--windows", file("all.json", { format: "elenco.windows/1", zone: "Europe/Rome" }), "--from", "noon"],
    ],
    "--from: expected an instant such as 2026-11-24T09:30Z",
  ],
  [
    "a plan from beside the line",
    () => [
      "plan",
      ...["--workflow", guide, "--calendar", file("rome.json", ROME)],
      ...["--publish", "2026-12-01T09:00Z", "--at", "nowhere"],
    ],
    '--at: expected a stop of the main line, not "nowhere"',
  ],
  [
    "a workflow that is no JSON",
    () => ["check", file("bad.json", "{"), "--people", guide],
    "bad.json: the document: expected JSON",
  ],
  [
    "a workflow with a key that is not known",
    () => ["check", file("key.json", { ...(cases[0]?.workflow as object), owner: 1 }), "--people", guide],
    "key.json: owner: this key is not known here",
  ],
  [
    "people that are none",
    () => ["check", guide, "--people", guide],
    'route-guide.json: format: Invalid input: expected "elenco.people/1"',
  ],
  ["no people", () => ["check", guide], "--people: expected a file"],
  ["a form there is not", () => ["convert", guide, "--to", "pdf"], "--to: expected json, scxml, mermaid"],
  ["a file that is not there", () => ["convert", "nowhere.json", "--to", "json"], "nowhere.json: cannot be read"],
  [
    "an entity from elsewhere",
    () => ["convert", file("x.scxml", '<!DOCTYPE a SYSTEM "file:///etc/passwd"><scxml/>'), "--to", "json"],
    "a document type declaration is not accepted",
  ],
  ["a command there is not", () => ["paint"], 'There is no command "paint"'],
])("%s: exit code 2, nothing on standard output, and the message says where", async (_, parameters, message) => {
  const { code, out, err } = await elenco(...parameters());
  expect([code, out]).toEqual([2, ""]);
  expect(err).toContain(message);
});

test("rules answers with what is wrong with standing rules", async () => {
  const read = JSON.parse(readFileSync("core/rules/cases/rules.json", "utf8"));
  const [workflow, people] = [file("rw.json", read.workflow), file("rp.json", read.people)];
  const ask = (rules: unknown, ...more: string[]) =>
    elenco("rules", file("rules.json", rules), "--people", people, "--workflow", workflow, ...more);
  const faulty = await ask(read.cases[0].rules, "--json");
  expect(JSON.parse(faulty.out).findings).toMatchObject(read.cases[0].expect);
  expect(faulty.code).toBe(1);
  expect((await ask({ format: "elenco.rules/1", rules: [] })).out).toBe("Nothing was found.\n");
  const odd = await ask(
    '{"format":"elenco.rules/1","rules":[{"key":"a","name":"A","when":{"event":"piece.sung"},"then":[]}]}',
  );
  expect(odd).toMatchObject({ code: 2, out: "" });
  expect(odd.err).toMatch(/rules\.json: rules\[0\]\.when\.event: expected an event a rule can wait for/);
  expect((await elenco("rules", file("none.json", {}), "--people", people)).code).toBe(2);
});

interface Timed {
  calendars: unknown[];
  cases: { calendar: number; stays?: unknown; forecast?: unknown; expect: unknown }[];
}

test.each([
  ["flow", "stays", "states"],
  ["forecast", "forecast", "pieces"],
] as const)("%s answers as the core does, in the form others rely on", async (command, input, list) => {
  const { calendars, cases: all }: Timed = JSON.parse(readFileSync(`core/flow/cases/${command}.json`, "utf8"));
  const [one, other] = [all[0], all[3]];
  for (const each of [one, other]) {
    const calendar = file("hours.json", calendars[each?.calendar ?? 0]);
    const { code, out, err } = await elenco(command, file("in.json", each?.[input]), "--calendar", calendar, "--json");
    expect([code, err]).toEqual([0, ""]);
    expect(JSON.parse(out)).toEqual({ [list]: each?.expect });
  }
  const said = await elenco(command, file("in.json", one?.[input]), "--calendar", file("hours.json", calendars[0]));
  expect(said.out).toMatch(/85 of 100/);
});

test("flow and forecast name the file and the place where input is unusable", async () => {
  const calendar = file("rome.json", ROME);
  const stays = (more: object) => ({
    format: "elenco.stays/1",
    from: "2026-11-01T00:00Z",
    until: "2026-11-30T00:00Z",
    stays: [],
    ...more,
  });
  const stay = { piece: "p", state: "s", arrivedAt: "2026-11-03T00:00Z", leftAt: "2026-11-02T00:00Z" };
  const asked = {
    now: "2026-11-24T09:00Z",
    runs: 10,
    seed: 1,
    states: [
      { state: "a", takes: [] },
      { state: "z", takes: [] },
    ],
    pieces: [],
  };
  const tries: [string, string, object, RegExp][] = [
    ["flow", "a.json", stays({ until: "2026-10-01T00:00Z" }), /a\.json: until: expected an instant after from/],
    ["flow", "b.json", stays({ stays: [stay] }), /b\.json: stays\[0\]\.leftAt: expected an instant not before/],
    ["flow", "c.json", stays({ from: "0001-01-01T00:00Z" }), /forty years/],
    ["forecast", "d.json", { ...asked, runs: 0 }, /d\.json: runs: expected at least one run/],
    [
      "forecast",
      "e.json",
      { ...asked, pieces: [{ id: "p", at: "q", since: asked.now }] },
      /pieces\[0\]\.at: expected one of the stops/,
    ],
    [
      "forecast",
      "f.json",
      {
        ...asked,
        runs: 100_000,
        pieces: Array.from({ length: 9_999 }, (_, i) => ({ id: `${i}`, at: "a", since: asked.now })),
      },
      /f\.json: runs: expected fewer runs/,
    ],
  ];
  for (const [command, name, input, says] of tries) {
    const { code, err, out } = await elenco(command, file(name, input), "--calendar", calendar);
    expect([name, code, out]).toEqual([name, 2, ""]);
    expect(err).toMatch(says);
  }
});
