import { and, count, eq } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { bundleItem, type Doing, decision, ledger, notice, outbox, piece, task } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { messageWords } from "#server/notices/messages.ts";
import { foldNotices, listNotices } from "#server/notices/queries.ts";
import { changeDue } from "#server/passage/routing.ts";
import { choose } from "#server/pieces/lists.ts";
import { beginBundle, doBundle, doingInput, doingOf, fillTable, rowInput } from "#server/together/commands.ts";
import { bundlePage, piecesOf, undoing } from "#server/together/queries.ts";
import { bulletin, editionAt, fill, inIt } from "../support/edition.ts";
import { worker } from "../support/worker.ts";
import { accepted, begin, bindReview, codeOf, look, MORNING, makeWorld, send, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

/** Lets the jobs go on until nothing of any bundle is left to do. */
async function work(): Promise<void> {
  while ((await doDue(worker(world, MORNING), "bundle")) > 0);
}

async function begun(who: string, doing: Doing, ids: string[]): Promise<string> {
  const chosen = await choose(world.db, await world.viewer(who), { ids }, 5_001);
  const { id } = accepted(await beginBundle(world.act(who), doing, chosen));
  await work();
  return id;
}

const shown = async (who: string, id: string) =>
  bundlePage(world.db, await world.viewer(who), id, { show: null, after: -1 });

async function inReview(many: number): Promise<string[]> {
  const ids: string[] = [];
  for (let i = 0; i < many; i++) {
    const { id } = await begin(world, `Together ${i}`);
    accepted(await send(world, id, "tobia", "send"));
    ids.push(id);
  }
  return ids;
}

test("what would happen is said for each, and nothing of it has; then it is done, each once", async () => {
  const ids = await inReview(3);
  const id = await begun("wim", { do: "approve", note: "Fine, all of them." }, ids);
  const before = await shown("wim", id);
  expect(before?.counts).toEqual({ would: 3, refused: 0, done: 0, failed: 0 });
  expect(before?.items[0]?.said.join(" ")).toContain("Approved version 1 in Check");
  expect((await look(world, ids[0] as string)).piece.stateKey).toBe("check");
  const [none] = await world.db.select({ made: count() }).from(decision);
  expect(none?.made).toBe(0);
  accepted(await doBundle(world.act("wim"), { bundleId: id }));
  accepted(await doBundle(world.act("wim"), { bundleId: id }));
  await Promise.all([work(), work()]);
  expect((await shown("wim", id))?.counts).toEqual({ would: 0, refused: 0, done: 3, failed: 0 });
  for (const one of ids) expect((await look(world, one)).piece.stateKey).toBe("ready");
  const [made] = await world.db.select({ made: count() }).from(decision);
  expect(made?.made).toBe(3);
});

test("a node that died after one was done does it no second time", async () => {
  const ids = await inReview(2);
  const id = await begun("wim", { do: "approve", note: "" }, ids);
  accepted(await doBundle(world.act("wim"), { bundleId: id }));
  await work();
  await world.db.update(bundleItem).set({ status: "would" }).where(eq(bundleItem.bundleId, id));
  await world.db.insert(task).values({
    id: newId(),
    kind: "bundle",
    subject: id,
    dueAt: MORNING,
  });
  await work();
  expect((await shown("wim", id))?.counts.done).toBe(2);
  const said = await world.db
    .select()
    .from(ledger)
    .where(and(eq(ledger.action, "review.decided"), eq(ledger.pieceId, ids[0] as string)));
  expect(said).toHaveLength(1);
});

test("what one may not do is said beforehand, what changed meanwhile is left alone, and the others go on", async () => {
  const ids = await inReview(3);
  const drafted = (await begin(world, "Still a draft")).id;
  const id = await begun("ilda", { do: "due-shift", days: 2, note: "" }, [...ids, drafted]);
  const seen = await shown("ilda", id);
  expect(seen?.counts).toEqual({ would: 3, refused: 1, done: 0, failed: 0 });
  expect(seen?.items.find((one) => one.pieceId === drafted)?.said[0]).toContain("no due date");
  const [first] = ids as [string];
  const { revision, dueAt } = (await look(world, first)).piece;
  accepted(await changeDue(world.act("ilda"), { pieceId: first, revision, dueAt: (dueAt ?? 0) + 1_000 }));
  accepted(await doBundle(world.act("ilda"), { bundleId: id }));
  await work();
  const after = await shown("ilda", id);
  expect(after?.counts).toEqual({ would: 0, refused: 1, done: 2, failed: 1 });
  expect(after?.items.find((one) => one.status === "failed")?.said[0]).toContain("changed the piece meanwhile");
  expect(await piecesOf(world.db, await world.viewer("ilda"), id, "failed")).toEqual([first]);
  const back = undoing(after?.doing as Doing);
  const done = await piecesOf(world.db, await world.viewer("ilda"), id, "done");
  const again = await begun("ilda", back as Doing, done);
  accepted(await doBundle(world.act("ilda"), { bundleId: again }));
  await work();
  const rows = await world.db.select({ id: piece.id, dueAt: piece.dueAt }).from(piece);
  for (const one of done) expect(rows.find((row) => row.id === one)?.dueAt).toBe(dueAt);
});

test("a bundle is its maker's alone, and what they may not see is not in it", async () => {
  const ids = await inReview(1);
  const hidden = (await begin(world, "Tobia's own", "tobia", MORNING, true)).id;
  const id = await begun("wim", { do: "approve", note: "" }, [...ids, hidden]);
  expect((await shown("wim", id))?.total).toBe(1);
  expect(await shown("ilda", id)).toBeNull();
  expect(codeOf(await doBundle(world.act("ilda"), { bundleId: id }))).toBe("not-found");
  expect(codeOf(await beginBundle(world.act("wim"), { do: "approve", note: "" }, []))).toBe("nothing");
  const many = Array.from({ length: 5_001 }, () => ({ id: newId(), revision: 1, hash: "" }));
  expect(codeOf(await beginBundle(world.act("wim"), { do: "approve", note: "" }, many))).toBe("too-many");
});

test.each([
  ["nothing", {}, "what"],
  ["a return without a word", { what: "return" }, "note"],
  ["a shift by no day", { what: "due-shift" }, "days"],
  ["a hand-over to nobody", { what: "hand", from: "a" }, "to"],
  ["a section without a reason", { what: "section", sectionId: "a" }, "note"],
])("%s is asked for where it is missing", (_, form, field) => {
  const read = doingOf(doingInput.parse({ what: "nothing", ...form }));
  expect(read.ok ? null : read.refusal.field).toBe(field);
});

test("many pieces told of at once are one message to each, with the note once; who may not see one is not let in", async () => {
  const ids = await inReview(3);
  const closed = await begin(world, "Only mine", "tobia", MORNING, true);
  const people = [world.id("wim"), world.id("petra")];
  const id = await begun("tobia", { do: "point-out", people, note: "All ready, from the valley." }, [
    ...ids,
    closed.id,
  ]);
  const seen = await shown("tobia", id);
  expect(seen?.counts).toEqual({ would: 3, refused: 1, done: 0, failed: 0 });
  expect(seen?.items.find((one) => one.pieceId === closed.id)?.said[0]).toContain("may not see it");
  await world.db.update(notice).set({ mailId: null, chatId: null });
  await world.db.delete(outbox);
  accepted(await doBundle(world.act("tobia"), { bundleId: id }));
  await work();
  const sent = await world.db.select().from(outbox).where(eq(outbox.batchId, id));
  expect(sent.map((one) => one.personId).sort()).toEqual(people.toSorted());
  const toWim = sent.find((one) => one.personId === world.id("wim"));
  const words = await messageWords(world.db, toWim as NonNullable<typeof toWim>, "http://elenco.test", MORNING);
  expect(words?.text.match(/All ready, from the valley\./g)).toHaveLength(1);
  expect(words?.text.match(/is ready for you/g)).toHaveLength(3);
  const folds = foldNotices(await listNotices(world.db, await world.viewer("wim")));
  expect(folds[0]?.others).toHaveLength(2);
  expect(doingOf(doingInput.parse({ what: "point-out" })).ok).toBe(false);
});

test("many are put into an edition together: what cannot come in is said first, and comes in nowhere", async () => {
  await bulletin(world);
  const drafts = [await begin(world, "Into it, one"), await begin(world, "Into it, two")];
  const taken = await begin(world, "In another already");
  accepted(await fill(world, 49, [taken.id]));
  const { id: editionId } = await editionAt(world, 48);
  const ids = [...drafts, taken].map((one) => one.id);
  const doing = accepted(doingOf(doingInput.parse({ what: "edition", editionId })));
  const id = await begun("ilda", doing, ids);
  expect((await shown("ilda", id))?.counts).toEqual({ would: 2, refused: 1, done: 0, failed: 0 });
  expect(await inIt(world, 48)).toEqual([]);
  accepted(await doBundle(world.act("ilda"), { bundleId: id }));
  await work();
  expect((await inIt(world, 48)).sort()).toEqual(drafts.map((one) => one.id).sort());
  expect(await inIt(world, 49)).toEqual([taken.id]);
  expect(undoing(doing)).toBeNull();
  // Nobody who sees to no editions, and nothing without saying which.
  const theirs = await begun("tobia", doing, [drafts[0]?.id ?? ""]);
  expect((await shown("tobia", theirs))?.counts).toMatchObject({ would: 0, refused: 1 });
  expect(codeOf(doingOf(doingInput.parse({ what: "edition" })))).toBe("missing");
});

test("a table takes each piece its own step, to its own person, by its own date; what is left blank stays", async () => {
  const drafts = [await begin(world, "Row one"), await begin(world, "Row two"), await begin(world, "Row three")];
  const id = await begun(
    "tobia",
    { do: "each" },
    drafts.map((one) => one.id),
  );
  const table = await shown("tobia", id);
  expect(table).toMatchObject({ table: true, left: 0 });
  expect(table?.items.map((one) => one.status)).toEqual(["blank", "blank", "blank"]);
  const [first, second] = table?.items ?? [];
  const step = first?.steps[0] ?? "";
  const row = (position: number, more: object) => rowInput.parse({ position, ...more });
  const dueAt = MORNING + 3 * 86_400_000;
  expect(codeOf(await fillTable(world.act("tobia"), { bundleId: id, rows: [row(0, {})] }))).toBe("nothing");
  expect(codeOf(await fillTable(world.act("wim"), { bundleId: id, rows: [row(0, { step })] }))).toBe("not-found");
  const rows = [
    row(first?.position ?? 0, { step, at: dueAt, note: "Mind the bus." }),
    row(second?.position ?? 1, { step: "no such step" }),
  ];
  accepted(await fillTable(world.act("tobia"), { bundleId: id, rows }));
  await work();
  expect((await shown("tobia", id))?.counts).toEqual({ would: 1, refused: 1, done: 0, failed: 0 });
  accepted(await doBundle(world.act("tobia"), { bundleId: id }));
  await work();
  const after = await shown("tobia", id);
  expect(after?.counts).toEqual({ would: 0, refused: 1, done: 1, failed: 0 });
  expect(after?.items.find((one) => one.status === "blank")).toBeDefined();
  expect((await look(world, first?.pieceId ?? "")).piece).toMatchObject({ stateKey: "check", dueAt });
  expect(codeOf(await fillTable(world.act("tobia"), { bundleId: id, rows }))).toBe("not-found");
});
