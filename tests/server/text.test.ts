import { and, desc, eq } from "drizzle-orm";
import { patchBetween } from "#core/text/splice.ts";
import { ledger, piece, stay, task, textHolder, version } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { decide } from "#server/passage/deciding.ts";
import { holderOf } from "#server/piece/holder.ts";
import { remark } from "#server/remarks/commands.ts";
import { holdText, letGoOfText, nameVersion, restoreVersion, savePiece } from "#server/text/commands.ts";
import { noteLook, presentText, versionsPage } from "#server/text/queries.ts";
import { abandonRevision } from "#server/text/revision.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  HOUR,
  heard,
  look,
  MORNING,
  makeWorld,
  paragraph,
  save,
  send,
  type World,
  windowOf,
} from "../support/world.ts";

let world: World;
const MINUTE = 60_000;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const later = (minutes: number) => MORNING + minutes * MINUTE;
const numbers = async (pieceId: string) =>
  (await world.db.select().from(version).where(eq(version.pieceId, pieceId)).orderBy(desc(version.number))).map(
    (row) => row.number,
  );
/** Saves new words as Tobia so many minutes after the morning. */
const type = async (pieceId: string, words: string, minutes: number) =>
  accepted(await save(world, pieceId, "tobia", words, undefined, later(minutes)));
const slugOf = async (pieceId: string) => (await look(world, pieceId)).piece.slug;
const pageOf = async (pieceId: string, who: string, more = {}, now = MORNING) =>
  versionsPage(world.db, await world.viewer(who, now), await slugOf(pieceId), {
    before: null,
    pair: null,
    find: "",
    ...more,
  });

describe("versions", () => {
  test("words written in a row are one version; a pause begins the next", async () => {
    const { id } = await begin(world);
    await type(id, "One.", 1);
    await type(id, "One two.", 2);
    await type(id, "One two three.", 9);
    expect(await numbers(id)).toEqual([2, 1]);
    expect((await look(world, id)).version.content.fields.body).toEqual(paragraph("One two three."));
    await type(id, "After the pause.", 20);
    expect(await numbers(id)).toEqual([3, 2, 1]);
  });

  test.each<[string, (id: string) => Promise<unknown>]>([
    ["a name", async (id) => nameVersion(world.act("tobia"), { pieceId: id, number: 2, name: "Before the snow" })],
    ["somebody who looked", async (id) => noteLook(world.db, await world.viewer("ilda", later(2)), id)],
  ])("%s ends a version: what was there stays", async (_, act) => {
    const { id } = await begin(world);
    await type(id, "Mine.", 1);
    await act(id);
    await type(id, "Mine, longer.", 3);
    const [kept] = await world.db
      .select()
      .from(version)
      .where(and(eq(version.pieceId, id), eq(version.number, 2)));
    expect(kept?.content.fields.body).toEqual(paragraph("Mine."));
    expect(await numbers(id)).toEqual([3, 2, 1]);
  });

  test("what was sent and decided on is never written over", async () => {
    const { id } = await begin(world);
    await type(id, "Sent.", 1);
    accepted(await send(world, id, "tobia", "send", { now: later(2) }));
    await type(id, "Changed in the review.", 3);
    await type(id, "Changed again.", 4);
    expect(await numbers(id)).toEqual([3, 2, 1]);
    const { version: read } = await look(world, id);
    const said = { pieceId: id, versionHash: read.hash, verdict: "return" as const, note: "Not yet." };
    accepted(await decide(world.act("wim", later(5)), said));
    await type(id, "After the return.", 6);
    expect(await numbers(id)).toEqual([4, 3, 2, 1]);
  });

  test("two texts that grew from one: the later is refused, and told what is there", async () => {
    const { id } = await begin(world);
    const grown = (await look(world, id)).version;
    await type(id, "First.", 1);
    const patch = patchBetween(grown.content, { ...grown.content, title: "Other" });
    const stale = await savePiece(world.act("tobia", later(2)), {
      pieceId: id,
      window: windowOf("tobia"),
      base: grown.hash,
      patch: patch as never,
    });
    expect(codeOf(stale)).toBe("stale");
    const there = await presentText(world.db, await world.viewer("tobia"), await slugOf(id));
    expect(there).toMatchObject({
      number: 2,
      author: "Tobia Rensk",
      content: { fields: { body: paragraph("First.") } },
    });
    expect(
      await presentText(
        world.db,
        await world.viewer("gus"),
        await slugOf((await begin(world, "P", "tobia", MORNING, true)).id),
      ),
    ).toBeNull();
  });

  test("the list says who, when and how much, and what to compare with; another's private piece is nowhere", async () => {
    const { id } = await begin(world);
    await noteLook(world.db, await world.viewer("ilda", MORNING), id);
    await type(id, "The keys hang at the mill and nowhere else.", 1);
    await noteLook(world.db, await world.viewer("ilda", later(60)), id);
    const page = await pageOf(id, "ilda", { pair: [1, 2] }, later(61));
    expect(page?.versions.map(({ number, author, words, change }) => [number, author, words, change])).toEqual([
      [2, "Tobia Rensk", 9, 2],
      [1, "Tobia Rensk", 7, null],
    ]);
    expect(page?.marks).toEqual({ looked: 1, approved: null, live: null });
    expect(page?.pair?.map((one) => one?.number)).toEqual([1, 2]);
    expect((await pageOf(id, "ilda", { pair: [1, 9] }))?.pair?.[1]).toBeNull();
    const hidden = await begin(world, "Hidden", "tobia", MORNING, true);
    expect(await pageOf(hidden.id, "ilda")).toBeNull();
  });

  test("a sentence that once was there is found, with the versions that had it", async () => {
    const { id } = await begin(world);
    await type(id, "The Old Toll House keeps a visitors’ book.", 1);
    await type(id, "The old toll house keeps a visitors’ book and a cat.", 20);
    await type(id, "Nothing of that.", 40);
    const find = async (words: string) => (await pageOf(id, "ilda", { find: words }))?.findings;
    expect(await find("old toll  house")).toMatchObject([{ from: 2, until: 3, still: false, field: "body" }]);
    expect(await find("nothing of")).toMatchObject([{ from: 4, until: 4, still: true }]);
    expect(await find("a cat%")).toEqual([]);
    expect(await find("ab")).toEqual([]);
  });

  test("an earlier version comes back as a new one, or a passage of it", async () => {
    const { id } = await begin(world);
    await type(id, "Only this.", 1);
    const restore = async (what: object, base?: string) =>
      restoreVersion(world.act("tobia", later(30)), {
        pieceId: id,
        number: 1,
        base: base ?? (await look(world, id)).version.hash,
        what: what as never,
      });
    expect(codeOf(await restore({ field: "body", block: { from: 7, at: 0 } }))).toBe("not-found");
    expect(codeOf(await restore({ all: true }, "0".repeat(64)))).toBe("stale");
    accepted(await restore({ field: "body", block: { from: 0, at: 1 } }));
    const { version: both } = await look(world, id);
    expect(both).toMatchObject({ number: 3, name: "from version 1" });
    expect(both.content.fields.body).toEqual({
      type: "doc",
      content: ["Only this.", "The keys hang at the bus office."].flatMap((text) => paragraph(text).content ?? []),
    });
    accepted(await restore({ all: true }));
    expect((await look(world, id)).version.content.fields.body).toEqual(paragraph("The keys hang at the bus office."));
    expect(await numbers(id)).toEqual([4, 3, 2, 1]);
  });
});

describe("one holder of a text", () => {
  const hold = (pieceId: string, who: string, takes = false, now = MORNING, window = windowOf(who)) =>
    holdText(world.act(who, now), { pieceId, window, takes });
  /** A piece in a review, where its writer and the copy editors may write. */
  async function shared() {
    const { id } = await begin(world);
    accepted(await send(world, id, "tobia", "send"));
    return id;
  }

  test("who writes first holds it; another is refused with the name; two windows of one person are two", async () => {
    const id = await shared();
    accepted(await hold(id, "tobia"));
    const refused = await hold(id, "petra");
    expect(refused).toMatchObject({ ok: false, refusal: { code: "held", who: ["Tobia Rensk"] } });
    expect(codeOf(await save(world, id, "petra", "Hers."))).toBe("held");
    expect(codeOf(await hold(id, "tobia", false, MORNING, windowOf("tobia again")))).toBe("held");
    accepted(await save(world, id, "tobia", "His."));
  });

  test("taking it over tells who held it, keeps what they saved, and turns their next save away", async () => {
    const id = await shared();
    accepted(await save(world, id, "tobia", "His words."));
    accepted(await hold(id, "petra", true));
    expect(codeOf(await save(world, id, "tobia", "His later words."))).toBe("held");
    accepted(await save(world, id, "petra", "Her words."));
    expect((await heard(world, "tobia", id))[0]?.headline).toContain("Petra Holmqvist took over the text");
    const [kept] = await world.db
      .select()
      .from(version)
      .where(and(eq(version.pieceId, id), eq(version.number, 2)));
    expect(kept?.content.fields.body).toEqual(paragraph("His words."));
  });

  test("an idle window lets go by itself, a closed one at once, a hand-over always", async () => {
    const id = await shared();
    accepted(await hold(id, "tobia"));
    expect(await holderOf(world.db, id, later(1))).toMatchObject({ name: "Tobia Rensk" });
    expect(await holderOf(world.db, id, later(3))).toBeNull();
    accepted(await hold(id, "petra", false, later(3)));
    accepted(await letGoOfText(world.act("tobia", later(3)), { pieceId: id, window: windowOf("petra") }));
    expect(await holderOf(world.db, id, later(3))).toMatchObject({ name: "Petra Holmqvist" });
    accepted(await letGoOfText(world.act("petra", later(3)), { pieceId: id, window: windowOf("petra") }));
    expect(await holderOf(world.db, id, later(3))).toBeNull();
    accepted(await hold(id, "petra", false, later(4)));
    const { version: read } = await look(world, id);
    accepted(
      await decide(world.act("wim", later(4)), { pieceId: id, versionHash: read.hash, verdict: "approve", note: "" }),
    );
    expect(await world.db.select().from(textHolder).where(eq(textHolder.pieceId, id))).toEqual([]);
  });

  test("a clock that jumps, forward or back, leaves nobody locked out and no version written over", async () => {
    const id = await shared();
    accepted(await hold(id, "tobia", false, later(60)));
    expect(await holderOf(world.db, id, later(0))).toBeNull();
    accepted(await save(world, id, "petra", "Hers, an hour earlier.", undefined, later(0)));
    expect(await holderOf(world.db, id, later(0))).toMatchObject({ name: "Petra Holmqvist" });
    const before = await numbers(id);
    accepted(await save(world, id, "petra", "Hers, a day later.", undefined, later(24 * 60)));
    expect(await numbers(id)).toEqual([(before[0] ?? 0) + 1, ...before]);
  });

  test("of two who take it at once exactly one has it in the end, and both saves cannot pass", async () => {
    const id = await shared();
    await Promise.all([hold(id, "petra", true), hold(id, "tobia", true)]);
    const both = await Promise.all([save(world, id, "petra", "Hers."), save(world, id, "tobia", "His.")]);
    expect(both.map(codeOf).sort()).toEqual(["accepted", "held"]);
  });
});

describe("a revision beside what readers see", () => {
  async function revised() {
    const { id } = await begin(world);
    accepted(await send(world, id, "tobia", "send"));
    const { version: read } = await look(world, id);
    accepted(await decide(world.act("wim"), { pieceId: id, versionHash: read.hash, verdict: "approve", note: "" }));
    accepted(await send(world, id, "ilda", "release"));
    accepted(await send(world, id, "tobia", "revise", { now: MORNING + HOUR }));
    accepted(await save(world, id, "tobia", "A half-done change.", undefined, MORNING + HOUR));
    return id;
  }
  const abandon = async (pieceId: string, who: string) =>
    abandonRevision(world.act(who, MORNING + 2 * HOUR), {
      pieceId,
      revision: (await look(world, pieceId)).piece.revision,
      note: "The bridge stays closed.",
    });

  test("given up, the piece is live as before, and the words of the revision stay versions", async () => {
    const id = await revised();
    expect(codeOf(await abandon(id, "petra"))).toBe("not-editor");
    const before = (await look(world, id)).piece;
    accepted(await abandon(id, "tobia"));
    const { piece: row, version: present } = await look(world, id);
    expect(row).toMatchObject({
      stateKey: "live",
      stateKind: "live",
      liveVersionId: before.liveVersionId,
      dueAt: null,
    });
    expect(present.content.fields.body).toEqual(paragraph("The keys hang at the bus office."));
    expect(await numbers(id)).toEqual([3, 2, 1]);
    const [last] = await world.db.select().from(stay).where(eq(stay.pieceId, id)).orderBy(desc(stay.id)).limit(1);
    expect(last?.note).toBe("The bridge stays closed.");
    const entries = await world.db.select().from(ledger).where(eq(ledger.pieceId, id));
    expect(entries.map((one) => one.action)).toContain("revision.abandoned");
  });

  test("where no revision is under way there is nothing to give up", async () => {
    const { id } = await begin(world);
    expect(codeOf(await abandon(id, "tobia"))).toBe("no-revision");
    const live = await revised();
    accepted(await abandon(live, "tobia"));
    expect(codeOf(await abandon(live, "tobia"))).toBe("no-revision");
    expect(await world.db.select().from(piece).where(eq(piece.id, live))).toHaveLength(1);
  });
});

describe("old versions are thinned out", () => {
  const DAY = 24 * HOUR;
  const thin = (now: number) => doDue(worker(world, now), "thinning");
  const written = async () => {
    const { id } = await begin(world);
    for (const [i, minutes] of [20, 40, 60, 80].entries()) await type(id, `Draft ${i}.`, minutes);
    return id;
  };

  test("after thirty days, and only those nobody relies on", async () => {
    const id = await written();
    accepted(await nameVersion(world.act("tobia"), { pieceId: id, number: 3, name: "the long one" }));
    accepted(await save(world, id, "tobia", "Next day.", undefined, later(0) + DAY));
    await thin(MORNING + 29 * DAY);
    expect(await numbers(id)).toEqual([6, 5, 4, 3, 2, 1]);
    await thin(MORNING + 31 * DAY);
    expect(await numbers(id)).toEqual([6, 5, 3]);
    const [entry] = await world.db
      .select()
      .from(ledger)
      .where(and(eq(ledger.pieceId, id), eq(ledger.action, "versions.thinned")));
    expect(entry).toMatchObject({ actorId: null, before: { numbers: [1, 2, 4] }, after: { count: 3 } });
    await thin(MORNING + 32 * DAY);
    const [left] = await world.db
      .select()
      .from(task)
      .where(and(eq(task.kind, "thinning"), eq(task.subject, id)));
    expect(left).toBeUndefined();
  });

  test("what was sent and decided on stays, and a remark keeps nothing, however often it is tried", async () => {
    const id = await written();
    accepted(await send(world, id, "tobia", "send", { now: later(90) }));
    const { version: sent } = await look(world, id);
    accepted(await remark(world.act("wim", later(100)), { pieceId: id, body: "Which mill?" }));
    const back = { pieceId: id, versionHash: sent.hash, verdict: "return" as const, note: "Too short." };
    accepted(await decide(world.act("wim", later(110)), back));
    for (const minutes of [120, 140]) await type(id, `After ${minutes}.`, minutes);
    await Promise.all([thin(MORNING + 40 * DAY), thin(MORNING + 40 * DAY)]);
    expect(await numbers(id)).toEqual([7, 5]);
    expect((await verifyLedger(world.db)).broken).toBeNull();
  });
});
