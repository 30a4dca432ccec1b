import { randomUUID } from "node:crypto";
import { desc, eq } from "drizzle-orm";
import { pieceRestored } from "#core/events/pieces.ts";
import { accept, refuse } from "#core/refusal.ts";
import type { Content } from "#core/text/fields.ts";
import { errorNumber } from "#server/db/client.ts";
import { ledger, ledgerTail, notice, outbox, piece, thread, version } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { messageWords } from "#server/notices/messages.ts";
import { tickPoint } from "#server/pieces/checklist.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { remark } from "#server/remarks/commands.ts";
import { settleThread } from "#server/remarks/settle.ts";
import { savePiece } from "#server/text/commands.ts";
import { write } from "#server/write.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  look,
  MORNING,
  makeWorld,
  paragraph,
  save,
  send,
  type World,
  whole,
  windowOf,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const tail = async () => (await world.db.select().from(ledgerTail))[0]?.seq ?? 0;

describe("the one path of a write", () => {
  test("a refusal leaves nothing behind, a bug neither", async () => {
    const before = await tail();
    const { id } = await begin(world);
    const after = await tail();
    const refused = await write(world.act("ilda"), async (change) => {
      await change.tx.update(piece).set({ title: "half done" }).where(eq(piece.id, id));
      change.happened(pieceRestored, {}, { pieceId: id });
      return refuse({ code: "no", sentence: "No." });
    });
    expect(codeOf(refused)).toBe("no");
    await expect(
      write(world.act("ilda"), async (change) => {
        await change.tx.update(piece).set({ title: "half done" }).where(eq(piece.id, id));
        throw new Error("a bug");
      }),
    ).rejects.toThrow("a bug");
    expect((await look(world, id)).piece.title).toBe("Winter room keys");
    expect(after).toBeGreaterThan(before);
    expect(await tail()).toBe(after);
  });

  test("two writes that lock each other out are tried again, and both happen", async () => {
    const [a, b] = [await begin(world), await begin(world)];
    let collisions = 0;
    let holding = 0;
    let bothHold = () => {};
    const held = new Promise<void>((resolve) => {
      bothHold = resolve;
    });
    const cross = (first: string, second: string) =>
      write(world.act("ilda"), async (change) => {
        try {
          await change.tx.update(piece).set({ urgency: "urgent" }).where(eq(piece.id, first));
          // Each goes on once the other has its own too.
          holding += 1;
          if (holding === 2) bothHold();
          await held;
          await change.tx.update(piece).set({ urgency: "urgent" }).where(eq(piece.id, second));
        } catch (error) {
          if (errorNumber(error) === 1213) collisions += 1;
          throw error;
        }
        change.happened(pieceRestored, {}, { pieceId: first });
        return accept(null);
      });
    const both = await Promise.all([cross(a.id, b.id), cross(b.id, a.id)]);
    expect(both.map(codeOf)).toEqual(["accepted", "accepted"]);
    expect(collisions).toBeGreaterThan(0);
  });

  test("the same form twice gives the first answer, also when both come at once", async () => {
    const key = randomUUID();
    const wanted = {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind bulletin-item"),
      title: "Twice",
      private: false,
    };
    const both = await Promise.all([
      createPiece(world.act("noor", MORNING, key), wanted),
      createPiece(world.act("noor", MORNING, key), wanted),
    ]);
    const again = await createPiece(world.act("noor", MORNING, key), wanted);
    expect(new Set([...both, again].map((one) => accepted(one).id)).size).toBe(1);
    expect(await world.db.select().from(piece).where(eq(piece.title, "Twice"))).toHaveLength(1);
    const other = accepted(await createPiece(world.act("mina", MORNING, key), wanted));
    expect(other.id).not.toBe(accepted(again).id);
  });

  test("fifty writes at once leave a chain without gaps, and any change to it is found", async () => {
    const { id } = await begin(world);
    await Promise.all(
      Array.from({ length: 50 }, (_, i) =>
        remark(world.act(i % 2 ? "tobia" : "ilda"), { pieceId: id, body: `remark ${i}` }),
      ),
    );
    expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
    const [entry] = await world.db
      .select()
      .from(ledger)
      .where(eq(ledger.pieceId, id))
      .orderBy(desc(ledger.seq))
      .limit(1);
    const seq = entry?.seq ?? 0;
    await world.db
      .update(ledger)
      .set({ after: { body: "something else" } })
      .where(eq(ledger.seq, seq));
    expect((await verifyLedger(world.db)).broken).toBe(`entry ${seq} was changed after it was written`);
    await world.db.update(ledger).set({ after: entry?.after }).where(eq(ledger.seq, seq));
    await world.db.delete(ledger).where(eq(ledger.seq, seq));
    expect((await verifyLedger(world.db)).broken).toMatch(/were written|is missing/);
    if (entry) await world.db.insert(ledger).values(entry);
    const [words] = await world.db.select().from(version).where(eq(version.pieceId, id));
    await world.db
      .update(version)
      .set({ content: { title: "x", fields: {} } })
      .where(eq(version.id, words?.id ?? ""));
    expect((await verifyLedger(world.db)).broken).toMatch(/is not what was saved/);
    await world.db
      .update(version)
      .set({ content: words?.content })
      .where(eq(version.id, words?.id ?? ""));
  });
});

describe("saving a text", () => {
  test("the same words are no new version; other words are one, with author, time and hash", async () => {
    const { id } = await begin(world);
    expect(accepted(await save(world, id, "tobia", "The keys hang at the bus office."))).toMatchObject({
      version: 1,
    });
    expect(accepted(await save(world, id, "tobia", "The keys hang at the mill."))).toMatchObject({
      version: 2,
    });
    const { version: last } = await look(world, id);
    expect(last).toMatchObject({ number: 2, authorId: world.id("tobia"), createdAt: MORNING });
    expect(last.hash).toMatch(/^[0-9a-f]{64}$/);
  });

  test("a stale save is refused with who saved what, and saving over it is a choice", async () => {
    const { id } = await begin(world);
    const begun = (await look(world, id)).version.hash;
    accepted(await save(world, id, "tobia", "First."));
    const stale = await save(world, id, "tobia", "Mine.", begun);
    expect(stale).toMatchObject({ ok: false, refusal: { code: "stale", missing: ["2"] } });
    expect(stale.ok || stale.refusal.sentence).toContain("Tobia Rensk saved version 2");
    accepted(await save(world, id, "tobia", "Mine.", (await look(world, id)).version.hash));
  });

  test.each([
    ["no title", { title: "  ", fields: {} }],
    ["a title of five thousand characters", { title: "x".repeat(5000), fields: {} }],
    ["an unknown field", { title: "T", fields: { colour: "red" } }],
    ["a line of text where a manuscript belongs", { title: "T", fields: { body: "words" } }],
    [
      "a node the editor does not know",
      { title: "T", fields: { body: { type: "doc", content: [{ type: "script" }] } } },
    ],
    [
      "a link that runs a script",
      {
        title: "T",
        fields: {
          body: {
            type: "doc",
            content: [
              {
                type: "paragraph",
                content: [
                  { type: "text", text: "x", marks: [{ type: "link", attrs: { href: "javascript:alert(1)" } }] },
                ],
              },
            ],
          },
        },
      },
    ],
    ["three million characters", { title: "T", fields: { body: paragraph("x".repeat(3_000_000)) } }],
  ])("%s is refused and nothing changes", async (_, content) => {
    const { id } = await begin(world);
    const base = (await look(world, id)).version.hash;
    const answer = await savePiece(world.act("tobia"), {
      pieceId: id,
      window: windowOf("tobia"),
      base,
      patch: whole(content as Content),
    });
    expect(codeOf(answer)).toBe("content");
    expect((await look(world, id)).version.number).toBe(1);
  });

  test("nobody changes a text where its state does not let them", async () => {
    const { id } = await begin(world);
    expect(await save(world, id, "petra", "Mine now.")).toMatchObject({
      ok: false,
      refusal: { code: "not-editor", who: ["Tobia Rensk"] },
    });
    accepted(await send(world, id, "tobia", "send"));
    expect(codeOf(await save(world, id, "mina", "Mine now."))).toBe("not-found");
  });
});

test("a step taken on what is no longer there is refused, with who changed it", async () => {
  const { id } = await begin(world);
  const { piece: seen } = await look(world, id);
  accepted(await save(world, id, "tobia", "Newer."));
  const { sendPiece } = await import("#server/passage/commands.ts");
  const stale = await sendPiece(world.act("tobia"), {
    pieceId: id,
    revision: seen.revision,
    transition: "send",
    note: "",
    dueAt: null,
    publishAt: null,
    urgency: "normal",
    reviewers: [],
  });
  expect(stale).toMatchObject({ ok: false, refusal: { code: "stale" } });
  expect(stale.ok || stale.refusal.sentence).toContain("Tobia Rensk changed the piece meanwhile");
});

describe("sections and kinds that are not there", () => {
  const wanted = () => ({
    sectionId: world.id("section bulletin"),
    kindId: world.id("kind bulletin-item"),
    title: "T",
    private: false,
  });
  test("an unknown section, an unknown kind, a section one has no grant for", async () => {
    expect(codeOf(await createPiece(world.act("tobia"), { ...wanted(), sectionId: randomUUID() }))).toBe(
      "unknown-section",
    );
    expect(codeOf(await createPiece(world.act("tobia"), { ...wanted(), kindId: randomUUID() }))).toBe("unknown-kind");
    expect(codeOf(await createPiece(world.act("sefa"), wanted()))).toBe("not-granted");
    expect(codeOf(await createPiece(world.act("gus"), wanted()))).toBe("not-granted");
  });
});

describe("comments and the checklist", () => {
  test("limits, settling by those concerned, opening again", async () => {
    const { id } = await begin(world);
    expect(codeOf(await remark(world.act("tobia"), { pieceId: id, body: " " }))).toBe("empty");
    expect(codeOf(await remark(world.act("tobia"), { pieceId: id, body: "x".repeat(4001) }))).toBe("too-long");
    const made = accepted(await remark(world.act("wim"), { pieceId: id, body: "Which mill?" }));
    expect(codeOf(await settleThread(world.act("gus"), { pieceId: id, threadId: made.id, settled: true }))).toBe(
      "not-yours",
    );
    accepted(await settleThread(world.act("tobia"), { pieceId: id, threadId: made.id, settled: true }));
    const [row] = await world.db.select().from(thread).where(eq(thread.id, made.id));
    expect(row?.settledAt).toBe(MORNING);
    accepted(await settleThread(world.act("wim"), { pieceId: id, threadId: made.id, settled: false }));
    const other = await begin(world);
    expect(
      codeOf(await settleThread(world.act("tobia"), { pieceId: other.id, threadId: made.id, settled: true })),
    ).toBe("no-remark");
    expect(codeOf(await tickPoint(world.act("tobia"), { pieceId: id, position: 0, done: true }))).toBe("not-found");
  });

  test("a comment tells the author once, in the app and by mail, and never the one who made it", async () => {
    const { id } = await begin(world);
    accepted(await remark(world.act("wim"), { pieceId: id, body: "Which mill?" }));
    accepted(await remark(world.act("tobia"), { pieceId: id, body: "The upper one." }));
    const told = await world.db
      .select({ personId: notice.personId, message: outbox })
      .from(notice)
      .innerJoin(outbox, eq(outbox.id, notice.mailId))
      .where(eq(notice.pieceId, id));
    expect(told).toHaveLength(1);
    expect(told[0]?.personId).toBe(world.id("tobia"));
    const message = told[0]?.message as typeof outbox.$inferSelect;
    const words = await messageWords(world.db, message, "http://elenco.test", MORNING);
    if (!words) throw new Error("nothing is left to say");
    const { subject, text, html } = words;
    expect(html).toContain("<p>“Which mill?”</p>");
    expect(subject).toBe("Wim Aldera commented on “Winter room keys”");
    expect(text).toContain("http://elenco.test/pieces/winter-room-keys-");
    expect(text).toContain("Which mill?");
  });
});
