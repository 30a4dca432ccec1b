import { eq } from "drizzle-orm";
import { workflowSource } from "#demo/setting.ts";
import { workflow, workflowRevision } from "#server/db/schema/index.ts";
import { bindWorkflow, importWorkflow } from "#server/workflows/commands.ts";
import { exportWorkflow, listBindings, listWorkflows } from "#server/workflows/queries.ts";
import { accepted, begin, codeOf, look, makeWorld, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const bring = (source: string, who = "ilda") => importWorkflow(world.act(who), source);

interface Loose {
  states: (Record<string, unknown> & { review: Record<string, unknown> })[];
  transitions: Record<string, unknown>[];
}

/** The hut page's workflow with something wrong in it. */
const changed = (change: (states: Loose["states"], transitions: Loose["transitions"]) => void) => {
  const document: Loose = JSON.parse(workflowSource("hut-page"));
  change(document.states, document.transitions);
  return JSON.stringify(document);
};

const put = (into: object | undefined, what: object) => void Object.assign(into ?? {}, what);

test.each([
  ["no JSON", "{", "The file is not JSON"],
  ["another format", JSON.stringify({ format: "elenco.people/1" }), "format:"],
  [
    "an unknown key of a state",
    changed((states) => put(states[0], { colour: "red" })),
    "states[0].colour: this key is not known here",
  ],
  [
    "an outcome that is no transition",
    changed((states) => put(states[1]?.review, { approve: "nowhere" })),
    'states[1].review.approve: there is no transition "nowhere"',
  ],
  [
    "a person who is not here",
    changed((states) => put(states[1]?.review, { seats: [{ person: "nobody" }] })),
    'states[1].review.seats[0]: there is no person "nobody" here',
  ],
  [
    "a role that is not here",
    changed((_, transitions) => put(transitions[0], { by: ["role:king"] })),
    'transitions[0].by[0]: there is no role "king" here',
  ],
  [
    "a length of work that is none",
    changed((states) => put(states[0], { take: "3 weeks" })),
    "states[0].take: expected a length",
  ],
  [
    "two states with one key",
    changed((states) => put(states[1], { key: "draft" })),
    'the key "draft" stands here a second time',
  ],
  ["a file beyond a megabyte", " ".repeat(1_000_001), "larger than 1 MB"],
])("%s is refused, with the place and what was expected", async (_, source, expected) => {
  const answer = await bring(source);
  expect(answer.ok ? [] : answer.refusal.missing?.join("\n")).toContain(expected);
});

test("importing the same again changes nothing; a change is the next revision, and pieces stay on theirs", async () => {
  expect(accepted(await bring(workflowSource("bulletin-item")))).toMatchObject({ revision: 1, changed: false });
  const { id } = await begin(world);
  const document = JSON.parse(workflowSource("bulletin-item"));
  document.states[0].name = "First words";
  expect(accepted(await bring(JSON.stringify(document)))).toMatchObject({ revision: 2, changed: true });
  const [revision] = await world.db
    .select({ number: workflowRevision.number })
    .from(workflowRevision)
    .where(eq(workflowRevision.id, (await look(world, id)).piece.workflowRevisionId));
  expect(revision?.number).toBe(1);
  expect(await exportWorkflow(world.db, "bulletin-item")).toMatchObject({
    states: expect.arrayContaining([expect.objectContaining({ name: "First words" })]),
  });
});

test("what is exported can be brought in again and is the same", async () => {
  for (const row of await listWorkflows(world.db, await world.viewer("ilda"))) {
    expect(accepted(await bring(JSON.stringify(await exportWorkflow(world.db, row.key))))).toMatchObject({
      changed: false,
    });
  }
});

test("the nearest choice applies, is inherited below, and only a configurer makes it", async () => {
  const [straight] = await world.db.select({ id: workflow.id }).from(workflow).where(eq(workflow.key, "straight-out"));
  const winter = world.id("section winter");
  const applies = async () => listBindings(await world.viewer("ilda")).find((one) => one.id === winter)?.applies;
  expect(await applies()).toMatchObject({ from: "Routes" });
  accepted(await bindWorkflow(world.act("ilda"), { sectionId: winter, workflowId: straight?.id ?? null }));
  expect(await applies()).toEqual({ workflowId: straight?.id, from: "Winter" });
  accepted(await bindWorkflow(world.act("ilda"), { sectionId: winter, workflowId: null }));
  expect(await applies()).toMatchObject({ from: "Routes" });
  expect(codeOf(await bindWorkflow(world.act("tobia"), { sectionId: winter, workflowId: null }))).toBe("not-granted");
  expect(codeOf(await bring(workflowSource("hut-page"), "sefa"))).toBe("not-granted");
  expect(codeOf(await bindWorkflow(world.act("ilda"), { sectionId: winter, workflowId: winter }))).toBe(
    "unknown-workflow",
  );
});
