import { once } from "node:events";
import { and, eq, inArray } from "drizzle-orm";
import { ledger, notice, outbox, standInMail } from "#server/db/schema/index.ts";
import { startPost } from "#server/standins/post.ts";
import { startNode } from "../support/node.ts";
import { accepted, begin, bindReview, MORNING, makeWorld, send, until, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

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
  const nodes = await Promise.all([startNode(world, post.url), startNode(world, post.url)]);
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
