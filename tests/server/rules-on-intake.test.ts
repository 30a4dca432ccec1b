import { eq } from "drizzle-orm";
import type { Rule } from "#core/rules/document.ts";
import { feed, intakeItem, ruleRun } from "#server/db/schema/index.ts";
import { nameFeed, takeIn } from "#server/intake/feeds.ts";
import { noteIdea } from "#server/intake/ideas.ts";
import { ruleInput, saveRule, switchRule } from "#server/rules/commands.ts";
import { followLedger } from "#server/rules/follow.ts";
import { actedBy, tried } from "#server/rules/page.ts";
import { loadRules } from "#server/rules/rows.ts";
import { feedAt, requested, saidOf } from "../support/intake.ts";
import {
  accepted,
  approved,
  bindReview,
  codeOf,
  heard,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await follow();
});
afterEach(() => world.close());

async function follow(): Promise<void> {
  for (let i = 0; i < 20; i++) if (!(await followLedger({ ...world.act(null, MORNING), origin: "job rules" }))) return;
  throw new Error("it does not end");
}
type Said = Pick<Rule, "when" | "then"> & Partial<Pick<Rule, "if">>;
const make = (said: Said, who = "ilda") =>
  saveRule(world.act(who), ruleInput.parse({ rule: JSON.stringify({ name: "A rule", on: true, ...said }) }));
const item = async (id: string) => (await world.db.select().from(intakeItem).where(eq(intakeItem.id, id)))[0];
const runs = () => world.db.select().from(ruleRun);
/** A piece that readers see. */
async function outNow(): Promise<string> {
  await bindReview(world, "any", [{ person: "wim" }]);
  const pieceId = await approved(world);
  accepted(await send(world, pieceId, "ilda", "release"));
  return pieceId;
}
const entry = (id: string) => ({ id, title: `Entry ${id}`, text: { type: "doc", content: [] }, url: null, at: null });

const WHO = { field: "who-can-be-asked", is: "Ottavia" };

test("a request that comes is given to somebody and told of, once, where what is asked of it holds", async () => {
  expect(
    codeOf(await make({ when: { event: "request.came" }, if: [WHO], then: [{ do: "assign", to: "person:noor" }] })),
  ).toBe("unknown-reference");
  await requested(world, "An earlier one");
  await follow();
  accepted(
    await make({
      when: { event: "request.came", section: "bulletin", kind: "bulletin-item" },
      if: [WHO],
      then: [
        { do: "assign", to: "person:noor" },
        { do: "notify", to: ["person:noor"], text: "“{{piece.title}}” is with Noor." },
      ],
    }),
  );
  const { itemId } = await requested(world, "The winter room");
  await follow();
  await follow();
  expect((await item(itemId))?.holderId).toBe(world.id("noor"));
  expect(await runs()).toMatchObject([{ pieceId: null, itemId, did: [{ refused: null }, { refused: null }] }]);
  const told = (await heard(world, "noor")).filter((one) => one.headline === "“The winter room” is with Noor.");
  expect(told).toHaveLength(1);
  const [rule] = await loadRules(world.db);
  const viewer = await world.viewer("ilda");
  const there = { title: "The winter room", to: `/intake?item=${itemId}` };
  expect(await actedBy(world.db, viewer, rule?.id ?? "")).toMatchObject([there]);
  if (rule)
    expect(await tried(world.db, viewer, rule)).toMatchObject({
      count: 2,
      acts: expect.arrayContaining([expect.objectContaining(there)]),
    });
  // Who does not judge there is not told what came.
  expect(await actedBy(world.db, await world.viewer("wim"), rule?.id ?? "")).toEqual([]);

  const other = await requested(world, "Another room", { answers: { body: "Open.", "who-can-be-asked": "Tilde" } });
  await follow();
  expect((await item(other.itemId))?.holderId).toBeNull();
});

test("each thing a feed brings is heard apart, and what a reader says is given to somebody; an idea is nobody's", async () => {
  accepted(await make({ when: { event: "material.came" }, then: [{ do: "assign", to: "person:kai" }] }));
  accepted(await make({ when: { event: "report.came" }, then: [{ do: "assign", to: "least-busy:chief" }] }));
  accepted(await nameFeed(world.act("ilda"), feedAt("https://snow.example/feed")));
  const [of] = await world.db.select().from(feed);
  if (of) accepted(await takeIn(world.act(null), of, [entry("a"), entry("b")] as never));
  const { itemId } = await saidOf(world, await outNow());
  accepted(await noteIdea(world.act("wim"), { title: "An idea", words: "" }));
  await follow();
  const rows = await world.db.select().from(intakeItem);
  const holders = Object.fromEntries(rows.map((row) => [row.title, row.holderId]));
  expect([holders["Entry a"], holders["Entry b"], holders["An idea"]]).toEqual([
    world.id("kai"),
    world.id("kai"),
    null,
  ]);
  expect((await item(itemId))?.holderId).toBe(world.id("ilda"));
});

test("what asks for a piece is refused while there is none, and a rule does no more than its maker may", async () => {
  expect(codeOf(await make({ when: { event: "request.came" }, then: [{ do: "due", in: "1wd" }] }))).toBe("no-piece");
  expect(
    codeOf(await make({ when: { event: "report.came" }, then: [{ do: "call", url: "https://x.example/" }] })),
  ).toBe("no-piece");
  accepted(
    await make({ when: { event: "request.came" }, then: [{ do: "notify", to: ["role:checker"], text: "Look." }] }),
  );
  await requested(world, "The winter room");
  await follow();
  // Checkers do not judge what comes in, and are told nothing of it.
  expect((await runs())[0]?.did).toMatchObject([{ refused: "Nobody who may judge it is meant by that." }]);
  const [rule] = await loadRules(world.db);
  accepted(await switchRule(world.act("ilda"), { id: rule?.id ?? "", on: false }));
});
