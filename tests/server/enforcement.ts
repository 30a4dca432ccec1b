import { isDeepStrictEqual } from "node:util";
import { eq } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { accessGrant, ledgerTail, person, role, signInFailure } from "#server/db/schema/index.ts";
import { inviteGuest } from "#server/guests/commands.ts";
import { guestOf } from "#server/guests/queries.ts";
import { loadHouse } from "#server/house.ts";
import type { Act } from "#server/write.ts";
import { accepted, begin, bindReview, codeOf, DAY, MORNING, makeWorld, type World } from "../support/world.ts";
import { COMMANDS, EVERYBODY, type Who } from "./who-may.ts";

/** The codes of refusals that say: not you. */
const TURNED_AWAY = ["not-granted", "not-found", "not-yours", "not-editor", "no-seat", "not-a-signer", "ended"];

let world: World;
let former: Record<"ended" | "expired", string>;
let elsewhere: string;
/** Somebody who was a managing editor: still with the grant and ended, or at work with the grant over. */
async function formerChief(key: string, more: { active?: boolean }): Promise<string> {
  const [chief] = await world.db.select().from(role).where(eq(role.key, "chief"));
  const id = newId();
  await world.db.insert(person).values({ id, key, name: key, email: `${key}@x.example`, ...more });
  const until = key === "expired" ? MORNING : null;
  await world.db
    .insert(accessGrant)
    .values({ id: newId(), personId: id, roleId: chief?.id ?? "", scope: "publication", until });
  return id;
}

async function actAs(who: Who, pieceId: string | undefined): Promise<Act> {
  const act = world.act(null);
  if (who === "nobody") return act;
  if (who === "ended" || who === "expired") return { ...act, personId: former[who] };
  if (who !== "guest") return world.act(who);
  // One person stands here for many: they are not stopped for inviting so often.
  await world.db.delete(signInFailure);
  const invite = { pieceId: pieceId ?? elsewhere, label: "Guest", until: MORNING + DAY, decides: false };
  const { link } = accepted(await inviteGuest(world.act("ilda"), invite));
  const guest = await guestOf(world.db, link.split("/guest/")[1] ?? "", MORNING);
  return { ...act, personId: guest?.guestId ?? "" };
}

/** The house as a node keeps it, and where the ledger ends. */
async function standing() {
  const [tail] = await world.db.select({ end: ledgerTail.seq }).from(ledgerTail);
  return { end: tail?.end ?? 0, house: await loadHouse(world.db) };
}

/** A node keeps the house while the ledger has not grown: whatever changes the one must make the other grow. */
async function expectOnRecord(before: Awaited<ReturnType<typeof standing>>): Promise<void> {
  const after = await standing();
  if (!isDeepStrictEqual(after.house, before.house)) expect(after.end).toBeGreaterThan(before.end);
}

/**
 * Tries every command of one share of the table as everybody there is.
 *
 * @param share which of `shares`, from 0
 */
export function enforce(share: number, shares: number): void {
  const tried = Object.entries(COMMANDS).filter((_, i) => i % shares === share);
  beforeAll(async () => {
    world = await makeWorld();
    await bindReview(world, "any", [{ person: "wim" }]);
    former = { ended: await formerChief("ended", { active: false }), expired: await formerChief("expired", {}) };
    elsewhere = (await begin(world, "Elsewhere")).id;
  });
  afterAll(() => world.close());

  test.each(tried)("%s lets through whom the table names, and nobody else", async (_, { may, set }) => {
    const through: Who[] = [];
    let done = false;
    let laid = await set(world);
    for (const who of EVERYBODY) {
      const act = await actAs(who, laid.pieceId);
      const before = done ? null : await standing();
      const code = codeOf(await laid.run(act));
      if (!TURNED_AWAY.includes(code)) through.push(who);
      if (code !== "accepted") continue;
      if (before) await expectOnRecord(before);
      done = true;
      laid = await set(world);
    }
    expect(through).toEqual(EVERYBODY.filter((who) => may.includes(who)));
    expect(done).toBe(true);
  });
}
