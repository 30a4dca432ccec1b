import { once } from "node:events";
import { and, count, countDistinct, eq } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { ledger, notice, outbox, release, standInMail, task } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { startPost } from "#server/standins/post.ts";
import { layCopies } from "../support/copies.ts";
import { startNode } from "../support/node.ts";
import { bindReview, look, makeWorld, until, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

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
  const nodes = await Promise.all([startNode(world, post.url), startNode(world, post.url)]);
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
