import { eq } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { absence, notice, person, seat } from "#server/db/schema/index.ts";
import { passAllOn, setLimit } from "#server/load/commands.ts";
import { loadPage } from "#server/load/queries.ts";
import { piecePage } from "#server/pieces/page.ts";
import { accepted, begin, bindReview, codeOf, look, MORNING, makeWorld, send, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ role: "copy-editor", pick: "sender" }]);
  await world.db.update(person).set({ loadLimit: 2 });
  await world.db.delete(absence);
});
afterAll(() => world.close());

async function sentTo(who: string, many: number): Promise<string[]> {
  const ids: string[] = [];
  for (let i = 0; i < many; i++) {
    const { id } = await begin(world, `For ${who}, ${i}`);
    accepted(await send(world, id, "tobia", "send", { reviewers: [who] }));
    ids.push(id);
  }
  return ids;
}

const page = async (who: string, section: string | null = null) => loadPage(world.db, await world.viewer(who), section);

test("what is too much for one goes to whom the workflow names, with the fewest moves, and all are told", async () => {
  await sentTo("petra", 4);
  const before = await page("ilda", "bulletin");
  const petra = world.id("petra");
  expect(before.items.filter((one) => one.personId === petra)).toHaveLength(4);
  expect(before.items[0]?.able).toEqual([world.id("ansel")]);
  expect([before.moves.length, before.over]).toEqual([2, 0]);
  const moves = before.moves.map(({ item, to }) => ({
    sort: item.sort,
    id: item.id,
    pieceId: item.pieceId,
    revision: item.revision,
    from: item.personId,
    personId: to,
  }));
  expect(await passAllOn(world.act("ilda"), moves)).toEqual([]);
  const after = await page("ilda", "bulletin");
  expect([after.moves.length, after.over]).toEqual([0, 0]);
  const rows = await world.db.select({ personId: seat.personId }).from(seat);
  expect(rows.filter((one) => one.personId === world.id("ansel"))).toHaveLength(2);
  for (const { pieceId } of moves) {
    const told = await world.db.select({ personId: notice.personId }).from(notice).where(eq(notice.pieceId, pieceId));
    expect(told.map((one) => one.personId)).toEqual(expect.arrayContaining([world.id("ansel"), world.id("tobia")]));
  }
  // The same once more: they have moved already.
  expect(await passAllOn(world.act("ilda"), moves)).toHaveLength(2);
});

test("nobody is offered what they may not pass on, nor sees what they may not see", async () => {
  const noor = await page("noor");
  expect(noor.items.every((one) => one.able.length === 0)).toBe(true);
  expect(noor.moves).toEqual([]);
  const sefa = await page("sefa");
  expect(sefa.mayLimit).toBe(false);
  expect(sefa.items.filter((one) => one.title.startsWith("For petra")).every((one) => one.able.length === 0)).toBe(
    true,
  );
  expect(codeOf(await setLimit(world.act("sefa"), { personId: world.id("petra"), limit: 9 }))).toBe("not-granted");
  accepted(await setLimit(world.act("ilda"), { personId: world.id("petra"), limit: 9 }));
  expect((await page("ilda")).people.find((one) => one.id === world.id("petra"))?.limit).toBe(9);
});

test("whom one may send to is told with what waits on them, when it is due, and whether they go away soon", async () => {
  await world.db
    .insert(absence)
    .values({ id: newId(), personId: world.id("ansel"), from: "2026-11-30", until: "2026-12-04" });
  const { id } = await begin(world, "To be sent");
  const { slug } = (await look(world, id)).piece;
  const shown = await piecePage(world.db, await world.viewer("tobia"), slug, true);
  const people = shown?.steps.find((one) => one.key === "send")?.choose?.people ?? [];
  const petra = people.find((one) => one.id === world.id("petra"));
  expect([petra?.load, (petra?.due ?? 0) > MORNING, petra?.awayFrom]).toEqual([2, true, null]);
  expect(people.find((one) => one.id === world.id("ansel"))).toMatchObject({
    away: false,
    awayFrom: "2026-11-30",
    standIn: "Petra Holmqvist",
  });
});
