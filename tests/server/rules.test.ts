import { and, count, eq, isNull } from "drizzle-orm";
import { type Rule, ruleSchema } from "#core/rules/document.ts";
import { ledger, person, piece, rule, ruleRun } from "#server/db/schema/index.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { remark } from "#server/remarks/commands.ts";
import { bringInRules, deleteRule, ruleInput, saveRule, switchRule } from "#server/rules/commands.ts";
import { followLedger, tryAgain } from "#server/rules/follow.ts";
import { loadRules } from "#server/rules/rows.ts";
import {
  accepted,
  approve,
  begin,
  bindReview,
  codeOf,
  DAY,
  HOUR,
  heard,
  look,
  MORNING,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
  await follow();
});
afterEach(() => world.close());

/** The rules act on all that happened; as often as it takes. */
async function follow(now = MORNING): Promise<void> {
  for (let i = 0; i < 20; i++) if (!(await followLedger({ ...world.act(null, now), origin: "job rules" }))) return;
  throw new Error("it does not end");
}

type Said = Pick<Rule, "when" | "then"> & Partial<Pick<Rule, "if" | "on" | "name">>;
const input = (said: Said, more: object = {}) =>
  ruleInput.parse({ rule: JSON.stringify({ name: "A rule", on: true, ...said }), ...more });
const make = (said: Said, who = "ilda") => saveRule(world.act(who), input(said));
const runs = () => world.db.select().from(ruleRun);
const says = (pieceId: string, who = "tobia") => remark(world.act(who), { pieceId, body: "One thing." });
const tellings = async (pieceId: string) => {
  const [row] = await world.db
    .select({ n: count() })
    .from(ledger)
    .where(and(eq(ledger.pieceId, pieceId), eq(ledger.action, "rule.told")));
  return row?.n ?? 0;
};
/** A hut page of Tobia's, in draft. */
const beginHut = async () =>
  accepted(
    await createPiece(world.act("tobia"), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind hut-page"),
      title: "Rifugio Larice",
      private: false,
      fields: {},
    }),
  );
/** The same, approved: whoever makes rules may write in it now. */
async function readyHut() {
  const made = await beginHut();
  accepted(await send(world, made.id, "tobia", "send"));
  await approve(world, made.id);
  await follow();
  return made;
}
const when = { event: "comment.made" } as const;

test("a rule acts once on what happens after it was made, and says what it did", async () => {
  const { id } = await begin(world);
  accepted(await says(id));
  accepted(
    await make({
      name: "A comment wakes everybody",
      when,
      if: [{ fact: "urgency", is: "normal" }],
      then: [
        { do: "due", in: "4wh" },
        { do: "notify", to: ["author", "role:chief"], text: "Look at {{piece.title}}." },
      ],
    }),
  );
  await follow();
  expect(await runs()).toEqual([]);
  accepted(await says(id));
  await follow();
  await follow();
  expect(await runs()).toMatchObject([{ pieceId: id, did: [{ refused: null }, { refused: null }] }]);
  const { piece: row } = await look(world, id);
  expect(row.dueAt).toBeGreaterThan(MORNING);
  expect(JSON.stringify(await heard(world, "tobia"))).toContain(`Look at ${row.title}.`);
  const [entry] = await world.db.select().from(ledger).where(eq(ledger.action, "rule.acted"));
  expect(entry).toMatchObject({ pieceId: id, actorId: null, after: { name: "A comment wakes everybody" } });
});

test("what broke off half way is gone on with, and nothing is done twice", async () => {
  const { id } = await readyHut();
  accepted(
    await make({
      when: { event: "piece.changed", field: "beds" },
      then: [
        { do: "notify", to: ["author"], text: "Mind the beds." },
        { do: "due", in: "1wd" },
      ],
    }),
  );
  await follow();
  accepted(await make({ when, name: "Sets it", then: [{ do: "set", field: "beds", to: "24" }] }));
  accepted(await says(id));
  await follow();
  const done = await runs();
  expect(done).toHaveLength(2);
  expect(new Set(done.map((one) => one.chain)).size).toBe(1);
  const before = await tellings(id);
  // As if the node had died before it noted what it had done.
  await world.db.update(ruleRun).set({ did: null });
  await follow();
  expect(await tellings(id)).toBe(before);
  expect(await world.db.select().from(ruleRun).where(isNull(ruleRun.did))).toEqual([]);
});

test("rules that would go in a circle are not switched on, nor what names nothing there is", async () => {
  const back = {
    name: "Back",
    when: { event: "piece.assigned" } as const,
    then: [{ do: "comment", text: "Hello." } as const],
  };
  const forth = { name: "Forth", when, then: [{ do: "assign", to: "author" } as const] };
  accepted(await make(back));
  const refused = await make(forth);
  expect(refused).toMatchObject({
    ok: false,
    refusal: { code: "loop", sentence: "Back and Forth may set each other off in a circle." },
  });
  expect(accepted(await make({ ...forth, on: false })).on).toBe(false);
  const row = (await loadRules(world.db)).find((one) => one.name === "Forth");
  expect(codeOf(await switchRule(world.act("ilda"), { id: row?.id ?? "", on: true }))).toBe("loop");
  for (const [then, code] of [
    [[{ do: "take", transition: "nowhere" }], "unknown-reference"],
    [[{ do: "set", field: "no-field", to: "a" }], "unknown-reference"],
    [[{ do: "assign", to: "role:nobody" }], "unknown-principal"],
  ] as const)
    expect(codeOf(await make({ when: { event: "due.passed" }, then: then as unknown as Rule["then"] }))).toBe(code);
});

test("a rule does no more than who made it may, and tells them of what it could not", async () => {
  await begin(world);
  const { id } = await begin(world);
  accepted(
    await make({
      when,
      then: [
        { do: "take", transition: "release" },
        { do: "due", in: "1wd" },
      ],
    }),
  );
  accepted(await says(id));
  await follow();
  const [run] = await runs();
  expect(run?.did).toMatchObject([{ refused: expect.stringMatching(/no step/) }, { refused: null }]);
  expect(JSON.stringify(await heard(world, "ilda"))).toContain("could not do all it says");
  // Who may not configure anything makes none.
  expect(codeOf(await make({ when, then: [{ do: "comment", text: "Me." }] }, "tobia"))).toBe("not-granted");
});

test("off is off at once; one whose maker has left does nothing", async () => {
  const { id } = await begin(world);
  accepted(await make({ when, then: [{ do: "due", in: "1wd" }] }));
  const [made] = await loadRules(world.db);
  accepted(await switchRule(world.act("ilda"), { id: made?.id ?? "", on: false }));
  accepted(await says(id));
  await follow();
  expect(await runs()).toEqual([]);
  accepted(await switchRule(world.act("ilda"), { id: made?.id ?? "", on: true }));
  await follow();
  await world.db
    .update(person)
    .set({ active: false })
    .where(eq(person.id, world.id("ilda")));
  accepted(await says(id));
  await follow();
  expect(await runs()).toEqual([]);
});

test("a due date that passes is heard once, and arrivals by the stop, the kind and the section they are of", async () => {
  const { id } = await begin(world);
  await follow();
  accepted(
    await make({
      name: "Late",
      when: { event: "due.passed" },
      then: [{ do: "notify", to: ["author"], text: "It is late." }],
    }),
  );
  accepted(
    await make({ name: "Checked", when: { event: "piece.arrived", state: "check" }, then: [{ do: "due", in: "2wh" }] }),
  );
  accepted(
    await make({
      name: "Elsewhere",
      when: { event: "piece.arrived", state: "ready" },
      then: [{ do: "comment", text: "Ready." }],
    }),
  );
  await follow();
  accepted(await send(world, id, "tobia", "send"));
  await follow();
  expect(await runs()).toHaveLength(1);
  const { piece: row } = await look(world, id);
  await follow(Number(row.dueAt) + HOUR);
  await follow(Number(row.dueAt) + 2 * HOUR);
  expect(await runs()).toHaveLength(2);
  await follow(Number(row.dueAt) + 3 * DAY);
  expect(await runs()).toHaveLength(2);
});

test("a set field is kept as somebody would write it; while somebody writes, it stays as it is", async () => {
  const { id } = await readyHut();
  accepted(await make({ when, then: [{ do: "set", field: "beds", to: "24" }] }));
  await follow();
  accepted(await save(world, id, "ilda", "Being written."));
  accepted(await says(id, "ilda"));
  await follow();
  expect((await runs())[0]?.did).toMatchObject([{ refused: expect.stringMatching(/another window/) }]);
  // It is tried again by itself.
  const [failed] = await runs();
  const again = (at: number) => tryAgain({ ...world.act(null, at), origin: "job rules" }, failed?.id ?? "");
  expect(await again(MORNING)).toBeGreaterThan(MORNING);
  expect(await again(MORNING + HOUR)).toBeNull();
  expect((await runs())[0]).toMatchObject({ did: [{ refused: null }], tries: 2 });
  expect((await look(world, id)).version.content.fields.beds).toBe(24);
});

test("rules are brought in switched off, under keys of their own; one is done away with, and what it did stays", async () => {
  const one = ruleSchema.parse({ key: "a", name: "A", on: true, when, then: [{ do: "due", in: "1wd" }] });
  accepted(await bringInRules(world.act("ilda"), { format: "elenco.rules/1", rules: [one, one] }));
  const rules = await loadRules(world.db);
  expect(rules.map(({ key, on }) => ({ key, on }))).toEqual([
    { key: "a", on: false },
    { key: "a-2", on: false },
  ]);
  expect(
    codeOf(
      await saveRule(
        world.act("ilda"),
        input({ when, then: one.then, name: "Else" }, { id: rules[0]?.id, revision: 7 }),
      ),
    ),
  ).toBe("stale");
  const { id } = await begin(world);
  accepted(await switchRule(world.act("ilda"), { id: rules[0]?.id ?? "", on: true }));
  await follow();
  accepted(await says(id));
  await follow();
  const due = (await look(world, id)).piece.dueAt;
  expect(due).not.toBeNull();
  accepted(await deleteRule(world.act("ilda"), { id: rules[0]?.id ?? "" }));
  expect(await world.db.select().from(rule)).toHaveLength(1);
  expect((await look(world, id)).piece.dueAt).toBe(due);
  expect(await world.db.select().from(piece).where(eq(piece.id, id))).toHaveLength(1);
});

test("what its maker may not see a rule leaves alone, and tells them nothing of it", async () => {
  accepted(await make({ when, then: [{ do: "due", in: "1wd" }] }));
  await follow();
  const { id } = await begin(world, "For nobody yet", "tobia", MORNING, true);
  accepted(await says(id));
  await follow();
  expect(await runs()).toEqual([]);
  expect(JSON.stringify(await heard(world, "ilda"))).not.toContain("For nobody yet");
});

test("each rule is asked of a piece as the one before it left it", async () => {
  const { id } = await readyHut();
  accepted(await make({ name: "First", when, then: [{ do: "set", field: "beds", to: "24" }] }));
  accepted(
    await make({
      name: "Second",
      when,
      if: [{ field: "beds", over: 20 }],
      then: [{ do: "notify", to: ["author"], text: "Many beds." }],
    }),
  );
  accepted(await says(id, "ilda"));
  await follow();
  expect(await runs()).toHaveLength(2);
});
