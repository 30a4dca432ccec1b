import { and, eq } from "drizzle-orm";
import { editionSignature, ledger, piece, released } from "#server/db/schema/index.ts";
import { dropEdition, makeEdition, moveEdition, orderEdition, takeOut } from "#server/editions/commands.ts";
import { leaveEdition, releaseEdition } from "#server/editions/leaving.ts";
import { editionPage } from "#server/editions/page.ts";
import { editionsList, editionsWaiting } from "#server/editions/queries.ts";
import { reopenEdition, signEdition } from "#server/editions/signing.ts";
import { doDue } from "#server/jobs/loop.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { addAbsences, nameStandIn } from "#server/people/absence.ts";
import { deletePiece } from "#server/pieces/deleting.ts";
import { listReleased } from "#server/reader/queries.ts";
import { retireChannel } from "#server/release/channel-changes.ts";
import { planRelease } from "#server/release/commands.ts";
import { bulletin, channelRevision, editionAt, editionsOf, fill, inIt } from "../support/edition.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
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
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
  await bulletin(world);
});
afterEach(() => world.close());

const at = (text: string) => Date.parse(text);

const on = async (number: number) => {
  const { id, revision } = await editionAt(world, number);
  return { editionId: id, revision };
};
const sign = async (number: number, who: string, now = MORNING) => signEdition(world.act(who, now), await on(number));
async function signed(number: number, ...pieces: string[]) {
  accepted(await fill(world, number, pieces));
  accepted(await sign(number, "ilda"));
  accepted(await sign(number, "lene"));
}
const leave = async (number: number, now: number) => {
  const { id } = await editionAt(world, number);
  return accepted(await leaveEdition(world.act(null, now), id));
};
const page = async (number: number, who = "ilda", now = MORNING) => {
  const where = { files: world.files, baseUrl: "http://elenco.test" };
  const found = await editionPage(world.db, await world.viewer(who, now), "bulletin", number, where);
  if (!found) throw new Error("no such edition");
  return found;
};

test("editions are made ahead by the rhythm, numbered on, each closing so long before it leaves", async () => {
  const editions = await editionsOf(world);
  expect(editions.map((one) => one.number)).toEqual([48, 49, 50, 51, 52, 53]);
  // Two working days of seven hours before Thursday seven o'clock.
  expect(editions[0]).toMatchObject({ at: at("2026-11-26T06:00Z"), status: "gathering" });
  for (const one of editions) expect(one.closesAt).toBeLessThan(one.at);
  const extra = accepted(await makeEdition(world.act("kai"), { channel: "bulletin", at: MORNING + 3 * DAY }));
  expect(extra.number).toBe(54);
  expect(codeOf(await makeEdition(world.act("kai"), { channel: "bulletin", at: MORNING - 1 }))).toBe("past");
  expect(codeOf(await makeEdition(world.act("kai"), { channel: "web", at: MORNING + DAY }))).toBe("not-found");
});

test("filled by rule, ordered by two at once, emptied; what has no date gets that of its edition", async () => {
  const [one, two, three] = [
    await approved(world, "One"),
    await approved(world, "Two"),
    await approved(world, "Three"),
  ];
  expect(accepted(await fill(world, 48, [one, two, three])).added).toBe(3);
  expect(accepted(await fill(world, 48, [one])).added).toBe(0);
  expect((await look(world, one)).piece.publishAt).toBe(at("2026-11-26T06:00Z"));
  const { editionId } = await on(48);
  accepted(await orderEdition(world.act("ilda"), { editionId, pieceId: three, part: "news", before: one }));
  accepted(await orderEdition(world.act("kai"), { editionId, pieceId: two, part: "lead", before: "" }));
  // What it was to stand before has gone elsewhere: it comes to the end.
  accepted(await orderEdition(world.act("ilda"), { editionId, pieceId: one, part: "news", before: two }));
  expect(await inIt(world, 48)).toEqual([two, three, one]);
  accepted(await takeOut(world.act("ilda"), { editionId, pieceId: three }));
  expect(await inIt(world, 48)).toEqual([two, one]);
  expect((await look(world, three)).piece.publishAt).toBeNull();
  const shown = await page(48);
  expect(shown.contents?.checks).toMatchObject({ missing: [], length: { unit: "words", target: 20 } });
  expect(shown.coming.map((each) => each.title)).toEqual(["Three"]);
});

test("in two editions of one channel only where one says so; then it leaves the other", async () => {
  const id = await approved(world);
  accepted(await fill(world, 48, [id]));
  expect(codeOf(await fill(world, 49, [id]))).toBe("elsewhere");
  accepted(await fill(world, 49, [id], "ilda", { instead: "true" }));
  expect(await inIt(world, 48)).toEqual([]);
  expect(await inIt(world, 49)).toEqual([id]);
});

test("out of a signed edition nothing is taken for another", async () => {
  const id = await approved(world);
  await signed(48, id);
  expect(codeOf(await fill(world, 49, [id], "ilda", { instead: "true" }))).toBe("signed");
  expect(await inIt(world, 48)).toEqual([id]);
});

test("once it has closed nothing enters without a reason, which is shown", async () => {
  const id = await approved(world);
  const { id: editionId, closesAt } = await editionAt(world, 48);
  const late = world.act("ilda", closesAt + 60_000);
  const { fillEdition } = await import("#server/editions/commands.ts");
  expect(codeOf(await fillEdition(late, { editionId, pieces: [id] }))).toBe("closed");
  accepted(await fillEdition(late, { editionId, pieces: [id], late: "The road is shut." }));
  expect((await page(48)).contents?.items[0]?.late).toBe("The road is shut.");
});

test("signed by the channel's people, a stand-in for who is away; contents and order stay until it is opened again", async () => {
  const [one, two] = [await approved(world, "One"), await approved(world, "Two")];
  accepted(await fill(world, 48, [one, two]));
  expect(codeOf(await sign(48, "kai"))).toBe("not-a-signer");
  expect(accepted(await sign(48, "ilda")).whole).toBe(false);
  expect(codeOf(await sign(48, "ilda"))).toBe("signed-already");
  accepted(await nameStandIn(world.act("lene"), { personId: world.id("lene"), standInId: world.id("petra") }));
  expect(codeOf(await sign(48, "petra"))).toBe("not-a-signer");
  const days = [{ from: "2026-11-24", until: "2026-11-26" }];
  accepted(await addAbsences(world.act("lene"), { personId: world.id("lene"), days }));
  expect(accepted(await sign(48, "petra")).whole).toBe(true);
  expect(await editionAt(world, 48)).toMatchObject({ status: "signed" });
  expect((await page(48)).signers).toMatchObject([
    { name: "Ilda Marenzi", by: null },
    { name: "Lene Quist", by: "Petra Holmqvist" },
  ]);
  expect(codeOf(await fill(world, 48, [await approved(world, "Three")]))).toBe("signed");
  const order = { editionId: (await on(48)).editionId, pieceId: one, part: "lead", before: "" };
  expect(codeOf(await orderEdition(world.act("ilda"), order))).toBe("signed");
  accepted(await reopenEdition(world.act("ilda"), { ...(await on(48)), note: "One more." }));
  expect(await world.db.select().from(editionSignature)).toEqual([]);
  expect(await editionAt(world, 48)).toMatchObject({ status: "gathering" });
  expect((await heard(world, "lene")).map((each) => each.headline).join()).toContain("Bulletin 48");
});

test("who is to sign an edition has it on their turn, and so has who stands in, until it is signed", async () => {
  const turn = async (who: string) =>
    (await editionsWaiting(world.db, await world.viewer(who))).map((one) => `${one.name}: ${one.ready} of ${one.all}`);
  expect(await turn("lene")).toEqual([]);
  accepted(await fill(world, 48, [await approved(world, "One"), (await begin(world, "Two")).id]));
  expect(await turn("lene")).toEqual(["Bulletin 48: 1 of 2"]);
  expect(await turn("petra")).toEqual([]);
  accepted(await nameStandIn(world.act("lene"), { personId: world.id("lene"), standInId: world.id("petra") }));
  const days = [{ from: "2026-11-24", until: "2026-11-26" }];
  accepted(await addAbsences(world.act("lene"), { personId: world.id("lene"), days }));
  expect(await turn("petra")).toHaveLength(1);
  await signed(49, await approved(world, "Three"));
  expect(await turn("petra")).toHaveLength(1);
  accepted(await fill(world, 50, [await approved(world, "Four")]));
  accepted(await sign(50, "ilda"));
  expect(await turn("ilda")).toEqual(["Bulletin 48: 1 of 2"]);
  expect(await turn("petra")).toEqual(["Bulletin 48: 1 of 2", "Bulletin 50: 1 of 1"]);
});

test("what is not ready is not signed, and named", async () => {
  const { id } = await begin(world, "Winter room keys");
  accepted(await fill(world, 48, [id, await approved(world, "One")]));
  const refused = await sign(48, "ilda");
  expect(refused).toMatchObject({ ok: false, refusal: { code: "not-ready" } });
  if (!refused.ok) expect(refused.refusal.sentence).toContain("“Winter room keys”");
  expect((await page(48)).contents?.checks.missing).toEqual([id]);
  expect(codeOf(await sign(49, "ilda"))).toBe("empty");
});

test("signed, it leaves at its time: all of it, once, whichever node comes first; readers of the site see nothing of the bulletin", async () => {
  const [one, two] = [await approved(world, "One"), await approved(world, "Two")];
  await signed(48, one, two);
  const time = at("2026-11-26T06:00Z");
  expect(await leave(48, time - 1)).toBe("gone");
  await Promise.all([1, 2].map(() => doDue(worker(world, time), "edition")));
  expect(await editionAt(world, 48)).toMatchObject({ status: "released", releasedAt: time });
  const out = await world.db.select().from(released).where(eq(released.channel, "bulletin"));
  expect(out.map((each) => each.pieceId).sort()).toEqual([one, two].sort());
  expect((await look(world, one)).piece.stateKey).toBe("live");
  expect(await listReleased(world.db)).toEqual([]);
  // The next is made meanwhile.
  expect((await editionsOf(world)).at(-1)).toMatchObject({ number: 54 });
  expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
  expect((await page(48, "ilda", time)).out?.map((each) => each.title)).toEqual(["One", "Two"]);
});

test("a piece returned after the edition was signed holds all of it, told ahead; in order again it leaves by hand", async () => {
  const [one, two] = [await approved(world, "One"), await approved(world, "Two")];
  await signed(48, one, two);
  const { piece: row } = await look(world, one);
  accepted(await deletePiece(world.act("tobia"), { pieceId: one, revision: row.revision, note: "Twice." }));
  await doDue(worker(world, MORNING + HOUR), "edition-look");
  expect((await editionAt(world, 48)).holds).not.toEqual([]);
  expect((await heard(world, "lene"))[0]?.headline).toContain("Bulletin 48");
  const time = at("2026-11-26T06:00Z");
  expect(await leave(48, time)).toBe("held");
  expect(await world.db.select().from(released)).toEqual([]);
  expect((await look(world, two)).piece.stateKey).toBe("ready");
  const held = await on(48);
  expect(codeOf(await releaseEdition(world.act("ilda", time), held))).toBe("held");
  accepted(await reopenEdition(world.act("ilda", time), { ...held, note: "Without it." }));
  expect(await inIt(world, 48)).toEqual([two]);
  accepted(await sign(48, "ilda", time));
  accepted(await sign(48, "lene", time));
  expect(accepted(await releaseEdition(world.act("ilda", time), await on(48)))).toBe("released");
  expect(await world.db.select().from(released)).toMatchObject([{ pieceId: two }]);
});

test("nobody signed it: it is held, and says so; nobody filled it: it is dropped", async () => {
  accepted(await fill(world, 48, [await approved(world)]));
  expect(await leave(48, at("2026-11-26T06:00Z"))).toBe("held");
  expect((await page(48)).holds.join()).toMatch(/signed/);
  expect(await leave(49, at("2026-12-03T06:00Z"))).toBe("dropped");
  expect((await editionsOf(world)).map((one) => one.number)).not.toContain(49);
});

test("moved, what was wished for with it moves along; dropped, it is free again", async () => {
  const id = await approved(world);
  accepted(await fill(world, 48, [id]));
  const friday = at("2026-11-27T06:00Z");
  accepted(await moveEdition(world.act("kai"), { ...(await on(48)), at: friday }));
  expect((await look(world, id)).piece.publishAt).toBe(friday);
  expect(await leave(48, at("2026-11-26T06:00Z"))).toBe("gone");
  accepted(await dropEdition(world.act("kai"), { ...(await on(48)), note: "A holiday." }));
  expect((await look(world, id)).piece.publishAt).toBeNull();
  accepted(await fill(world, 49, [id]));
});

test("a channel with dates is given up only with them; its past stays, and nothing of it leaves", async () => {
  accepted(await fill(world, 48, [await approved(world)]));
  const wanted = { key: "bulletin", revision: await channelRevision(world) };
  expect(codeOf(await retireChannel(world.act("ilda"), { ...wanted, ends: false }))).toBe("still-dates");
  expect(accepted(await retireChannel(world.act("ilda"), { ...wanted, ends: true })).ended).toBe(6);
  expect(await doDue(worker(world, at("2026-12-31T06:00Z")), "edition")).toBe(0);
  expect(await editionsOf(world)).toEqual([]);
  expect(await editionsList(world.db, await world.viewer("ilda"))).toEqual([]);
});

test("through several channels, each at its own date with its own version and end", async () => {
  const id = await approved(world, "Both ways");
  await signed(48, id);
  const { piece: row } = await look(world, id);
  const later = at("2026-11-30T09:00Z");
  accepted(
    await planRelease(world.act("ilda"), { pieceId: id, revision: row.revision, at: later, endsAt: later + DAY }),
  );
  await leave(48, at("2026-11-26T06:00Z"));
  // Waiting for the reader site it stays where it is.
  expect((await look(world, id)).piece.stateKey).toBe("ready");
  await doDue(worker(world, later), "release");
  expect((await look(world, id)).piece.stateKey).toBe("live");
  const out = await world.db.select().from(released).where(eq(released.pieceId, id));
  expect(out.map(({ channel, from }) => [channel, from]).sort()).toEqual([
    ["bulletin", at("2026-11-26T06:00Z")],
    ["site", later],
  ]);
  await doDue(worker(world, later + DAY), "ending");
  expect(await listReleased(world.db)).toEqual([]);
  const [still] = await world.db
    .select()
    .from(released)
    .where(and(eq(released.pieceId, id), eq(released.channel, "bulletin")));
  expect(still?.until).toBeNull();
});

test("a piece one may not see is counted, never named; who may not see all of it does not sign it", async () => {
  const { id } = await begin(world, "Ilda’s own", "ilda", MORNING, true);
  accepted(await fill(world, 48, [id, await approved(world, "One")]));
  const shown = await page(48, "lene");
  expect(shown.contents).toMatchObject({ hidden: 1 });
  expect(JSON.stringify(shown)).not.toContain("Ilda’s own");
  expect(codeOf(await sign(48, "lene"))).toBe("unseen");
  expect(codeOf(await fill(world, 49, [id], "kai"))).toBe("not-found");
});

test("every signature stands over the very words and order it was given for", async () => {
  const id = await approved(world);
  accepted(await fill(world, 48, [id]));
  accepted(await sign(48, "ilda"));
  const [mark] = await world.db.select().from(editionSignature);
  const { row } = { row: await editionAt(world, 48) };
  expect(mark?.hash).toMatch(/^[0-9a-f]{64}$/);
  // Somebody writes past the rules, as a forger would.
  await world.db.update(piece).set({ approvedVersionId: null }).where(eq(piece.id, id));
  expect(codeOf(await sign(48, "lene"))).toBe("not-ready");
  const told = await world.db.select().from(ledger).where(eq(ledger.subjectId, row.id));
  expect(told.map((one) => one.action)).toContain("edition.signed");
});
