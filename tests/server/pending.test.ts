import { eq } from "drizzle-orm";
import { round, seat } from "#server/db/schema/index.ts";
import { type LatelyWanted, lastLook, latelyPage, lookedLately } from "#server/pieces/lately.ts";
import { pendingPage } from "#server/pieces/pending.ts";
import { remark } from "#server/remarks/commands.ts";
import {
  accepted,
  begin,
  bindReview,
  DAY,
  HOUR,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const page = async (who: string, wanted: Parameters<typeof pendingPage>[2] = {}) =>
  pendingPage(world.db, await world.viewer(who), wanted);

test("what waits anywhere is told with whom, in whose place, since when; stuck with why; narrowed as one asks", async () => {
  const { id } = await begin(world, "Waits on Jorun for Wim");
  accepted(await send(world, id, "tobia", "send"));
  await world.db
    .update(seat)
    .set({ personId: world.id("jorun"), forPersonId: world.id("wim") })
    .where(eq(seat.pieceId, id));
  await world.db.update(round).set({ stuck: "abstained" }).where(eq(round.pieceId, id));
  const all = await page("ilda");
  expect(all.waiting.find((one) => one.pieceId === id)).toMatchObject({
    person: "Jorun Faas",
    for: "Wim Aldera",
    state: "Check",
    section: "Bulletin",
    asked: "decide",
  });
  expect(all.stuck.find((one) => one.pieceId === id)?.why).toBe("Everybody abstained.");
  expect(all.recent[0]?.words).toMatch(/./);
  const has = async (wanted: Parameters<typeof pendingPage>[2]) =>
    (await page("ilda", wanted)).waiting.some((one) => one.pieceId === id);
  expect(await has({ section: "bulletin", person: world.id("jorun") })).toBe(true);
  expect(await has({ section: "magazine" })).toBe(false);
  expect(await has({ person: world.id("wim") })).toBe(false);
  expect(await has({ workflow: world.id("workflow route-guide") })).toBe(false);
});

test("nobody is told of what they may not see", async () => {
  const { id } = await begin(world, "Tobia's own", "tobia", undefined, true);
  const { waiting, recent } = await page("ilda");
  expect([...waiting, ...recent].map((one) => one.title)).not.toContain("Tobia's own");
  expect((await page("tobia")).recent.map((one) => one.title)).toContain("Tobia's own");
  expect(id).toBeTruthy();
});

test("what happened is folded by piece or person, of what one may see, since one was last here", async () => {
  const lately = async (who: string, more: Partial<LatelyWanted> = {}, now = MORNING + 2 * DAY) =>
    latelyPage(world.db, { ...(await world.viewer(who)), now }, { from: now - 30 * DAY, by: "piece", ...more });
  const { id } = await begin(world, "Told of lately");
  accepted(await remark(world.act("ilda", MORNING + HOUR), { pieceId: id, body: "Which ford?" }));
  const { piece: row } = await look(world, id);
  const fold = (await lately("ilda")).folds.find(([newest]) => newest?.slug === row.slug) ?? [];
  expect(fold.length).toBeGreaterThan(1);
  expect(fold.map((one) => one.seq)).toEqual(fold.map((one) => one.seq).sort((a, b) => b - a));
  const people = (await lately("ilda", { by: "person" })).folds;
  for (const one of people) expect(new Set(one.map(({ who }) => who)).size).toBe(1);
  expect((await lately("mina")).folds.flat().some((one) => one.slug === row.slug)).toBe(false);
  expect(
    (await lately("ilda", { person: world.id("wim") })).folds.flat().every((one) => one.who === "Wim Aldera"),
  ).toBe(true);
  expect(await lastLook(world.db, await world.viewer("ilda"))).toBeNull();
  await lookedLately(world.db, { ...(await world.viewer("ilda")), now: MORNING + DAY });
  const from = (await lastLook(world.db, await world.viewer("ilda"))) ?? 0;
  expect(from).toBe(MORNING + DAY);
  expect((await lately("ilda", { from })).folds).toEqual([]);
});
