import { eq } from "drizzle-orm";
import { person } from "#server/db/schema/index.ts";
import { linesAhead } from "#server/pieces/beginning.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { commissionOf, handBack, takeCommission, writersFor } from "#server/pieces/commission.ts";
import { accepted, codeOf, DAY, HOUR, heard, look, MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const begin = (publishAt: number | null, who = "tobia") =>
  createPiece(world.act(who), {
    sectionId: world.id("section bulletin"),
    kindId: world.id("kind bulletin-item"),
    title: "The bus has a new stop",
    private: false,
    publishAt,
  });

test("a piece is begun with the date it is wished for; one that has passed is refused at its field", async () => {
  const { id } = accepted(await begin(MORNING + 9 * DAY));
  expect((await look(world, id)).piece.publishAt).toBe(MORNING + 9 * DAY);
  const { id: other } = accepted(await begin(null));
  expect((await look(world, other)).piece.publishAt).toBeNull();
  const late = await begin(MORNING - HOUR);
  expect(codeOf(late)).toBe("past");
  expect(late).toMatchObject({ refusal: { field: "publishAt" } });
});

test("the line it would travel is known for each place one may begin in, and no other line is told", async () => {
  const { lines, of } = await linesAhead(world.db, await world.viewer("tobia"));
  const id = of[`${world.id("kind bulletin-item")} ${world.id("section bulletin")}`] ?? "";
  expect(lines[id]?.stops.map((one) => one.key)).toEqual(["draft", "copy-edit", "ready", "live"]);
  expect(Object.keys(lines).sort()).toEqual([...new Set(Object.values(of))].sort());
  // Who begins nothing is told of no line.
  expect(await linesAhead(world.db, await world.viewer("wim"))).toEqual({ lines: {}, of: {} });
});

const ask = (who: string, writer: string, more: object = {}) =>
  createPiece(world.act(who), {
    sectionId: world.id("section bulletin"),
    kindId: world.id("kind bulletin-item"),
    title: "The summer timetable",
    private: true,
    commission: { writerId: world.id(writer), brief: "Eighty words, from the company's table." },
    ...more,
  });
const revision = async (id: string) => ({ pieceId: id, revision: (await look(world, id)).piece.revision });

test("a piece is begun for somebody: they are told with the brief, and it is due in time for its date", async () => {
  const { id } = accepted(await ask("ilda", "tobia", { publishAt: MORNING + 20 * DAY }));
  const { piece: row } = await look(world, id);
  expect(row).toMatchObject({ authorId: world.id("tobia"), private: false });
  expect(row.dueAt).toBeGreaterThan(MORNING);
  expect(row.dueAt).toBeLessThan(MORNING + 20 * DAY);
  const [told] = await heard(world, "tobia", id);
  expect(told).toMatchObject({ note: "Eighty words, from the company's table." });
  expect(await commissionOf(world.db, id)).toMatchObject({ by: "Ilda Marenzi", takenAt: null });
});

test("it is taken on once, by who was asked; or handed back with the reason, to who asked", async () => {
  const { id } = accepted(await ask("ilda", "tobia"));
  expect(codeOf(await takeCommission(world.act("ilda"), await revision(id)))).toBe("not-granted");
  accepted(await takeCommission(world.act("tobia"), await revision(id)));
  expect(codeOf(await takeCommission(world.act("tobia"), await revision(id)))).toBe("not-asked");
  expect(JSON.stringify(await heard(world, "ilda", id))).toContain("Tobia Rensk writes");
  const { id: other } = accepted(await ask("ilda", "tobia"));
  accepted(await handBack(world.act("tobia"), { ...(await revision(other)), note: "I am on leave." }));
  expect((await look(world, other)).piece.authorId).toBe(world.id("ilda"));
  expect(await commissionOf(world.db, other)).toBeNull();
  expect((await heard(world, "ilda", other))[0]).toMatchObject({ note: "I am on leave." });
});

test("only who passes work on asks others to write, and only who works here is asked", async () => {
  expect(codeOf(await ask("tobia", "noor"))).toBe("not-granted");
  expect(await writersFor(world.db, await world.viewer("tobia"))).toEqual([]);
  const writers = await writersFor(world.db, await world.viewer("ilda"));
  expect(writers.map((one) => one.name)).toContain("Tobia Rensk");
  await world.db
    .update(person)
    .set({ active: false })
    .where(eq(person.id, world.id("noor")));
  expect(codeOf(await ask("ilda", "noor"))).toBe("unknown-person");
  // Who could not begin it themselves could not open it.
  expect(codeOf(await ask("ilda", "wim"))).toBe("unable");
  expect(writers.map((one) => one.name)).not.toContain("Wim Aldera");
});
