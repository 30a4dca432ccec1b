import { piecesByStop } from "#server/pieces/by-stop.ts";
import { filterChoices, listPieces, listWhole } from "#server/pieces/lists.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { columnsOf, keepColumns, keepColumnsInput } from "#server/search/columns.ts";
import { accepted, begin, bindReview, makeWorld, send, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ role: "copy-editor" }]);
  for (let i = 0; i < 15; i++) await begin(world, `Draft ${i}`);
  for (let i = 0; i < 3; i++) {
    const { id } = await begin(world, `Sent ${i}`);
    accepted(await send(world, id, "tobia", "send"));
  }
  await begin(world, "Kept apart", "tobia", undefined, true);
});
afterAll(() => world.close());

test.each(["ilda", "tobia", "mina"])(
  "what %s sees queueing at the stops is what the list has of that line",
  async (who) => {
    const viewer = await world.viewer(who);
    const found = await piecesByStop(world.db, viewer, {});
    for (const { key, all, rows } of found?.stops ?? []) {
      const listed = await listPieces(world.db, viewer, { state: key, line: found?.line.key ?? "", sort: "waits" });
      expect({ key, all }).toEqual({ key, all: listed.total });
      expect(rows.map((row) => row.id)).toEqual(listed.rows.slice(0, 12).map((row) => row.id));
    }
    const all = found?.stops.reduce((sum, stop) => sum + stop.all, 0) ?? 0;
    expect(all).toBe((await listPieces(world.db, viewer, { line: found?.line.key ?? "" })).total);
  },
);

test("what waits on somebody is what their own turn has, and every row says whose it is", async () => {
  const ilda = await world.viewer("ilda");
  for (const { key, name } of (await filterChoices(world.db, ilda)).holders) {
    const holder = await world.viewer([...ilda.roster.people.values()].find((one) => one.id === key)?.key ?? "");
    const listed = await listPieces(world.db, holder, { holder: key });
    const turn = await yourTurn(world.db, holder);
    expect({ name, ids: listed.rows.map((row) => row.id).sort() }).toEqual({
      name,
      ids: turn.mine.map((row) => row.id).sort(),
    });
    for (const row of listed.rows) expect(row.holders).toContain(name);
  }
});

test("a file has every piece the list has, page after page", async () => {
  const viewer = await world.viewer("ilda");
  for (let i = 0; i < 100; i++) await begin(world, `More ${i}`);
  const whole = await listWhole(world.db, viewer, { sort: "publish" });
  expect(new Set(whole.map((row) => row.id)).size).toBe((await listPieces(world.db, viewer, {})).total);
});

test("the columns of a list are one's own; unknown ones and one twice are refused; none is the usual again", async () => {
  const [ilda, tobia] = [await world.viewer("ilda"), await world.viewer("tobia")];
  const usual = await columnsOf(world.db, tobia);
  accepted(await keepColumns(world.act("ilda"), { columns: ["due", "waits"] }));
  expect(await columnsOf(world.db, ilda)).toEqual(["due", "waits"]);
  expect(await columnsOf(world.db, tobia)).toEqual(usual);
  accepted(await keepColumns(world.act("ilda"), { columns: [] }));
  expect(await columnsOf(world.db, ilda)).toEqual(usual);
  expect(keepColumnsInput.safeParse({ columns: ["due", "due"] }).success).toBe(false);
  expect(keepColumnsInput.safeParse({ columns: ["password"] }).success).toBe(false);
});
