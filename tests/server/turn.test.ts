import { eq, inArray } from "drizzle-orm";
import { ledger, notice, piece } from "#server/db/schema/index.ts";
import { nudge } from "#server/passage/nudging.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { remark } from "#server/remarks/commands.ts";
import { accepted, begin, bindReview, codeOf, MORNING, makeWorld, send, type World } from "../support/world.ts";

const DAY = 86_400_000;

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

async function inReview(title: string) {
  const { id } = await begin(world, title);
  accepted(await send(world, id, "tobia", "send"));
  return id;
}

test("who waits asks where it is, once in a working day; who has it is told, nobody else may", async () => {
  const id = await inReview("Where is it");
  expect(accepted(await nudge(world.act("tobia"), { pieceId: id })).people).toEqual(["Wim Aldera"]);
  const told = await world.db
    .select({ personId: notice.personId })
    .from(notice)
    .innerJoin(ledger, eq(ledger.seq, notice.seq))
    .where(eq(ledger.action, "piece.nudged"));
  expect(told.map((one) => one.personId)).toEqual([world.id("wim")]);
  expect(codeOf(await nudge(world.act("tobia", MORNING + 3_600_000), { pieceId: id }))).toBe("often");
  expect(codeOf(await nudge(world.act("ilda", MORNING + 3_600_000), { pieceId: id }))).toBe("often");
  expect(codeOf(await nudge(world.act("petra"), { pieceId: id }))).toBe("not-granted");
  accepted(await nudge(world.act("tobia", MORNING + DAY), { pieceId: id }));
  const draft = await begin(world, "A draft");
  expect(codeOf(await nudge(world.act("tobia"), { pieceId: draft.id }))).toBe("nobody");
});

test("what waits on somebody is paged by key, each once, the first due first; what has no date comes last", async () => {
  const ids: string[] = [];
  for (let i = 0; i < 56; i++) ids.push(await inReview(`Waits ${i}`));
  await world.db
    .update(piece)
    .set({ dueAt: null })
    .where(inArray(piece.id, ids.slice(0, 3)));
  const viewer = await world.viewer("wim");
  const first = await yourTurn(world.db, viewer);
  expect([first.mine.length, first.next !== null]).toEqual([50, true]);
  const second = await yourTurn(world.db, viewer, first.next ?? "");
  expect(second.next).toBeNull();
  const all = [...first.mine, ...second.mine].map((one) => one.id);
  expect(new Set(all).size).toBe(57);
  expect(all.length).toBe(57);
  expect(new Set(all.slice(-3))).toEqual(new Set(ids.slice(0, 3)));
  expect((await yourTurn(world.db, viewer, "nonsense")).mine).toHaveLength(50);
});

test("what was said to one stands there until it is read", async () => {
  const id = await inReview("Said to Tobia");
  accepted(await remark(world.act("wim"), { pieceId: id, body: "Which bridge?" }));
  const { said } = await yourTurn(world.db, await world.viewer("tobia"));
  expect(said.map((one) => [one.note, one.lead?.includes("?remark=")])).toEqual([["Which bridge?", true]]);
});

test("what waits on somebody is narrowed by what is asked and by section; an unknown section narrows nothing", async () => {
  const viewer = await world.viewer("tobia");
  const all = await yourTurn(world.db, viewer);
  const writes = await yourTurn(world.db, viewer, undefined, { asked: "write" });
  expect(writes.mine.map((row) => row.id)).toEqual(
    all.mine.filter((row) => row.asked === "write").map((row) => row.id),
  );
  expect(writes.mine.length).toBeGreaterThan(0);
  expect((await yourTurn(world.db, viewer, undefined, { asked: "decide" })).mine).toEqual([]);
  const keys = [...viewer.places.sections.values()].map((one) => one.key);
  const bySection = await Promise.all(keys.map((section) => yourTurn(world.db, viewer, undefined, { section })));
  expect(bySection.some((turn) => turn.mine.length < all.mine.length)).toBe(true);
  expect((await yourTurn(world.db, viewer, undefined, { section: "nowhere" })).mine).toHaveLength(all.mine.length);
});
