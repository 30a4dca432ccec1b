import { once } from "node:events";
import { and, count, eq, isNotNull } from "drizzle-orm";
import { ledger, outbox, released, task } from "#server/db/schema/index.ts";
import { fillEdition, makeEdition } from "#server/editions/commands.ts";
import { signEdition } from "#server/editions/signing.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { startPost } from "#server/standins/post.ts";
import { layCopies } from "../support/copies.ts";
import { bulletin, editionAt } from "../support/edition.ts";
import { startNode } from "../support/node.ts";
import { accepted, bindReview, makeWorld, until, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

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
  const first = await startNode(world, post.url);
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
  const second = await startNode(world, post.url);
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
