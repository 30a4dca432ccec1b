import { eq, sql } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { person, seat } from "#server/db/schema/index.ts";
import { inviteGuest, nameGuest, revokeGuest } from "#server/guests/commands.ts";
import { guestOf, guestPage, guestsOf } from "#server/guests/queries.ts";
import { doDue } from "#server/jobs/loop.ts";
import { decide } from "#server/passage/deciding.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { piecePage } from "#server/pieces/page.ts";
import { remark } from "#server/remarks/commands.ts";
import { loadViewer } from "#server/viewer.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  DAY,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const UNTIL = MORNING + 7 * DAY;

/** A piece in review, and a guest with a link to it. */
async function withGuest(rule: string, decides = true) {
  await bindReview(world, rule, [{ person: "wim" }, { person: "jorun" }], rule === "count" ? { count: 1 } : {});
  const { id, slug } = await begin(world, "The glacier's edge");
  accepted(await send(world, id, "tobia", "send"));
  const invite = { pieceId: id, label: "A glaciologist", until: UNTIL, decides };
  const { link } = accepted(await inviteGuest(world.act("ilda"), invite));
  const secret = link.split("/guest/")[1] ?? "";
  const guest = await guestOf(world.db, secret, MORNING);
  if (!guest) throw new Error("the link opens nothing");
  return { id, slug, secret, guestId: guest.guestId, hash: (await look(world, id)).version.hash };
}
const actOf = (guestId: string, now = MORNING) => ({ ...world.act(null, now), personId: guestId });

test("a link sent for twice is the same, and lies nowhere to be read", async () => {
  const { id } = await begin(world);
  const formKey = newId();
  const invite = () =>
    inviteGuest(world.act("ilda", MORNING, formKey), { pieceId: id, label: "Warden", until: UNTIL, decides: false });
  const [first, again] = [accepted(await invite()), accepted(await invite())];
  expect(again.link).toBe(first.link);
  const secret = first.link.split("/guest/")[1] ?? "";
  const [tables] = (await world.db.execute(sql`SHOW TABLES`)) as unknown as [object[]];
  for (const name of tables.map((row) => String(Object.values(row)[0])))
    expect(JSON.stringify(await world.db.execute(sql`SELECT * FROM ${sql.identifier(name)}`))).not.toContain(secret);
});

test("a guest's link: one piece, by a name they give, and nothing else anywhere", async () => {
  const { id, slug, secret, guestId } = await withGuest("all");
  const { id: other, slug: hidden } = await begin(world, "Another piece");
  expect(await guestOf(world.db, `${secret.slice(0, -1)}${secret.endsWith("A") ? "B" : "A"}`, MORNING)).toBeNull();
  expect(await guestOf(world.db, secret, UNTIL)).toBeNull();
  accepted(await nameGuest(actOf(guestId), "Ambrose Vail"));
  const viewer = await loadViewer(world.db, guestId, MORNING);
  if (!viewer) throw new Error("the guest may not look");
  expect((await guestPage(world.db, viewer, { slug, pieceId: id, until: UNTIL }))?.content.title).toBe(
    "The glacier's edge",
  );
  expect(await piecePage(world.db, viewer, hidden)).toBeNull();
  expect((await listPieces(world.db, viewer, { show: "all" })).rows.map((row) => row.slug)).toEqual([slug]);
  accepted(await remark(actOf(guestId), { pieceId: id, body: "The date of the flood is wrong." }));
  expect(codeOf(await remark(actOf(guestId), { pieceId: other, body: "Hello?" }))).toBe("not-found");
  expect(codeOf(await send(world, id, "ilda", "send"))).not.toBe("accepted");
  const page = await piecePage(world.db, await world.viewer("ilda"), slug);
  expect(page?.threads.map((one) => one.author)).toEqual(["Ambrose Vail (guest)"]);
  expect(await guestsOf(world.db, id, await world.viewer("ilda"))).toMatchObject([
    { name: "Ambrose Vail (guest)", decides: true, opened: true },
  ]);
});

test("a guest with a seat decides like anybody, on the version they read", async () => {
  const { id, guestId, hash } = await withGuest("count");
  const answer = { pieceId: id, versionHash: hash, verdict: "approve" as const, note: "" };
  expect(codeOf(await decide(actOf(guestId), { ...answer, versionHash: "another" }))).toBe("stale");
  expect(accepted(await decide(actOf(guestId), answer)).moved).toBe("Pass");
});

test("a guest without a seat reads and comments only", async () => {
  const { id, guestId, hash } = await withGuest("all", false);
  const answer = { pieceId: id, versionHash: hash, verdict: "approve" as const, note: "" };
  expect(codeOf(await decide(actOf(guestId), answer))).toBe("no-seat");
});

test("a link taken back opens nothing, and its seat no longer holds the others up", async () => {
  const { id, secret, guestId, hash } = await withGuest("all");
  const answer = { pieceId: id, versionHash: hash, verdict: "approve" as const, note: "" };
  for (const who of ["wim", "jorun"]) expect(accepted(await decide(world.act(who), answer)).moved).toBeNull();
  expect(codeOf(await revokeGuest(world.act("jorun"), { pieceId: id, guestId }))).toBe("not-granted");
  accepted(await revokeGuest(world.act("ilda"), { pieceId: id, guestId }));
  expect(await guestOf(world.db, secret, MORNING)).toBeNull();
  expect(codeOf(await remark(actOf(guestId), { pieceId: id, body: "Still here?" }))).toBe("ended");
  expect((await look(world, id)).piece.stateKey).toBe("ready");
});

test("a link that is over gives its seat up by itself", async () => {
  const { id, guestId, hash } = await withGuest("all");
  const answer = { pieceId: id, versionHash: hash, verdict: "approve" as const, note: "" };
  for (const who of ["wim", "jorun"]) accepted(await decide(world.act(who), answer));
  await doDue(worker(world, UNTIL - 1), "guest");
  expect((await look(world, id)).piece.stateKey).toBe("check");
  expect(codeOf(await decide(actOf(guestId, UNTIL), answer))).toBe("not-granted");
  await doDue(worker(world, UNTIL), "guest");
  expect((await look(world, id)).piece.stateKey).toBe("ready");
  const [place] = await world.db.select().from(seat).where(eq(seat.personId, guestId));
  expect(place?.status).toBe("void");
});

test.each<[string, string, { until?: number; decides?: boolean; private?: boolean }, string]>([
  ["a writer, on another's piece", "noor", {}, "not-found"],
  ["a checker, who may read it", "jorun", {}, "not-granted"],
  ["one that ended already", "ilda", { until: MORNING }, "bad-end"],
  ["one for a year", "ilda", { until: MORNING + 365 * DAY }, "bad-end"],
  ["a seat where no review is open", "ilda", { decides: true }, "round-closed"],
  ["a private draft, even by its author", "tobia", { private: true }, "not-granted"],
])("no link for %s", async (_, who, more, code) => {
  await bindReview(world, "any", [{ person: "wim" }, { person: "jorun" }]);
  const { id } = await begin(world, "A draft", "tobia", MORNING, more.private);
  const made = await inviteGuest(world.act(who), { pieceId: id, label: "X", until: UNTIL, decides: false, ...more });
  expect(codeOf(made)).toBe(code);
  expect((await world.db.select().from(person).where(eq(person.guest, true))).length).toBe(0);
});
