import { and, eq } from "drizzle-orm";
import type { Block } from "#core/text/block.ts";
import { newId } from "#server/db/schema/columns.ts";
import { comment, notice, thread, version } from "#server/db/schema/index.ts";
import { reassignSeat } from "#server/passage/routing.ts";
import { allRemarks, piecePage } from "#server/pieces/page.ts";
import { remark, reply, rewordComment, sendRemarks, takeBack } from "#server/remarks/commands.ts";
import { askOpinion } from "#server/remarks/opinion.ts";
import { acceptProposals, setAside } from "#server/remarks/proposals.ts";
import { threadsOf } from "#server/remarks/queries.ts";
import { pinThread, settleThread } from "#server/remarks/settle.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  look,
  MORNING,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const WORDS = "The old path climbs to the hut. Cross the bridge at dawn.";

/** A piece in review with a sentence in it, and a place in that sentence. */
async function inReview() {
  const { id } = await begin(world);
  accepted(await save(world, id, "tobia", WORDS));
  accepted(await send(world, id, "tobia", "send"));
  const { slug } = (await look(world, id)).piece;
  return { id, slug };
}
const on = (words: string, text = WORDS) => {
  const start = text.indexOf(words);
  return { field: "body", range: { start, end: start + words.length } };
};
const said = (text: string): Block[] => [{ type: "text", text }];
const standing = async (id: string) => {
  const rows = await world.db.select().from(thread).where(eq(thread.pieceId, id)).orderBy(thread.createdAt, thread.id);
  return rows.map(({ anchor }) => (anchor?.gone ? "gone" : anchor?.exact));
};
const bodyOf = async (id: string) => JSON.stringify((await look(world, id)).version.content.fields.body);
const page = async (slug: string, who: string) => {
  const shown = await piecePage(world.db, await world.viewer(who), slug);
  if (!shown) throw new Error(`${who} sees no ${slug}`);
  return shown;
};
const tell = (who: string, id: string) =>
  world.db
    .select({ part: notice.part })
    .from(notice)
    .where(and(eq(notice.pieceId, id), eq(notice.personId, world.id(who))));

test("a remark stays on its words however the text moves, and is gone with them until they come back", async () => {
  const { id } = await inReview();
  accepted(await remark(world.act("wim"), { pieceId: id, body: "Which bridge?", place: on("the bridge") }));
  accepted(await remark(world.act("wim"), { pieceId: id, body: "How old?", place: on("old path") }));
  expect(await standing(id)).toEqual(["the bridge", "old path"]);
  const told = await threadsOf(world.db, id, await world.viewer("ilda"));
  expect(told.map(({ anchor, at, comments }) => [anchor?.exact, at, comments[0]?.at])).toEqual([
    ["the bridge", MORNING, MORNING],
    ["old path", MORNING, MORNING],
  ]);
  accepted(await save(world, id, "petra", "Now the old, narrow path climbs to the hut. Cross the bridge at dawn."));
  expect(await standing(id)).toEqual(["the bridge", "old, narrow path"]);
  accepted(await save(world, id, "petra", "Now the old, narrow path climbs to the hut."));
  expect(await standing(id)).toEqual(["gone", "old, narrow path"]);
  accepted(await save(world, id, "petra", "Now the old, narrow path climbs to the hut. Cross the bridge at dawn."));
  expect(await standing(id)).toEqual(["the bridge", "old, narrow path"]);
});

test("no remark keeps a version: words in a row go on in one", async () => {
  const { id } = await begin(world);
  accepted(await save(world, id, "tobia", WORDS, undefined, MORNING + 1_000));
  const before = (await look(world, id)).version.number;
  accepted(await remark(world.act("ilda", MORNING + 2_000), { pieceId: id, body: "Nice.", place: on("hut") }));
  accepted(await save(world, id, "tobia", `${WORDS} Then rest.`, undefined, MORNING + 3_000));
  expect((await look(world, id)).version.number).toBe(before);
});

test.each([
  ["words that are not there", { field: "body", range: { start: 4, end: 4_000 } }, "stale"],
  [
    "words that changed under the eyes",
    { ...on("the bridge"), quote: { exact: "the tunnel", prefix: "", suffix: "" } },
    "stale",
  ],
  ["a field the kind has not", { field: "nothing" }, "no-field"],
])("refused: a remark on %s", async (_, place, code) => {
  const { id } = await inReview();
  expect(codeOf(await remark(world.act("wim"), { pieceId: id, body: "Hm.", place }))).toBe(code);
  expect(codeOf(await remark(world.act("wim"), { pieceId: id, body: "Hm.", kind: "no-such" }))).toBe("no-kind");
});

test("words that moved while somebody wrote of them are found by what was read there", async () => {
  const { id } = await inReview();
  const quote = { exact: "the bridge", prefix: "Cross ", suffix: " at dawn." };
  accepted(await save(world, id, "petra", `First of all: ${WORDS}`));
  accepted(await remark(world.act("wim"), { pieceId: id, body: "Which?", place: { ...on("the bridge"), quote } }));
  expect(await standing(id)).toEqual(["the bridge"]);
});

test("of very many remarks the first come with the page, what is open before what is settled, and all when asked", async () => {
  const { id, slug } = await inReview();
  const at = MORNING;
  const rows = Array.from({ length: 120 }, (_, i) => ({
    id: newId(),
    pieceId: id,
    authorId: world.id("wim"),
    version: 1,
    createdAt: at + i,
    sentAt: at + i,
    settledAt: i < 60 ? at + i : null,
  }));
  await world.db.insert(thread).values(rows);
  await world.db.insert(comment).values(
    rows.map(({ id: threadId, pieceId, authorId, createdAt }, i) => ({
      id: newId(),
      threadId,
      pieceId,
      authorId,
      createdAt,
      body: `Remark ${i}.`,
    })),
  );
  const { threads, further } = await page(slug, "petra");
  expect([threads.length, further, threads.filter((one) => one.settledAt === null).length]).toEqual([100, true, 60]);
  const all = await allRemarks(world.db, await world.viewer("petra"), slug);
  expect(all?.map((one) => one.comments[0]?.body)).toEqual(rows.map((_, i) => `Remark ${i}.`));
  expect(await allRemarks(world.db, await world.viewer("petra"), "no-such-piece")).toBeNull();
});

test("what is kept back is one's own until it is sent: nobody sees, counts or hears of it", async () => {
  const { id, slug } = await inReview();
  for (const words of ["old path", "the bridge"])
    accepted(await remark(world.act("wim"), { pieceId: id, body: `On ${words}`, place: on(words), keep: true }));
  expect(await threadsOf(world.db, id, await world.viewer("wim"))).toHaveLength(2);
  for (const who of ["ilda", "tobia", "petra"]) expect((await page(slug, who)).threads).toEqual([]);
  expect((await page(slug, "tobia")).row.openComments).toBe(0);
  expect((await tell("tobia", id)).map(({ part }) => part)).not.toContain("concerned");
  const [kept] = await threadsOf(world.db, id, await world.viewer("wim"));
  expect(codeOf(await reply(world.act("petra"), { pieceId: id, threadId: kept?.id ?? "", body: "?" }))).toBe(
    "no-remark",
  );
  expect(codeOf(await settleThread(world.act("petra"), { pieceId: id, threadId: kept?.id ?? "", settled: true }))).toBe(
    "no-remark",
  );
  expect(accepted(await sendRemarks(world.act("petra"), { pieceId: id }))).toEqual({ sent: 0 });
  expect(accepted(await sendRemarks(world.act("wim"), { pieceId: id }))).toEqual({ sent: 2 });
  expect((await page(slug, "tobia")).threads).toHaveLength(2);
  expect((await page(slug, "tobia")).row.openComments).toBe(2);
  expect((await tell("tobia", id)).filter(({ part }) => part === "concerned")).toHaveLength(1);
});

test("a mention tells whom it names and lets nobody in", async () => {
  const { id } = await inReview();
  accepted(await remark(world.act("wim"), { pieceId: id, body: "@Petra Holmqvist, is this so?" }));
  expect((await tell("petra", id)).map(({ part }) => part)).toContain("mentioned");
  const refused = await remark(world.act("wim"), { pieceId: id, body: "Ask @Noor Castellan, she knows." });
  expect(codeOf(refused)).toBe("may-not-see");
  expect((await world.db.select().from(comment).where(eq(comment.pieceId, id))).length).toBe(1);
});

test("one's own words can be changed, marked as such, and taken back; nobody else's", async () => {
  const { id, slug } = await inReview();
  accepted(await remark(world.act("wim"), { pieceId: id, body: "Which brigde?" }));
  const [made] = (await page(slug, "tobia")).threads;
  const commentId = made?.comments[0]?.id ?? "";
  expect(codeOf(await rewordComment(world.act("petra"), { pieceId: id, commentId, body: "No" }))).toBe("not-yours");
  accepted(await rewordComment(world.act("wim", MORNING + 1), { pieceId: id, commentId, body: "Which bridge?" }));
  accepted(await reply(world.act("tobia", MORNING + 2), { pieceId: id, threadId: made?.id ?? "", body: "The upper." }));
  accepted(await takeBack(world.act("wim", MORNING + 3), { pieceId: id, commentId }));
  expect(codeOf(await rewordComment(world.act("wim"), { pieceId: id, commentId, body: "Again" }))).toBe("taken-back");
  const [now] = (await page(slug, "tobia")).threads;
  expect(
    now?.comments.map(({ body, editedAt, takenBackAt }) => [body, editedAt !== null, takenBackAt !== null]),
  ).toEqual([
    ["", true, true],
    ["The upper.", false, false],
  ]);
  expect(now?.outcome).toBe("left");
});

test("settling says how, pinning stays, both at once do no harm", async () => {
  const { id, slug } = await inReview();
  const { id: threadId } = accepted(await remark(world.act("wim"), { pieceId: id, body: "Which bridge?" }));
  const settle = (who: string) =>
    settleThread(world.act(who), { pieceId: id, threadId, settled: true, outcome: "changed" });
  const both = await Promise.all([settle("tobia"), settle("petra")]);
  expect(both.map(codeOf)).toEqual(["accepted", "accepted"]);
  accepted(await pinThread(world.act("petra"), { pieceId: id, threadId, pinned: true }));
  const [now] = (await page(slug, "wim")).threads;
  expect([now?.outcome, now?.pinnedAt]).toEqual(["changed", MORNING]);
});

test("accepted wordings make one version that names both; alternatives are set aside, the rest stands", async () => {
  const { id, slug } = await inReview();
  const propose = async (who: string, words: string, wording: string) =>
    accepted(await remark(world.act(who), { pieceId: id, place: on(words), wording: said(wording) })).id;
  const bridge = await propose("wim", "the bridge", "the upper bridge");
  const other = await propose("ilda", "bridge", "footbridge");
  const old = await propose("wim", "old", "mule");
  const dawn = await propose("ilda", "at dawn", "before noon");
  expect(codeOf(await acceptProposals(world.act("petra"), { pieceId: id, threads: [bridge, other] }))).toBe(
    "alternatives",
  );
  expect(codeOf(await acceptProposals(world.act("wim"), { pieceId: id, threads: [bridge] }))).toBe("not-editor");
  const { version: number } = accepted(
    await acceptProposals(world.act("petra"), { pieceId: id, threads: [old, bridge] }),
  );
  expect(await bodyOf(id)).toContain("The mule path climbs to the hut. Cross the upper bridge at dawn.");
  const [made] = await world.db
    .select()
    .from(version)
    .where(and(eq(version.pieceId, id), eq(version.number, number)));
  expect([made?.name, made?.authorId]).toEqual(["wording by Wim Aldera", world.id("petra")]);
  const state = new Map((await page(slug, "ilda")).threads.map((one) => [one.id, one.outcome]));
  expect([state.get(bridge), state.get(old), state.get(other), state.get(dawn)]).toEqual([
    "changed",
    "changed",
    "left",
    null,
  ]);
  expect(codeOf(await acceptProposals(world.act("petra"), { pieceId: id, threads: [bridge] }))).toBe("settled");
  accepted(await setAside(world.act("petra"), { pieceId: id, threads: [dawn] }));
  expect(await bodyOf(id)).toContain("at dawn");
});

test("a proposal whose words changed cannot be accepted, and says what stands there", async () => {
  const { id } = await inReview();
  const { id: threadId } = accepted(
    await remark(world.act("wim"), { pieceId: id, place: on("old path"), wording: said("mule track") }),
  );
  accepted(await save(world, id, "petra", WORDS.replace("old path", "old narrow path")));
  const refused = await acceptProposals(world.act("petra"), { pieceId: id, threads: [threadId] });
  expect(refused).toMatchObject({ refusal: { code: "unfit", sentence: expect.stringContaining("old narrow path") } });
});

test("what is proposed is a line for words of one block", async () => {
  const { id } = await inReview();
  const wording = (value: unknown, place = on("old path")) =>
    remark(world.act("wim"), { pieceId: id, place, wording: value });
  expect(codeOf(await wording([{ type: "paragraph" }]))).toBe("content");
  expect(codeOf(await wording("words"))).toBe("content");
  expect(codeOf(await remark(world.act("wim"), { pieceId: id, wording: said("x") }))).toBe("no-run");
});

test("an opinion is asked of who may read it, and of nobody else; they are told, and have no vote", async () => {
  const { id } = await inReview();
  const ask = (whom: string) =>
    askOpinion(world.act("wim"), { pieceId: id, personId: world.id(whom), note: "Is the grade right?" });
  accepted(await ask("petra"));
  expect((await tell("petra", id)).map(({ part }) => part)).toContain("asked");
  expect(codeOf(await ask("noor"))).toBe("may-not-see");
});

test("whoever sits hands their seat on, nobody else's, and the author is told", async () => {
  const { id, slug } = await inReview();
  const { revision } = (await look(world, id)).piece;
  const [seat] = (await page(slug, "wim")).round?.seats ?? [];
  const hand = (who: string, to: string) =>
    reassignSeat(world.act(who), { pieceId: id, revision, seatId: seat?.id ?? "", personId: world.id(to) });
  expect(codeOf(await hand("petra", "jorun"))).toBe("not-granted");
  expect((await page(slug, "wim")).hands?.people.map((one) => one.name)).toContain("Jorun Faas");
  expect((await page(slug, "petra")).hands).toBeNull();
  accepted(await hand("wim", "jorun"));
  expect((await page(slug, "jorun")).decision).not.toBeNull();
  expect((await page(slug, "wim")).decision).toBeNull();
  expect((await tell("tobia", id)).map(({ part }) => part)).toContain("author");
});
