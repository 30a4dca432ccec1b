import { eq } from "drizzle-orm";
import { SITE } from "#core/release/channel.ts";
import { NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { windowsSchema } from "#core/release/windows-format.ts";
import { piece, release } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { correctionsOf, listReleased, readReleased, readWithdrawn } from "#server/reader/queries.ts";
import { saveChannel } from "#server/release/channel-changes.ts";

import { planRelease, withdrawPiece } from "#server/release/commands.ts";
import { endAt } from "#server/release/ending.ts";
import { setEmbargo, wishFor } from "#server/release/wishes.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  approve,
  approved,
  begin,
  bindReview,
  codeOf,
  DAY,
  HOUR,
  heard,
  look,
  MORNING,
  makeWorld,
  onPiece,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const at = (text: string) => Date.parse(text);
const NIGHTS = { days: ["mon", "tue", "wed", "thu"], from: "22:00", until: "06:00" };

const on = (id: string) => onPiece(world, id);
const plan = async (id: string, wish: number, more: object = {}, who = "ilda") =>
  planRelease(world.act(who), { ...(await on(id)), at: wish, ...more });

let revision = 0;
beforeEach(() => {
  revision = 0;
});
const windows = async (more: object, who = "ilda") =>
  saveChannel(world.act(who), {
    key: SITE,
    name: "Reader site",
    windows: windowsSchema.parse({ format: "elenco.windows/1", zone: "Europe/Rome", ...more }),
    lookout: NOTHING_LOOKED_FOR,
    revision: revision++,
  });
const planned = async (id: string) => (await world.db.select().from(release).where(eq(release.pieceId, id)))[0];

test("what is wished for leaves at the next opening, with the spacing kept to what is planned; the wish is kept", async () => {
  accepted(await windows({ open: [NIGHTS], spacing: 10 }));
  const [one, two] = [await approved(world, "One"), await approved(world, "Two")];
  const wish = at("2026-11-25T10:00Z");
  expect(accepted(await plan(one, wish)).at).toBe(at("2026-11-25T21:00Z"));
  expect(accepted(await plan(two, wish)).at).toBe(at("2026-11-25T21:10Z"));
  expect(await planned(two)).toMatchObject({ at: at("2026-11-25T21:10Z"), wishedAt: wish });
  // Moved, it does not stand in its own way.
  expect(accepted(await plan(one, wish)).at).toBe(at("2026-11-25T21:00Z"));
});

test("outside the windows only who may and says why; a step by hand is held to the same", async () => {
  accepted(await windows({ open: [NIGHTS] }));
  const id = await approved(world);
  const noon = at("2026-11-25T11:00Z");
  expect(codeOf(await plan(id, noon, { outside: "A warning." }, "kai"))).toBe("not-granted");
  expect(accepted(await plan(id, noon, { outside: "A warning." })).at).toBe(noon);
  expect(await planned(id)).toMatchObject({ holds: [], outside: "A warning." });
  // MORNING is in the day: the step needs a reason, and somebody who may.
  expect(codeOf(await send(world, id, "ilda", "release"))).toBe("window");
  accepted(await send(world, id, "ilda", "release", { note: "A warning." }));
});

test("a release whose time comes late waits for the next window and leaves then, once", async () => {
  accepted(await windows({ open: [NIGHTS] }));
  const id = await approved(world);
  accepted(await plan(id, at("2026-11-25T20:00Z")));
  const row = await planned(id);
  const late = at("2026-11-26T09:00Z");
  accepted(await carryOut(world.act(null, late), [row?.id ?? ""]));
  expect(await planned(id)).toMatchObject({ status: "planned", at: at("2026-11-26T21:00Z") });
  expect(await listReleased(world.db)).toEqual([]);
  await Promise.all([1, 2].map(() => doDue(worker(world, at("2026-11-26T21:00Z")), "release")));
  expect(await listReleased(world.db)).toHaveLength(1);
});

test("other windows move what is planned for a closed time; one that never opens is refused; who may not", async () => {
  const id = await approved(world);
  accepted(await plan(id, at("2026-11-25T10:00Z")));
  expect(codeOf(await windows({ open: [NIGHTS] }, "kai"))).toBe("not-granted");
  revision = 0;
  expect(accepted(await windows({ open: [NIGHTS] })).moved).toBe(1);
  expect(await planned(id)).toMatchObject({ at: at("2026-11-25T21:00Z"), wishedAt: at("2026-11-25T10:00Z") });
  expect(codeOf(await windows({ open: [] }))).toBe("never-open");
  revision = 0;
  expect(codeOf(await windows({}))).toBe("stale");
});

test("under embargo nothing leaves, whoever plans it or takes the step; a plan it meets is held ahead of its time", async () => {
  const id = await approved(world);
  accepted(await plan(id, MORNING + 2 * HOUR));
  const until = MORNING + DAY;
  expect(codeOf(await setEmbargo(world.act("tobia"), { ...(await on(id)), until, note: "" }))).toBe("not-granted");
  accepted(await setEmbargo(world.act("ilda"), { ...(await on(id)), until, note: "Till the meeting." }));
  expect((await planned(id))?.holds.map((hold) => hold.code)).toEqual(["embargo"]);
  expect(codeOf(await plan(id, MORNING + 3 * HOUR))).toBe("embargo");
  expect(codeOf(await send(world, id, "ilda", "release"))).toBe("embargo");
  accepted(await setEmbargo(world.act("ilda"), { ...(await on(id)), until: null, note: "" }));
  expect((await planned(id))?.holds).toEqual([]);
  accepted(await send(world, id, "ilda", "release"));
});

test("what has an end goes by itself, its author hears of it before, and another end is another time", async () => {
  const id = await approved(world);
  const ends = MORNING + 10 * DAY;
  expect(codeOf(await plan(id, MORNING + HOUR, { endsAt: MORNING }))).toBe("ends-first");
  accepted(await plan(id, MORNING + HOUR, { endsAt: ends }));
  await doDue(worker(world, MORNING + HOUR), "release");
  expect(await listReleased(world.db)).toHaveLength(1);
  await doDue(worker(world, MORNING + 8 * DAY), "ending-soon");
  expect((await heard(world, "tobia", id))[0]?.headline).toMatch(/^Readers see “Winter room keys” until /);
  accepted(await endAt(world.act("ilda"), { ...(await on(id)), endsAt: ends + DAY }));
  await doDue(worker(world, ends), "ending");
  expect(await listReleased(world.db)).toHaveLength(1);
  await Promise.all([1, 2].map(() => doDue(worker(world, ends + DAY), "ending")));
  expect(await listReleased(world.db)).toEqual([]);
  const { slug, stateKey } = (await look(world, id)).piece;
  expect(await readWithdrawn(world.db, slug)).toMatchObject({
    notice: expect.stringMatching(/for a time/),
    instead: null,
  });
  expect(stateKey).toBe("live");
  expect(codeOf(await endAt(world.act("ilda"), { ...(await on(id)), endsAt: null }))).toBe("not-live");
});

test("readers of what was withdrawn are led to another piece they see; a correction is told of to them", async () => {
  const [old, anew] = [await approved(world, "Old keys"), await approved(world, "New keys")];
  for (const id of [old, anew]) accepted(await send(world, id, "ilda", "release"));
  const instead = (await look(world, anew)).piece.slug;
  const away = { ...(await on(old)), note: "Twice.", notice: "See the new page." };
  expect(codeOf(await withdrawPiece(world.act("ilda"), { ...away, instead: "nowhere" }))).toBe("not-found");
  accepted(await withdrawPiece(world.act("ilda"), { ...away, instead }));
  expect(await readWithdrawn(world.db, (await look(world, old)).piece.slug)).toMatchObject({ instead });
  accepted(await send(world, anew, "tobia", "revise"));
  accepted(await save(world, anew, "tobia", "The keys hang at the kiosk."));
  accepted(await send(world, anew, "tobia", "send"));
  await approve(world, anew);
  accepted(await plan(anew, MORNING + HOUR, { correction: "The keys are at the kiosk." }));
  await doDue(worker(world, MORNING + HOUR), "release");
  expect(await correctionsOf(world.db, anew)).toMatchObject([{ words: "The keys are at the kiosk." }]);
  expect(await readReleased(world.db, instead)).toMatchObject({ correction: "The keys are at the kiosk." });
});

test("a date is wished for while a piece is on its way; not of one that is planned, nor in the past", async () => {
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  expect(codeOf(await wishFor(world.act("wim"), { ...(await on(id)), at: MORNING + DAY }))).toBe("not-granted");
  expect(codeOf(await wishFor(world.act("ilda"), { ...(await on(id)), at: MORNING - DAY }))).toBe("past");
  accepted(await wishFor(world.act("ilda"), { ...(await on(id)), at: MORNING + 5 * DAY }));
  expect((await look(world, id)).piece.publishAt).toBe(MORNING + 5 * DAY);
  const stale = { pieceId: id, revision: 1, at: MORNING + 6 * DAY };
  expect(codeOf(await wishFor(world.act("ilda"), stale))).toBe("stale");
  const done = await approved(world, "Planned");
  accepted(await plan(done, MORNING + HOUR));
  expect(codeOf(await wishFor(world.act("ilda"), { ...(await on(done)), at: MORNING + DAY }))).toBe("planned");
  await world.db.update(piece).set({ publishAt: null }).where(eq(piece.id, done));
});
