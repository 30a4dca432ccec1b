import { setTimeout as pause } from "node:timers/promises";
import { eq, inArray, sql, TransactionRollbackError } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { outbox, standInMail, task } from "#server/db/schema/index.ts";
import { claimDue, type Task } from "#server/jobs/claim.ts";
import type { Worker } from "#server/jobs/job.ts";
import { doDue } from "#server/jobs/loop.ts";
import { remark } from "#server/remarks/commands.ts";
import { startPost } from "#server/standins/post.ts";
import { freePort } from "../../scripts/mariadb.ts";
import { worker as workerOf } from "../support/worker.ts";
import { accepted, begin, bindReview, MORNING, makeWorld, until, type World } from "../support/world.ts";

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
        // The database makes this table anew only where nobody has read it for a tenth of a second.
        await pause(150);
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
