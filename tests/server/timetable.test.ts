import { SITE } from "#core/release/channel.ts";
import { lookoutSchema } from "#core/release/findings.ts";
import { alwaysOpen } from "#core/release/window.ts";
import { doDue } from "#server/jobs/loop.ts";
import { choose, listPieces } from "#server/pieces/lists.ts";
import { saveChannel } from "#server/release/channel-changes.ts";
import { planRelease } from "#server/release/commands.ts";
import { endAt } from "#server/release/ending.ts";
import { wishFor } from "#server/release/wishes.ts";
import { confirmAll, moveAll } from "#server/schedule/moving.ts";
import { besideTimetable, rowsOf, timetable } from "#server/schedule/timetable.ts";
import { bulletin, editionAt, fill } from "../support/edition.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  approved,
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
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const SPAN = { from: MORNING - DAY, until: MORNING + 40 * DAY };
const revisionOf = async (id: string) => (await look(world, id)).piece.revision;
const seen = async (who: string, more: object = {}) =>
  timetable(world.db, await world.viewer(who), { ...SPAN, ...more });
const standing = async (who: string) => (await seen(who)).marks.map((mark) => `${mark.title}: ${mark.what}`);

async function inReview(title: string) {
  const { id } = await begin(world, title);
  accepted(await send(world, id, "tobia", "send"));
  return id;
}
const plan = async (id: string, at: number, who = "ilda", more: object = {}) =>
  accepted(await planRelease(world.act(who), { pieceId: id, revision: await revisionOf(id), at, ...more }));

test("what is planned, wished for, left and ends is marked; who may not see a piece sees no mark of it", async () => {
  const planned = await approved(world, "Planned");
  const left = await approved(world, "Left");
  const wished = await inReview("Wished for");
  await approved(world, "Undated");
  await plan(planned, MORNING + 3 * DAY);
  await plan(left, MORNING + HOUR);
  await doDue(worker(world, MORNING + HOUR), "release");
  accepted(
    await endAt(world.act("ilda"), { pieceId: left, revision: await revisionOf(left), endsAt: MORNING + 9 * DAY }),
  );
  const wish = { pieceId: wished, revision: await revisionOf(wished), at: MORNING + 2 * HOUR };
  accepted(await wishFor(world.act("ilda"), wish));
  expect(await standing("ilda")).toEqual(["Left: left", "Wished for: wished", "Planned: planned", "Left: ends"]);
  const { marks } = await seen("ilda");
  expect(marks[1]).toMatchObject({ ready: false, movable: true });
  expect(marks[1]?.expected).toBeGreaterThan(MORNING + 2 * HOUR);
  expect(marks[1]?.way?.legs.map((leg) => leg.key)).toEqual(["check", "ready", "live"]);
  expect(await standing("dario")).toEqual([]);
  expect((await seen("wim")).marks.every((mark) => !mark.movable)).toBe(true);
  expect(await rowsOf(world.db, await world.viewer("dario"), marks)).toEqual([]);
  expect((await seen("ilda", { section: "bulletin" })).marks).toHaveLength(4);
  expect((await seen("ilda", { section: "magazine" })).marks).toEqual([]);
  const beside = await besideTimetable(world.db, await world.viewer("ilda"), {});
  expect(beside.undated.map((one) => one.title)).toEqual(["Undated"]);
  expect((await besideTimetable(world.db, await world.viewer("dario"), {})).undated).toEqual([]);

  const late = await listPieces(world.db, await world.viewer("ilda"), { planLate: true });
  expect(late.rows.map((row) => row.title)).toEqual(["Wished for"]);
  const chosen = await choose(world.db, await world.viewer("ilda"), { filter: { planLate: true } }, 10);
  expect(chosen.map((one) => one.id)).toEqual([wished]);
  expect((await listPieces(world.db, await world.viewer("dario"), { planLate: true })).rows).toEqual([]);
});

test("editions stand in their channel's lane, filled as far as they are ready; a whole one is moved, with what was wished for with it", async () => {
  await bulletin(world);
  const [one, two] = [await approved(world, "One"), await inReview("Two")];
  accepted(await fill(world, 48, [one, two]));
  // What leaves with an edition is marked with it alone.
  const { marks, channels } = await seen("ilda");
  expect(marks.map((mark) => mark.title)).toEqual([
    "Bulletin 48",
    "Bulletin 49",
    "Bulletin 50",
    "Bulletin 51",
    "Bulletin 52",
    "Bulletin 53",
  ]);
  expect(marks[0]).toMatchObject({ channel: "bulletin", what: "edition", movable: true, edition: { ready: 1, of: 2 } });
  expect(marks[0]?.edition?.coming.map((each) => each.title)).toEqual(["Two"]);
  expect(channels.map(({ key, gathers }) => [key, gathers])).toEqual([
    ["site", false],
    ["bulletin", true],
  ]);
  expect((await seen("dario")).marks[0]).toMatchObject({ movable: false, edition: { ready: 0, of: 0 } });
  expect((await besideTimetable(world.db, await world.viewer("ilda"), {})).undated).toEqual([]);

  const { id: editionId, revision, at } = await editionAt(world, 48);
  const moved = await moveAll(world.act("kai"), [{ editionId, revision, at: at + DAY }]);
  expect(moved).toMatchObject([{ id: `edition ${editionId}`, title: "Bulletin 48", before: at, refused: null }]);
  expect((await look(world, two)).piece.publishAt).toBe(at + DAY);
  // Who still sees it where it was is told, and moves nothing.
  const [late] = await moveAll(world.act("ilda"), [{ editionId, revision, at: at + 3 * DAY }]);
  expect(late?.refused).toMatch(/changed the edition meanwhile/);
  const [theirs] = await moveAll(world.act("tobia"), [{ editionId, revision: revision + 1, at: at + 3 * DAY }]);
  expect(theirs?.refused).toMatch(/No role of yours/);
  expect((await editionAt(world, 48)).at).toBe(at + DAY);
});

test("several are moved, each answered for: what is ready by its release, the rest by its wish; what was moved meanwhile stays", async () => {
  const [one, two, stale, hidden] = [
    await approved(world, "One"),
    await inReview("Two"),
    await approved(world, "Stale"),
    (await begin(world, "Only mine", "tobia", MORNING, true)).id,
  ];
  await plan(one, MORNING + DAY, "ilda", { endsAt: MORNING + 30 * DAY });
  const before = await revisionOf(stale);
  await plan(stale, MORNING + DAY);
  const at = MORNING + 5 * DAY;
  const done = await moveAll(world.act("ilda"), [
    { pieceId: one, revision: await revisionOf(one), at },
    { pieceId: two, revision: await revisionOf(two), at },
    { pieceId: stale, revision: before, at },
    { pieceId: hidden, revision: 1, at },
  ]);
  expect(done.map(({ title, refused }) => [title, refused === null])).toEqual([
    ["One", true],
    ["Two", true],
    ["Stale", false],
    ["", false],
  ]);
  expect(done[0]?.before).toBe(MORNING + DAY);
  expect(done[3]).toMatchObject({ before: null });
  const { marks } = await seen("ilda");
  expect(marks.filter((mark) => mark.at === at).map((mark) => mark.title)).toEqual(["One", "Two"]);
  // Its end stays with it.
  await doDue(worker(world, at), "release");
  expect((await seen("ilda")).marks.map((mark) => `${mark.title}: ${mark.what}`)).toContain("One: ends");
});

test("proposed dates are confirmed together by who may; a clash and a gap are found in what the viewer sees", async () => {
  const ids = [await approved(world, "First"), await approved(world, "Second")];
  const [first = "", second = ""] = ids;
  // Kai may plan, and is not named on the step to readers: it is a proposal.
  for (const id of ids) await plan(id, MORNING + 2 * DAY, "kai");
  const saved = await saveChannel(world.act("ilda"), {
    key: SITE,
    name: "Reader site",
    windows: alwaysOpen("Europe/Rome"),
    lookout: lookoutSchema.parse({ perDay: 1, rhythms: [{ of: "all", id: "", days: 10 }] }),
    revision: 0,
  });
  accepted(saved);
  const { findings } = await seen("ilda");
  expect(findings.map((one) => one.code)).toEqual(["too-many", "gap"]);
  expect((await seen("dario")).findings.map((one) => one.code)).toEqual(["gap"]);
  const waiting = await besideTimetable(world.db, await world.viewer("ilda"), {});
  expect(waiting.proposed.map((one) => [one.title, one.confirmable])).toEqual([
    ["First", true],
    ["Second", true],
  ]);
  const orders = [
    { pieceId: first, revision: await revisionOf(first) },
    { pieceId: second, revision: 1 },
  ];
  const done = await confirmAll(world.act("ilda"), orders);
  expect(done.map((one) => one.refused === null)).toEqual([true, false]);
  expect(await standing("ilda")).toEqual(["First: planned", "Second: proposed"]);
});
