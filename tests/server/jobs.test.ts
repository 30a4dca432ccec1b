import { once } from "node:events";
import { and, count, countDistinct, eq, inArray, isNotNull, sql, TransactionRollbackError } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { ledger, notice, outbox, release, released, standInMail, task } from "#server/db/schema/index.ts";
import { fillEdition, makeEdition } from "#server/editions/commands.ts";
import { signEdition } from "#server/editions/signing.ts";
import { claimDue, type Task } from "#server/jobs/claim.ts";
import type { Worker } from "#server/jobs/job.ts";
import { doDue } from "#server/jobs/loop.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { remark } from "#server/remarks/commands.ts";
import { startPost } from "#server/standins/post.ts";
import { freePort } from "../../scripts/mariadb.ts";
import { layCopies } from "../support/copies.ts";
import { bulletin, editionAt } from "../support/edition.ts";
import { ready, script, startOn } from "../support/node.ts";
import { worker as workerOf } from "../support/worker.ts";
import { accepted, begin, bindReview, look, MORNING, makeWorld, send, until, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const worker = (now: number, smtpUrl: string | null): Worker => workerOf(world, now, { smtpUrl });

describe("mail", () => {
  test("a mail server that is down is tried again after growing waits, visibly, and nothing is lost", async () => {
    const { id } = await begin(world);
    accepted(await remark(world.act("wim"), { pieceId: id, body: "Which mill?" }));
    const down = `smtp://127.0.0.1:${await freePort()}`;
    const waiting = async () => {
      const [row] = await world.db.select().from(outbox).leftJoin(task, eq(task.subject, outbox.id));
      return row && { ...row.outbox, nextAt: row.task?.dueAt ?? 0 };
    };
    let now = MORNING;
    const waits: number[] = [];
    for (let i = 0; i < 4; i++) {
      expect(await doDue(worker(now, down), "mail")).toBe(1);
      const row = await waiting();
      waits.push((row?.nextAt ?? 0) - now);
      expect(row).toMatchObject({ status: "waiting", attempts: i + 1 });
      expect(row?.lastError).toMatch(/ECONNREFUSED/);
      expect(await doDue(worker(now, down), "mail")).toBe(0);
      now = row?.nextAt ?? 0;
    }
    expect(waits).toEqual([60_000, 120_000, 240_000, 480_000]);
    const post = await startPost(world.db, async () => now);
    expect(await doDue(worker(now, post.url), "mail")).toBe(1);
    expect(await waiting()).toMatchObject({ status: "sent", attempts: 5, lastError: null });
    const arrived = await world.db.select().from(standInMail);
    expect(arrived).toMatchObject([
      { recipient: "tobia@fontelba.example", subject: "Wim Aldera commented on “Winter room keys”" },
    ]);
    expect(arrived[0]?.body).toContain("http://elenco.test/pieces/");
    await post.stop();
  });

  test("what a dead node had claimed is taken over once its lease is over", async () => {
    const { id } = await begin(world);
    accepted(await remark(world.act("wim"), { pieceId: id, body: "Which bridge?" }));
    await world.db
      .update(task)
      .set({ leaseOwner: "dead", leaseUntil: Date.now() + 60_000 })
      .where(eq(task.kind, "mail"));
    const post = await startPost(world.db, async () => MORNING);
    expect(await doDue(worker(MORNING, post.url), "mail")).toBe(0);
    await world.db.update(task).set({ leaseUntil: Date.now() }).where(eq(task.kind, "mail"));
    expect(await doDue(worker(MORNING, post.url), "mail")).toBe(1);
    await post.stop();
  });
});

test("a claim that is turned away because somebody else locks the same tasks is made again at once", async () => {
  const [first, second] = [newId(), newId()];
  const due = MORNING - 5_000;
  await world.db.insert(task).values([
    { id: first, kind: "thanks", subject: "first", dueAt: due },
    { id: second, kind: "thanks", subject: "second", dueAt: due + 1 },
  ]);
  const heavy = Array.from({ length: 50 }, (_, i) => ({ id: newId(), kind: "x", subject: `${i}`, dueAt: due }));
  const locks = (tx: Pick<World["db"], "select">, id: string) =>
    tx.select({ id: task.id }).from(task).where(eq(task.id, id)).for("update");
  let claim: Promise<Task[]> = Promise.resolve([]);
  await world.db
    .transaction(async (tx) => {
      // The database turns away whoever did less.
      await tx.insert(task).values(heavy);
      await locks(tx, second);
      claim = claimDue(worker(MORNING, null), "thanks", MORNING, { lease: 60_000, batch: 10 });
      claim.catch(() => undefined);
      await until(async () => {
        const [waiting] = await world.db.execute(
          sql`SELECT trx_id FROM information_schema.innodb_trx WHERE trx_state = 'LOCK WAIT'`,
        );
        return (waiting as unknown as unknown[]).length > 0;
      });
      await locks(tx, first);
      tx.rollback();
    })
    .catch((error) => expect(error).toBeInstanceOf(TransactionRollbackError));
  expect((await claim).map(({ id }) => id)).toEqual([first, second]);
  await world.db.delete(task).where(inArray(task.id, [first, second]));
});

test("300 releases due at one instant, two nodes, one killed half way: all out, each once, each notice once", async () => {
  const RELEASES = 300;
  const due = Date.now() - 1_000;
  const ids = await layOutReleases(RELEASES, due);
  const post = await startPost(world.db, async () => Date.now());
  const released = async () =>
    (
      await world.db
        .select({ n: count() })
        .from(release)
        .where(and(eq(release.status, "done"), eq(release.at, due)))
    )[0]?.n ?? 0;
  const nodes = await Promise.all([startNode(post.url), startNode(post.url)]);
  await until(async () => (await released()) >= RELEASES / 3);
  nodes[0]?.kill("SIGKILL");
  const before = await released();
  expect(before).toBeLessThan(RELEASES);

  const done = async () =>
    (await released()) === RELEASES &&
    (await world.db.select().from(outbox).where(eq(outbox.status, "waiting"))).length === 0;
  await until(done);
  nodes[1]?.kill("SIGTERM");
  await once(nodes[1] as NonNullable<(typeof nodes)[1]>, "exit");
  await post.stop();

  const [out] = await world.db
    .select({ entries: count(), pieces: countDistinct(ledger.pieceId) })
    .from(ledger)
    .where(and(eq(ledger.action, "piece.released")));
  expect(out).toEqual({ entries: RELEASES, pieces: RELEASES });
  const [told] = await world.db
    .select({ notices: count(), pieces: countDistinct(notice.pieceId) })
    .from(notice)
    .innerJoin(ledger, eq(ledger.seq, notice.seq))
    .where(eq(ledger.action, "piece.released"));
  expect(told).toEqual({ notices: RELEASES, pieces: RELEASES });
  const mails = await world.db.select().from(standInMail);
  expect(mails.filter((mail) => mail.subject.endsWith("is live"))).toHaveLength(RELEASES);
  for (const id of ids.slice(0, 5)) expect((await look(world, id)).piece).toMatchObject({ stateKey: "live" });
  expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
}, 120_000);

test("40 reviews late at one instant, two nodes, one killed half way: each owner called once for each, each mail once", async () => {
  const LATE = 40;
  await bindReview(world, "any", [{ person: "wim" }], { overdue: { after: "1h", do: "escalate", to: "role:chief" } });
  const ids: string[] = [];
  for (let i = 0; i < LATE; i++) {
    const { id } = await begin(world, `Late ${i}`);
    accepted(await send(world, id, "tobia", "send", { dueAt: MORNING + 3_600_000 }));
    ids.push(id);
  }
  await world.db.update(notice).set({ mailId: null });
  for (const table of [outbox, standInMail]) await world.db.delete(table);
  const post = await startPost(world.db, async () => Date.now());
  const called = async () => {
    const rows = await world.db
      .select({ pieceId: ledger.pieceId })
      .from(ledger)
      .where(and(eq(ledger.action, "review.overdue"), inArray(ledger.pieceId, ids)));
    return rows.map((row) => row.pieceId);
  };
  const nodes = await Promise.all([startNode(post.url), startNode(post.url)]);
  await until(async () => (await called()).length >= LATE / 4);
  nodes[0]?.kill("SIGKILL");
  const unsent = async () => (await world.db.select().from(outbox).where(eq(outbox.status, "waiting"))).length;
  await until(async () => (await called()).length >= LATE && (await unsent()) === 0);
  nodes[1]?.kill("SIGTERM");
  await once(nodes[1] as NonNullable<(typeof nodes)[1]>, "exit");
  await post.stop();
  expect((await called()).toSorted()).toEqual(ids.toSorted());
  const mails = (await world.db.select().from(standInMail))
    .filter((mail) => mail.recipient === "ilda@fontelba.example")
    .map((mail) => /“(Late \d+)”/.exec(mail.subject)?.[1]);
  expect(mails.toSorted()).toEqual(ids.map((_, i) => `Late ${i}`).toSorted());
}, 120_000);

test("an edition of 300 due, two nodes, one killed while it leaves: all of it or nothing, and then all of it once", async () => {
  await bulletin(world, { people: ["ilda"], every: null });
  const copies = await layCopies(world, 300);
  const ids = copies.map((copy) => copy.pieceId);
  const due = Date.now() - 1_000;
  const { number } = accepted(await makeEdition(world.act("ilda", due - 86_400_000), { channel: "bulletin", at: due }));
  const { id: editionId } = await editionAt(world, number);
  const before = world.act("ilda", due - 80_000_000);
  for (let i = 0; i < ids.length; i += 50)
    accepted(await fillEdition(before, { editionId, pieces: ids.slice(i, i + 50), late: "A test closes late." }));
  accepted(await signEdition(before, { editionId, revision: (await editionAt(world, number)).revision }));
  await world.db.update(outbox).set({ status: "sent" });
  await world.db.delete(task).where(eq(task.kind, "mail"));
  const out = async () =>
    (await world.db.select({ n: count() }).from(released).where(eq(released.channel, "bulletin")))[0]?.n ?? 0;
  const seen = new Set<number>();
  const post = await startPost(world.db, async () => Date.now());
  const first = await startNode(post.url);
  const claimed = () =>
    world.db
      .select()
      .from(task)
      .where(and(eq(task.kind, "edition"), eq(task.subject, editionId), isNotNull(task.leaseOwner)));
  await until(async () => (await claimed()).length > 0 || (await out()) > 0);
  first.kill("SIGKILL");
  seen.add(await out());
  // Its claim would be over in half a minute; that it is taken over then is tried above.
  await world.db.update(task).set({ leaseUntil: Date.now() }).where(eq(task.kind, "edition"));
  const second = await startNode(post.url);
  await until(async () => {
    seen.add(await out());
    return (await editionAt(world, number)).status === "released";
  });
  second.kill("SIGTERM");
  await once(second, "exit");
  await post.stop();
  expect([...seen].filter((n) => n !== 0 && n !== 300)).toEqual([]);
  expect(await out()).toBe(300);
  const [told] = await world.db.select({ n: count() }).from(ledger).where(eq(ledger.action, "edition.released"));
  expect(told?.n).toBe(1);
  expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
}, 180_000);

/** Copies of one approved piece, each planned for the same instant. */
async function layOutReleases(many: number, at: number): Promise<string[]> {
  const copies = (await layCopies(world, many)).map((copy) => ({ ...copy, releaseId: newId() }));
  await world.db.update(outbox).set({ status: "sent" });
  await world.db.delete(task).where(eq(task.kind, "mail"));
  await world.db
    .insert(task)
    .values(copies.map((copy) => ({ id: newId(), kind: "release", subject: copy.releaseId, dueAt: at })));
  await world.db.insert(release).values(
    copies.map((copy) => ({
      id: copy.releaseId,
      pieceId: copy.pieceId,
      versionId: copy.versionId,
      at,
      status: "planned" as const,
      holds: [],
      plannedBy: world.id("ilda"),
      confirmedBy: world.id("ilda"),
    })),
  );
  return copies.map((copy) => copy.pieceId);
}

async function startNode(smtpUrl: string) {
  const child = startOn(world, script("start"), { PORT: String(await freePort()), SMTP_URL: smtpUrl });
  child.stderr?.pipe(process.stderr);
  await ready(child);
  return child;
}
