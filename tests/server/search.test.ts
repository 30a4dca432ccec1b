import { doDue } from "#server/jobs/loop.ts";
import { deletePiece, erasePiece } from "#server/pieces/deleting.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { remark } from "#server/remarks/commands.ts";
import { dropFilter, filtersOf, keepFilter } from "#server/search/filters.ts";
import { findWords } from "#server/search/queries.ts";
import { worker } from "../support/worker.ts";
import { accepted, begin, codeOf, look, MORNING, makeWorld, save, type World } from "../support/world.ts";

let world: World;
let id: string;
beforeAll(async () => {
  world = await makeWorld();
  ({ id } = await begin(world));
  accepted(await save(world, id, "tobia", "The larch bridge below Casere is gone. Take the ford."));
  accepted(await remark(world.act("ilda"), { pieceId: id, body: "Who measured the ford in spring?" }));
  await indexed();
});
afterAll(() => world.close());

async function indexed(): Promise<void> {
  while ((await doDue(worker(world, MORNING), "search")) > 0);
}

const find = async (who: string, words: string) =>
  (await findWords(world.db, await world.viewer(who), words, 8)).map(
    ({ hit }) => `${hit.source}: ${hit.sentence.map((one) => (one.found ? `[${one.words}]` : one.words)).join("")}`,
  );

test("words are found in texts and comments by how they begin, in their sentence", async () => {
  expect(await find("ilda", "larch brid")).toEqual(["text: The [larch] [bridge] below Casere is gone."]);
  expect(await find("ilda", "measured")).toEqual(["comment: Who [measured] the ford in spring?"]);
  expect(await find("ilda", "larch glacier")).toEqual([]);
  expect(await find("ilda", '+(larch* "')).toEqual(["text: The [larch] bridge below Casere is gone."]);
});

test("nobody finds words in what they may not see", async () => {
  const secret = await begin(world, "Kept apart", "tobia", MORNING, true);
  accepted(await save(world, secret.id, "tobia", "The marmot warden retires."));
  await indexed();
  expect(await find("tobia", "marmot warden")).toHaveLength(1);
  expect(await find("mina", "marmot warden")).toEqual([]);
});

test("a list narrowed by words shows where they stand, and a change of the text changes what is found", async () => {
  const viewer = await world.viewer("ilda");
  const [row] = (await listPieces(world.db, viewer, { words: "ford" })).rows;
  expect(row?.id).toBe(id);
  expect(row?.hit?.sentence.some((one) => one.found)).toBe(true);
  accepted(await save(world, id, "tobia", "The bridge is mended."));
  await indexed();
  expect(await find("ilda", "larch")).toEqual([]);
  expect(await find("ilda", "mended")).toHaveLength(1);
});

test("sorted by due date or title, the pages follow one another without a gap", async () => {
  const viewer = await world.viewer("ilda");
  for (let i = 0; i < 105; i++) await begin(world, `Path ${String((i * 7) % 211).padStart(3, "0")}`);
  for (const sort of ["arrived", "due", "title"] as const) {
    const first = await listPieces(world.db, viewer, { sort });
    const second = await listPieces(world.db, viewer, { sort, ...(first.next && { after: first.next }) });
    const ids = [...first.rows, ...second.rows].map((one) => one.id);
    expect(new Set(ids).size).toBe(first.total);
    if (sort === "title") {
      const titles = [...first.rows, ...second.rows].map((one) => one.title);
      expect(titles).toEqual([...titles].sort((a, b) => a.localeCompare(b)));
    }
  }
});

test("what is erased is found no more", async () => {
  const { revision } = (await look(world, id)).piece;
  accepted(await deletePiece(world.act("ilda"), { pieceId: id, revision, note: "Wrong." }));
  expect(await find("ilda", "mended")).toEqual([]);
  accepted(await erasePiece(world.act("ilda"), { pieceId: id, note: "For good." }));
  await indexed();
  expect(await find("ilda", "mended")).toEqual([]);
});

test("a kept list is one's own, or everybody's; only its owner or who runs the publication lets it go", async () => {
  const keep = (who: string, name: string, shared: boolean) =>
    keepFilter(world.act(who), { name, query: "late=yes", shared });
  const own = accepted(await keep("tobia", "Mine, late", false));
  const shared = accepted(await keep("tobia", "Everybody, late", true));
  const seen = async (who: string) => (await filtersOf(world.db, await world.viewer(who))).map((one) => one.name);
  expect(await seen("tobia")).toEqual(["Everybody, late", "Mine, late"]);
  expect(await seen("noor")).toEqual(["Everybody, late"]);
  expect(codeOf(await dropFilter(world.act("noor"), own))).toBe("not-found");
  expect(codeOf(await dropFilter(world.act("noor"), shared))).toBe("not-granted");
  accepted(await dropFilter(world.act("ilda"), shared));
  accepted(await dropFilter(world.act("tobia"), own));
  expect(await seen("tobia")).toEqual([]);
  for (let i = 0; i < 20; i++) accepted(await keep("mina", `List ${i}`, false));
  expect(codeOf(await keep("mina", "One more", false))).toBe("too-many");
});
