import { desc, eq } from "drizzle-orm";
import type { Workflow } from "#core/workflow/document.ts";
import { changeState } from "#core/workflow/editing/edit.ts";
import { STARTING_POINTS } from "#core/workflow/editing/starting-points.ts";
import { putWorkflowInUse } from "#demo/seed.ts";
import { workflowSource } from "#demo/setting.ts";
import { accessGrant, ledger, workflow, workflowAdoption, workflowRevision } from "#server/db/schema/index.ts";
import { cancelPlanned, carryOutAdoption, putInUse } from "#server/workflows/adopt.ts";
import { bindWorkflow, deleteWorkflow, retireWorkflow, reviveWorkflow } from "#server/workflows/bindings.ts";
import { discardCopy, IDLE, saveCopy, startCopy, takeOver } from "#server/workflows/copies.ts";
import { exportWorkflow, listBindings, listWorkflows, openStudio } from "#server/workflows/queries.ts";
import { accepted, begin, codeOf, DAY, heard, look, MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const NOTHING = { states: {}, pieces: {} };
const bring = (source: string, who = "ilda") => startCopy(world.act(who), { from: "file", source });
const studio = async (key: string, who = "ilda", now = MORNING) =>
  openStudio(world.db, await world.viewer(who, now), key);
const documentOf = async (key: string) => (await exportWorkflow(world.db, key)) as Workflow;

/** A workflow of a test's own, in use. */
async function ready(name: string): Promise<string> {
  const { key } = accepted(await startCopy(world.act("ilda"), { from: "ready", key: "second-pair-of-eyes", name }));
  accepted(await putInUse(world.act("ilda"), { key, revision: 1, choices: NOTHING, acknowledged: [], at: null }));
  return key;
}

async function idOf(key: string): Promise<string> {
  const [row] = await world.db.select({ id: workflow.id }).from(workflow).where(eq(workflow.key, key));
  return row?.id ?? "";
}

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
  ["neither JSON nor SCXML", "{", "neither JSON nor SCXML"],
  ["another format", JSON.stringify({ format: "elenco.people/1" }), "format:"],
  [
    "an unknown key of a state",
    changed((states) => put(states[0], { colour: "red" })),
    "states[0].colour: this key is not known here",
  ],
  [
    "a length of work that is none",
    changed((states) => put(states[0], { take: "3 weeks" })),
    "states[0].take: expected a length",
  ],
  [
    "a key with strange characters",
    changed((states) => put(states[0], { key: "Größe 1" })),
    "states[0].key: expected a key",
  ],
  [
    "a review that is none",
    changed((states) => put(states[0], { kind: "review" })),
    "states[0].review: a state of kind review needs",
  ],
  [
    "ten thousand states",
    changed((states) => {
      for (let i = 0; i < 10_000; i++) states.push({ key: `s${i}`, name: "S", kind: "parked" } as never);
    }),
    "states: expected at most 5000 states",
  ],
  [
    "a main line through nowhere",
    JSON.stringify({ ...JSON.parse(workflowSource("hut-page")), mainLine: ["draft", "x"] }),
    'mainLine[1]: there is no state "x"',
  ],
  ["a file beyond a megabyte", " ".repeat(1_000_001), "larger than 1 MB"],
  ["XML that is a bomb", '<!DOCTYPE a [<!ENTITY b "bb">]><scxml>&b;</scxml>', "document type declaration"],
])("%s is refused, with the place and what was expected", async (_, source, expected) => {
  const answer = await bring(source);
  expect(answer.ok ? [] : answer.refusal.missing?.join("\n")).toContain(expected);
});

test("every ready-made beginning is sound for the people of the demo, and can be put in use", async () => {
  for (const { key, name } of STARTING_POINTS) {
    const begun = accepted(await startCopy(world.act("ilda"), { from: "ready", key, name: `Our ${name}` }));
    const acknowledged = key === "typing-errors" ? ["unreviewed-release null"] : [];
    const waiting = key === "signed-in-order" ? ['no-stand-in {"state":"signatures"}'] : [];
    const wanted = {
      key: begun.key,
      revision: 1,
      choices: NOTHING,
      acknowledged: [...acknowledged, ...waiting],
      at: null,
    };
    expect(accepted(await putInUse(world.act("ilda"), wanted))).toMatchObject({ revision: 1 });
  }
});

test("what is exported can be brought in again and is the same", async () => {
  for (const row of await listWorkflows(world.db, await world.viewer("ilda"))) {
    accepted(await bring(JSON.stringify(row.document)));
    expect((await studio(row.key))?.copy?.document).toEqual(row.document);
    accepted(await discardCopy(world.act("ilda"), row.key));
  }
});

describe("a working copy", () => {
  test("begins with the first change, is kept, and a stale change is refused", async () => {
    const key = await ready("Kept");
    const document = await documentOf(key);
    const named = { ...document, name: "Kept well" };
    expect(accepted(await saveCopy(world.act("ilda"), { key, document: named, revision: 0 }))).toEqual({ revision: 1 });
    expect(codeOf(await saveCopy(world.act("ilda"), { key, document, revision: 0 }))).toBe("stale");
    expect(await studio(key)).toMatchObject({
      name: "Kept",
      copy: { revision: 1, mine: true, document: { name: "Kept well" } },
    });
    expect(codeOf(await saveCopy(world.act("ilda"), { key, document: { ...document, extra: 1 }, revision: 1 }))).toBe(
      "malformed",
    );
  });

  test("has one holder; another waits, takes it over and they are told, or finds it idle", async () => {
    await world.db.insert(accessGrant).values({
      id: world.id("sefa"),
      personId: world.id("sefa"),
      roleId: (await chiefRole()) ?? "",
      scope: "publication",
    });
    const key = await ready("Held");
    const document = await documentOf(key);
    const change = { ...document, purpose: "Ilda's words" };
    accepted(await saveCopy(world.act("ilda"), { key, document: change, revision: 0 }));
    const refused = await saveCopy(world.act("sefa"), { key, document: change, revision: 1 });
    expect(refused).toMatchObject({ refusal: { code: "held", who: ["Ilda Marenzi"] } });
    accepted(await takeOver(world.act("sefa"), key));
    expect(codeOf(await saveCopy(world.act("ilda"), { key, document, revision: 1 }))).toBe("held");
    expect((await heard(world, "ilda"))[0]?.headline).toContain("Sefa Okonro took over the working copy of “Held”");
    expect((await studio(key))?.copy?.document.purpose).toBe("Ilda's words");
    const later = world.act("ilda", MORNING + IDLE + 1);
    accepted(await saveCopy(later, { key, document, revision: 1 }));
    accepted(await discardCopy(later, key));
    expect((await studio(key))?.copy).toBeNull();
  });

  test("of a workflow never in use takes the workflow with it when it is thrown away", async () => {
    const { key } = accepted(await startCopy(world.act("ilda"), { from: "empty", name: "Nothing yet" }));
    expect(accepted(await discardCopy(world.act("ilda"), key))).toEqual({ gone: true });
    expect(await studio(key)).toBeNull();
  });

  test("that names what is not there is refused, as no studio sends it; people who are gone are let through and found", async () => {
    const key = await ready("Forged");
    const document = await documentOf(key);
    const save = (what: unknown) => saveCopy(world.act("ilda"), { key, document: what, revision: 0 });
    expect(codeOf(await save({ ...document, mainLine: ["draft", "nowhere"] }))).toBe("malformed");
    expect(codeOf(await save({ ...document, states: [...document.states, document.states[0]] }))).toBe("malformed");
    expect(codeOf(await save(null))).toBe("malformed");
    const gone = changeState(document, "draft", { editors: ["role:nobody-has-it"] });
    accepted(await save(gone));
    const wanted = { key, revision: 1, choices: NOTHING, acknowledged: [], at: null };
    expect(await putInUse(world.act("ilda"), wanted)).toMatchObject({
      refusal: { code: "unsound", missing: [expect.stringContaining('there is no role "nobody-has-it" here')] },
    });
  });

  test.each(["tobia", "kai"])("is not for %s to begin, change, put in use, bind or delete", async (who) => {
    const act = world.act(who);
    const answers = [
      await startCopy(act, { from: "empty", name: "Mine" }),
      await saveCopy(act, { key: "hut-page", document: {}, revision: 0 }),
      await takeOver(act, "hut-page"),
      await discardCopy(act, "hut-page"),
      await putInUse(act, { key: "hut-page", revision: 1, choices: NOTHING, acknowledged: [], at: null }),
      await cancelPlanned(act, "hut-page"),
      await bindWorkflow(act, { scope: "section", scopeId: world.id("section winter"), workflowId: null }),
      await retireWorkflow(act, "hut-page"),
      await reviveWorkflow(act, "hut-page"),
      await deleteWorkflow(act, "hut-page"),
    ];
    expect(answers.map(codeOf)).toEqual(answers.map(() => "not-granted"));
  });
});

async function chiefRole(): Promise<string | undefined> {
  const [grant] = await world.db
    .select()
    .from(accessGrant)
    .where(eq(accessGrant.personId, world.id("ilda")));
  return grant?.roleId;
}

describe("putting in use", () => {
  test("is refused while there is an error, or a warning nobody acknowledged; what was acknowledged stays on record", async () => {
    const key = await ready("Judged");
    const document = await documentOf(key);
    const stuck = {
      ...document,
      states: [...document.states, { ...(document.states[0] as never as object), key: "limbo", name: "Limbo" }],
    };
    accepted(await saveCopy(world.act("ilda"), { key, document: stuck, revision: 0 }));
    const wanted = { key, choices: NOTHING, acknowledged: [], at: null };
    expect(await putInUse(world.act("ilda"), { ...wanted, revision: 1 })).toMatchObject({
      refusal: { code: "unsound", missing: [expect.stringContaining("Limbo"), expect.stringContaining("Limbo")] },
    });
    const past = {
      ...document,
      transitions: [
        ...document.transitions,
        { key: "rush", name: "Rush", from: ["draft"], to: "live", by: ["role:chief"] },
      ],
    };
    accepted(await saveCopy(world.act("ilda"), { key, document: past, revision: 1 }));
    const answer = await putInUse(world.act("ilda"), { ...wanted, revision: 2 });
    expect(answer).toMatchObject({ refusal: { code: "unacknowledged" } });
    const acknowledged = answer.ok ? [] : (answer.refusal.keys ?? []);
    expect(codeOf(await putInUse(world.act("ilda"), { ...wanted, revision: 1, acknowledged }))).toBe("stale");
    expect(accepted(await putInUse(world.act("ilda"), { ...wanted, revision: 2, acknowledged }))).toMatchObject({
      revision: 2,
    });
    expect((await studio(key))?.inUse?.acknowledged).toEqual([
      "A text can reach readers past every review: Draft, Live.",
    ]);
    const [entry] = await world.db
      .select()
      .from(ledger)
      .where(eq(ledger.action, "workflow.adopted"))
      .orderBy(desc(ledger.seq))
      .limit(1);
    expect(entry?.after).toMatchObject({ key, revision: 2, acknowledged });
  });

  test("at a date it waits, can be taken back, and is held where the people have changed meanwhile", async () => {
    const key = await ready("Dated");
    const document = { ...(await documentOf(key)), name: "Dated, second form" };
    const at = MORNING + DAY;
    const plan = async (revision: number) => {
      accepted(await putInUse(world.act("ilda"), { key, revision, choices: NOTHING, acknowledged: [], at }));
      const [row] = await world.db.select().from(workflowAdoption).where(eq(workflowAdoption.status, "planned"));
      return row?.id ?? "";
    };
    accepted(await saveCopy(world.act("ilda"), { key, document, revision: 0 }));
    expect(
      codeOf(await putInUse(world.act("ilda"), { key, revision: 1, choices: NOTHING, acknowledged: [], at: MORNING })),
    ).toBe("past");
    await plan(1);
    expect((await studio(key))?.planned).toMatchObject({ at, held: null });
    accepted(await cancelPlanned(world.act("ilda"), key));
    expect(await studio(key)).toMatchObject({ planned: null, copy: { document: { name: "Dated, second form" } } });
    const id = await plan(1);
    expect(accepted(await carryOutAdoption(world.act(null), id))).toBe("gone");
    expect(accepted(await carryOutAdoption(world.act(null, at), id))).toBe("done");
    expect(accepted(await carryOutAdoption(world.act(null, at), id))).toBe("gone");
    expect((await studio(key))?.inUse).toMatchObject({ revision: 2, document: { name: "Dated, second form" } });

    const lead = changeState(await documentOf(key), "copy-edit", { editors: ["person:gus"] });
    const seated = {
      ...lead,
      states: lead.states.map((one) =>
        one.review ? { ...one, review: { ...one.review, seats: [{ person: "gus" }] } } : one,
      ),
    };
    accepted(await saveCopy(world.act("ilda"), { key, document: seated, revision: 0 }));
    const second = await plan(1);
    const { person } = await import("#server/db/schema/index.ts");
    await world.db.update(person).set({ active: false }).where(eq(person.key, "gus"));
    expect(accepted(await carryOutAdoption(world.act(null, at), second))).toBe("held");
    await world.db.update(person).set({ active: true }).where(eq(person.key, "gus"));
    expect((await studio(key))?.planned?.held).toContain("Gus Ferrante no longer works here");
    expect((await studio(key))?.inUse?.revision).toBe(2);
  });
});

test("two nodes whose time has come put it in use once", async () => {
  const key = await ready("Once");
  accepted(
    await saveCopy(world.act("ilda"), {
      key,
      document: { ...(await documentOf(key)), name: "Once more" },
      revision: 0,
    }),
  );
  accepted(
    await putInUse(world.act("ilda"), { key, revision: 1, choices: NOTHING, acknowledged: [], at: MORNING + DAY }),
  );
  const [plan] = await world.db.select().from(workflowAdoption).where(eq(workflowAdoption.status, "planned"));
  const act = world.act(null, MORNING + DAY);
  const both = await Promise.all([carryOutAdoption(act, plan?.id ?? ""), carryOutAdoption(act, plan?.id ?? "")]);
  expect(both.map(accepted).sort()).toEqual(["done", "gone"]);
  const revisions = await world.db
    .select()
    .from(workflowRevision)
    .where(eq(workflowRevision.workflowId, await idOf(key)));
  expect(revisions).toHaveLength(2);
});

test("a new workflow planned for a date stays to be seen until then, and can be thrown away", async () => {
  const begin = async (name: string) => {
    const { key } = accepted(await startCopy(world.act("ilda"), { from: "ready", key: "second-pair-of-eyes", name }));
    const wanted = { key, revision: 1, choices: NOTHING, acknowledged: [], at: MORNING + DAY };
    accepted(await putInUse(world.act("ilda"), wanted));
    expect(await studio(key)).toMatchObject({ inUse: null, copy: { revision: 1 }, planned: { held: null } });
    const planned = await world.db.select().from(workflowAdoption).where(eq(workflowAdoption.status, "planned"));
    return { key, id: planned.at(-1)?.id ?? "" };
  };
  const one = await begin("Later");
  accepted(await carryOutAdoption(world.act(null, MORNING + DAY), one.id));
  expect(await studio(one.key)).toMatchObject({ inUse: { revision: 1 }, copy: null, planned: null });
  const other = await begin("Never");
  expect(accepted(await discardCopy(world.act("ilda"), other.key))).toEqual({ gone: true });
});

describe("where a workflow applies", () => {
  const applies = async (name: string, now = MORNING) =>
    (await listBindings(world.db, await world.viewer("ilda", now))).find((one) => one.name === name)?.applies;
  const bind = (scope: "section" | "kind", scopeId: string, workflowId: string | null) =>
    bindWorkflow(world.act("ilda"), { scope, scopeId, workflowId });

  test("the nearest choice applies and is inherited below; a kind is nearer than its section", async () => {
    const winter = world.id("section winter");
    const straight = await idOf("straight-out");
    expect(await applies("Winter")).toMatchObject({ from: "Routes" });
    accepted(await bind("section", winter, straight));
    expect(await applies("Winter")).toEqual({ workflow: "Straight out", from: "Routes / Winter" });
    accepted(await bind("section", winter, null));
    expect(await applies("Winter")).toMatchObject({ from: "Routes" });
    accepted(await bind("kind", world.id("kind bulletin-item"), await idOf("hut-page")));
    const { id } = await begin(world);
    const [revision] = await world.db
      .select()
      .from(workflowRevision)
      .where(eq(workflowRevision.id, (await look(world, id)).piece.workflowRevisionId));
    expect(revision?.document.key).toBe("hut-page");
    accepted(await bind("kind", world.id("kind bulletin-item"), null));
    expect(codeOf(await bind("section", winter, winter))).toBe("unknown-workflow");
    expect(codeOf(await bind("section", straight, straight))).toBe("unknown-section");
  });

  test("one that is not valid on the day is passed by, and says so", async () => {
    const key = await putWorkflowInUse(
      world.act("ilda"),
      JSON.stringify({
        ...JSON.parse(workflowSource("hut-page")),
        key: "winter-only",
        name: "Winter only",
        effective: { from: "2026-12-01", until: "2027-02-28" },
      }),
    );
    accepted(await bind("section", world.id("section winter"), await idOf(key)));
    expect(await applies("Winter")).toMatchObject({ workflow: "Route guide", from: "Routes" });
    expect(await applies("Winter", Date.parse("2026-12-01T00:30:00Z"))).toMatchObject({ workflow: "Winter only" });
    const row = (await listBindings(world.db, await world.viewer("ilda"))).find((one) => one.name === "Winter");
    expect(row?.notValid).toEqual(["Winter only from 2026-12-01 until 2027-02-28"]);
  });

  test("a workflow in use or holding pieces is retired, not deleted; one nobody used is deleted", async () => {
    const key = await ready("Passing");
    accepted(await bind("section", world.id("section bulletin"), await idOf(key)));
    expect(await deleteWorkflow(world.act("ilda"), key)).toMatchObject({ refusal: { code: "in-use" } });
    const { id } = await begin(world);
    accepted(await retireWorkflow(world.act("ilda"), key));
    expect(await applies("Bulletin")).toMatchObject({ workflow: "Straight out" });
    expect(codeOf(await bind("section", world.id("section bulletin"), await idOf(key)))).toBe("retired");
    expect(codeOf(await deleteWorkflow(world.act("ilda"), key))).toBe("in-use");
    expect((await look(world, id)).piece.stateKey).toBe("draft");
    accepted(await reviveWorkflow(world.act("ilda"), key));
    expect(codeOf(await retireWorkflow(world.act("ilda"), "straight-out"))).toBe("in-use");
    const unused = await ready("Unused");
    accepted(await deleteWorkflow(world.act("ilda"), unused));
    expect(await studio(unused)).toBeNull();
  });
});
