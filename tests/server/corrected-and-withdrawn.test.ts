import { and, eq, isNull } from "drizzle-orm";
import { edition, release, released } from "#server/db/schema/index.ts";
import { leaveEdition } from "#server/editions/leaving.ts";
import { editionPage } from "#server/editions/page.ts";
import { editionsHeld, editionsWaiting } from "#server/editions/queries.ts";
import { signEdition } from "#server/editions/signing.ts";
import { doDue } from "#server/jobs/loop.ts";
import { piecePage } from "#server/pieces/page.ts";
import { atomFeed, jsonFeed } from "#server/reader/feeds.ts";
import { archiveMonths, monthNamed, readerList } from "#server/reader/lists.ts";
import { planRelease, withdrawPiece } from "#server/release/commands.ts";
import { endAt } from "#server/release/ending.ts";
import { setEmbargo } from "#server/release/wishes.ts";
import { bulletin, editionAt, fill, inIt } from "../support/edition.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  approve,
  approved,
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

/** What readers keep and lose where two things meet: a correction and an end, a withdrawal and an edition, a hold and its time. */
let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const at = (text: string) => Date.parse(text);
const THURSDAY = at("2026-11-26T06:00Z");
const on = (id: string) => onPiece(world, id);
const plan = async (id: string, when: number, more: object = {}, now = MORNING) =>
  planRelease(world.act("ilda", now), { ...(await on(id)), at: when, ...more });
const planned = async (id: string) => (await world.db.select().from(release).where(eq(release.pieceId, id))).at(-1);
const shown = async (id: string) =>
  (
    await world.db
      .select()
      .from(released)
      .where(and(eq(released.pieceId, id), isNull(released.until)))
  ).at(-1);
const withdraw = async (id: string, now = MORNING) =>
  withdrawPiece(world.act("ilda", now), { ...(await on(id)), note: "Wrong hut.", notice: "Withdrawn." });
/** Takes a live piece back, changes it, and has it approved again. */
async function corrected(id: string, words: string, now: number) {
  accepted(await send(world, id, "tobia", "revise", { now }));
  accepted(await save(world, id, "tobia", words, undefined, now));
  accepted(await send(world, id, "tobia", "send", { now }));
  await approve(world, id, "wim", now);
}

describe("a correction", () => {
  const ENDS = MORNING + 10 * DAY;
  async function liveUntil() {
    const id = await approved(world);
    accepted(await plan(id, MORNING + HOUR, { endsAt: ENDS }));
    await doDue(worker(world, MORNING + HOUR), "release");
    return id;
  }

  test.each<[string, (id: string, now: number) => Promise<unknown>]>([
    ["released by hand", (id, now) => send(world, id, "ilda", "release", { now })],
    [
      "planned without a word about the end",
      async (id, now) => {
        accepted(await plan(id, now + HOUR, {}, now));
        await doDue(worker(world, now + HOUR), "release");
      },
    ],
  ])("%s keeps the end of what it corrects", async (_, release) => {
    const id = await liveUntil();
    await corrected(id, "Other words.", MORNING + DAY);
    await release(id, MORNING + DAY);
    expect(await shown(id)).toMatchObject({ endsAt: ENDS });
    expect((await shown(id))?.from).toBeGreaterThan(MORNING + HOUR);
    await doDue(worker(world, ENDS), "ending");
    expect(await shown(id)).toBeUndefined();
  });

  test("has another end, or none, where somebody says so; an end changed meanwhile is the new one's too", async () => {
    const id = await liveUntil();
    await corrected(id, "Other words.", MORNING + DAY);
    const { slug } = (await look(world, id)).piece;
    expect(await piecePage(world.db, await world.viewer("ilda"), slug)).toMatchObject({ endsAt: ENDS });
    accepted(await plan(id, MORNING + 2 * DAY, {}, MORNING + DAY));
    accepted(await endAt(world.act("ilda", MORNING + DAY), { ...(await on(id)), endsAt: ENDS + DAY }));
    expect(await planned(id)).toMatchObject({ endsAt: ENDS + DAY });
    accepted(await plan(id, MORNING + 2 * DAY, { endsAt: null }, MORNING + DAY));
    await doDue(worker(world, MORNING + 2 * DAY), "release");
    expect(await shown(id)).toMatchObject({ endsAt: null });
  });

  test("released by hand before its planned time keeps the end it was planned with", async () => {
    const id = await approved(world);
    accepted(await plan(id, MORNING + DAY, { endsAt: ENDS }));
    accepted(await send(world, id, "ilda", "release"));
    expect(await shown(id)).toMatchObject({ endsAt: ENDS });
  });

  test("moves no piece to the top of lists and feeds, nor into another month; when it was changed is said", async () => {
    const out = async (title: string, now: number) => {
      const id = await approved(world, title);
      accepted(await send(world, id, "ilda", "release", { now }));
      return id;
    };
    const old = await out("Old", MORNING);
    await out("Newer", MORNING + DAY);
    const december = at("2026-12-03T09:00Z");
    await corrected(old, "Other words.", december);
    accepted(await send(world, old, "ilda", "release", { now: december }));
    expect((await readerList(world.db, {}, null))?.pieces.map((one) => one.title)).toEqual(["Newer", "Old"]);
    expect(await archiveMonths(world.db)).toMatchObject([{ month: "2026-11", pieces: 2 }]);
    const month = await monthNamed(world.db, "2026-12");
    expect((await readerList(world.db, month ?? {}, null))?.pieces).toEqual([]);
    const feed = await jsonFeed(world.db, "http://elenco.test");
    expect(feed).toMatchObject({
      items: [
        { title: "Newer" },
        {
          title: "Old",
          date_published: new Date(MORNING).toISOString(),
          date_modified: new Date(december).toISOString(),
        },
      ],
    });
    // The feed itself was changed last when the correction came.
    const atom = await atomFeed(world.db, "http://elenco.test");
    expect(/<updated>([^<]*)/.exec(atom)?.[1]).toBe(new Date(december).toISOString());
  });
});

describe("what was withdrawn", () => {
  beforeEach(() => bulletin(world));
  async function withdrawn() {
    const id = await approved(world, "Winter room keys");
    accepted(await send(world, id, "ilda", "release"));
    accepted(await withdraw(id));
    return id;
  }
  const page = async () => {
    const where = { files: world.files, baseUrl: "http://elenco.test" };
    return editionPage(world.db, await world.viewer("ilda"), "bulletin", 48, where);
  };

  test("is not offered to an edition and does not come into one", async () => {
    const id = await withdrawn();
    expect((await page())?.coming).toEqual([]);
    expect(codeOf(await fill(world, 48, [id]))).toBe("withdrawn");
    const bulletinPlan = await planRelease(world.act("ilda"), { ...(await on(id)), at: MORNING + DAY });
    expect(codeOf(bulletinPlan)).toBe("accepted");
  });

  test("goes out of the editions that are being filled, and ends what was planned for it, on record", async () => {
    const id = await approved(world, "Winter room keys");
    accepted(await send(world, id, "ilda", "release"));
    accepted(await fill(world, 48, [id]));
    accepted(await withdraw(id));
    expect(await inIt(world, 48)).toEqual([]);
    const { passage } = (await piecePage(world.db, await world.viewer("ilda"), (await look(world, id)).piece.slug)) as {
      passage: { words: string }[];
    };
    expect(passage.map((one) => one.words)).toContain("took it out of Bulletin 48: it was withdrawn");
  });

  test("holds the edition that was signed with it, and lets it go once readers have it again", async () => {
    const id = await approved(world, "Winter room keys");
    accepted(await send(world, id, "ilda", "release"));
    accepted(await fill(world, 48, [id]));
    for (const who of ["ilda", "lene"]) {
      const { id: editionId, revision } = await editionAt(world, 48);
      accepted(await signEdition(world.act(who), { editionId, revision }));
    }
    accepted(await withdraw(id));
    await doDue(worker(world, MORNING), "edition-look");
    const { id: editionId } = await editionAt(world, 48);
    expect(accepted(await leaveEdition(world.act(null, THURSDAY), editionId))).toBe("held");
    expect((await editionAt(world, 48)).holds).toMatchObject([{ pieceId: id, holds: [{ code: "withdrawn" }] }]);
    accepted(await plan(id, THURSDAY + HOUR, {}, THURSDAY + 1));
    await doDue(worker(world, THURSDAY + HOUR), "release");
    await doDue(worker(world, THURSDAY + HOUR), "edition-look");
    expect(await editionAt(world, 48)).toMatchObject({ status: "signed", holds: [], at: THURSDAY + HOUR });
    await doDue(worker(world, THURSDAY + HOUR), "edition");
    expect(await editionAt(world, 48)).toMatchObject({ status: "released" });
  });

  test("with other words it may go where it likes", async () => {
    const id = await withdrawn();
    await corrected(id, "Other words.", MORNING + HOUR);
    accepted(await fill(world, 48, [id]));
    expect((await page())?.contents?.checks.missing).toEqual([]);
  });
});

describe("what holds a release is asked again", () => {
  test("an embargo that is lifted after the time lets it go at once, and its owners hear of it", async () => {
    const id = await approved(world);
    accepted(await plan(id, MORNING + HOUR));
    accepted(await setEmbargo(world.act("ilda"), { ...(await on(id)), until: MORNING + DAY, note: "" }));
    await doDue(worker(world, MORNING + HOUR), "release");
    expect(await planned(id)).toMatchObject({ status: "held", holds: [{ code: "embargo" }] });
    const later = MORNING + 2 * HOUR;
    accepted(await setEmbargo(world.act("ilda", later), { ...(await on(id)), until: null, note: "" }));
    expect(await planned(id)).toMatchObject({ status: "planned", holds: [], at: later });
    expect((await heard(world, "tobia", id)).map((one) => one.headline).join()).toMatch(/Nothing holds the release/);
    await doDue(worker(world, later), "release");
    expect(await shown(id)).toMatchObject({ from: later });
  });

  test("an embargo that runs out by itself does, too", async () => {
    const id = await approved(world);
    accepted(await plan(id, MORNING + HOUR));
    accepted(await setEmbargo(world.act("ilda"), { ...(await on(id)), until: MORNING + DAY, note: "" }));
    await doDue(worker(world, MORNING + HOUR), "release");
    await doDue(worker(world, MORNING + DAY - 1), "release");
    expect(await shown(id)).toBeUndefined();
    await doDue(worker(world, MORNING + DAY), "release");
    await doDue(worker(world, MORNING + DAY), "release");
    expect(await shown(id)).toMatchObject({ from: MORNING + DAY });
  });
});

test("a held edition is seen by all it concerns: who signs it, who signed, on their turn and among what waits", async () => {
  await bulletin(world);
  accepted(await fill(world, 48, [await approved(world)], "kai"));
  const { id, revision } = await editionAt(world, 48);
  accepted(await signEdition(world.act("ilda"), { editionId: id, revision }));
  expect(accepted(await leaveEdition(world.act(null, THURSDAY), id))).toBe("held");
  for (const who of ["ilda", "lene", "kai"])
    expect((await heard(world, who)).map((one) => one.headline).join()).toMatch(/Bulletin 48/);
  for (const who of ["ilda", "lene"])
    expect(await editionsWaiting(world.db, await world.viewer(who))).toMatchObject([
      { name: "Bulletin 48", held: ["It is not signed off."] },
    ]);
  expect(await editionsHeld(world.db, await world.viewer("ilda"))).toMatchObject([
    { name: "Bulletin 48", will: false, at: THURSDAY },
  ]);
  const { revision: now } = await editionAt(world, 48);
  accepted(await signEdition(world.act("lene", THURSDAY + HOUR), { editionId: id, revision: now }));
  expect((await world.db.select().from(edition).where(eq(edition.id, id)))[0]).toMatchObject({
    status: "signed",
    at: THURSDAY + HOUR,
  });
  await doDue(worker(world, THURSDAY + HOUR), "edition");
  expect(await editionAt(world, 48)).toMatchObject({ status: "released" });
});
