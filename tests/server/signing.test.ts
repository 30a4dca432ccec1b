import { eq } from "drizzle-orm";
import { decision } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { decide } from "#server/passage/deciding.ts";
import { signedPage } from "#server/review/signed.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  heard,
  look,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "all", [{ person: "wim" }, { person: "petra" }], { signed: true });
});
afterAll(() => world.close());

async function inSigning() {
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  const { piece, version } = await look(world, id);
  return { id, slug: piece.slug, hash: version.hash };
}
const say = (who: string, id: string, hash: string, verdict: "approve" | "return", signature?: string) =>
  decide(world.act(who), {
    pieceId: id,
    versionHash: hash,
    verdict,
    note: verdict === "return" ? "Not so." : "",
    signature,
  });

test("a sign-off asks for one's name, locks the text, and keeps who signed what and when", async () => {
  const { id, slug, hash } = await inSigning();
  expect(codeOf(await say("wim", id, hash, "approve"))).toBe("signature");
  expect(codeOf(await say("wim", id, hash, "approve", "Petra Holmqvist"))).toBe("signature");
  expect(codeOf(await save(world, id, "tobia", "Other words."))).toBe("locked");
  expect(codeOf(await save(world, id, "petra", "Other words."))).toBe("locked");
  accepted(await say("wim", id, hash, "approve", " wim  Aldera "));
  accepted(await say("petra", id, hash, "approve", "Petra Holmqvist"));
  expect((await look(world, id)).piece.stateKey).toBe("ready");
  const page = await signedPage(world.db, await world.viewer("tobia"), slug, null);
  expect(page?.signatures.map(({ name, signature, withdrawnAt }) => [name, signature, withdrawnAt])).toEqual([
    ["Wim Aldera", "wim  Aldera", null],
    ["Petra Holmqvist", "Petra Holmqvist", null],
  ]);
  expect(page?.version.hash).toBe(hash);
  expect(await signedPage(world.db, await world.viewer("noor"), slug, null)).toBeNull();
  expect((await verifyLedger(world.db)).broken).toBeNull();
});

test("one refusal opens the text again and withdraws the other signatures, which stay on record", async () => {
  const { id, slug, hash } = await inSigning();
  accepted(await say("wim", id, hash, "approve", "Wim Aldera"));
  accepted(await say("petra", id, hash, "return"));
  expect((await look(world, id)).piece.stateKey).toBe("draft");
  accepted(await save(world, id, "tobia", "Other words."));
  const page = await signedPage(world.db, await world.viewer("wim"), slug, null);
  expect(page?.signatures.map(({ name, withdrawnAt }) => [name, withdrawnAt !== null])).toEqual([["Wim Aldera", true]]);
  expect((await heard(world, "wim", id)).map(({ headline }) => headline)).toContain(
    "Check: Petra Holmqvist did not sign “Winter room keys”, and your signature is withdrawn",
  );
});

test("a signature that was tampered with is found", async () => {
  const { id, hash } = await inSigning();
  accepted(await say("wim", id, hash, "approve", "Wim Aldera"));
  const [made] = await world.db.select().from(decision).where(eq(decision.signedHash, hash)).orderBy(decision.at);
  const forged = (set: object) =>
    world.db
      .update(decision)
      .set(set)
      .where(eq(decision.id, made?.id ?? ""));
  await forged({ signature: "Somebody Else" });
  expect((await verifyLedger(world.db)).broken).toBe("the signature of “Somebody Else” is not what the record has");
  await forged({ signature: made?.signature, signedHash: "0".repeat(64) });
  expect((await verifyLedger(world.db)).broken).toMatch(/is of another text than version \d/);
  await forged({ signature: made?.signature, signedHash: made?.signedHash });
  expect((await verifyLedger(world.db)).broken).toBeNull();
});
