import { desc, eq } from "drizzle-orm";
import { Secret, TOTP } from "otpauth";
import { accountLink, outbox, person, recoveryCode, role, session } from "#server/db/schema/index.ts";
import { askNewPassword, changePassword, choosePassword, invite, openedBy } from "#server/people/accounts.ts";
import { askPasskey, enterByPasskey, newPasskey, partyOf } from "#server/people/passkeys.ts";
import { proveAnew } from "#server/people/passwords.ts";
import { clearFactors, signOutEverywhere } from "#server/people/rescue.ts";
import { saveRole } from "#server/people/roles.ts";
import { awaited, newAuthenticator, setUpSecondFactor } from "#server/people/second-factor.ts";
import { endSessions, loadSession, openSession } from "#server/people/sessions.ts";
import { signIn } from "#server/people/sign-in.ts";
import { advanceClock } from "#server/standins/clock.ts";
import { accepted, codeOf, DAY, MORNING, makeWorld, until, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const PASSWORD = "over-the-pass";
const MINUTE = 60_000;
const browser = (address = "10.0.0.1", token?: string) => ({ address, agent: "a test", ...(token && { token }) });
const open = async (who: string, now = MORNING) =>
  accepted(await openSession(world.act(null, now), world.id(who), browser()));

async function lettersTo(email: string): Promise<string[]> {
  const rows = await world.db.select().from(outbox).where(eq(outbox.recipient, email)).orderBy(desc(outbox.id));
  return rows.flatMap((row) => row.subject ?? []);
}

test("a session nobody uses is over after four days; one that is used lasts its fortnight", async () => {
  const [idle, used] = [await open("wim"), await open("wim")];
  for (const day of [3, 6, 9, 12])
    expect(await loadSession(world.db, used, MORNING + day * DAY)).toMatchObject({ personId: world.id("wim") });
  expect(await loadSession(world.db, used, MORNING + 14 * DAY)).toBeNull();
  expect(await loadSession(world.db, idle, MORNING + 4 * DAY)).toBeNull();
});

test("a clock moved forward makes nobody idle", async () => {
  const secret = await open("kai");
  await advanceClock(world.db, 7 * DAY);
  expect(await loadSession(world.db, secret, MORNING + 7 * DAY)).not.toBeNull();
});

test("access is acted on only by who gave their password lately, and giving it again renews the cookie", async () => {
  const secret = await open("ilda");
  expect((await loadSession(world.db, secret, MORNING + 29 * MINUTE))?.proven).toBe(true);
  const later = MORNING + 31 * MINUTE;
  expect((await loadSession(world.db, secret, later))?.proven).toBe(false);
  const stale = { ...world.act("ilda", later), proven: false };
  const wanted = { name: "Odile Brandt", email: "odile@example.org", grant: null };
  expect(codeOf(await invite(stale, wanted))).toBe("prove");
  expect(codeOf(await endSessions(stale, { id: null, secret }))).toBe("prove");
  expect(codeOf(await newPasskey(stale))).toBe("prove");
  expect(codeOf(await invite({ ...world.act("sefa", later), proven: false }, wanted))).toBe("not-granted");
  expect(codeOf(await proveAnew(stale, "wrong", secret))).toBe("wrong-password");
  const renewed = accepted(await proveAnew(stale, PASSWORD, secret));
  expect(await loadSession(world.db, secret, later)).toBeNull();
  expect((await loadSession(world.db, renewed, later))?.proven).toBe(true);
});

test("a role that begins to demand a second factor ends sessions without one at once", async () => {
  const secret = await open("sefa");
  const [lead] = await world.db.select().from(role).where(eq(role.key, "lead"));
  expect(await awaited(world.db, secret, MORNING)).toBeNull();
  const demand = (secondFactor: boolean, revision: number) =>
    saveRole(world.act("ilda"), {
      key: "lead",
      name: "Section lead",
      permissions: ["piece.read", "review.decide"],
      secondFactor,
      revision,
    });
  accepted(await demand(true, lead?.revision ?? 0));
  expect(await awaited(world.db, secret, MORNING)).toMatchObject({ personId: world.id("sefa") });
  expect((await awaited(world.db, secret, MORNING))?.pending).not.toBeNull();
  // Long after the password was given nobody sets a factor up with a session found open: it is as if there were none.
  expect(await awaited(world.db, secret, MORNING + 31 * MINUTE)).toBeNull();
  accepted(await demand(false, (lead?.revision ?? 0) + 1));
  expect(await awaited(world.db, secret, MORNING)).toBeNull();
});

test("strangers who guess do not keep an owner out of a browser they used before", async () => {
  const enter = (password: string, from: ReturnType<typeof browser>) =>
    signIn(world.act(null), "lene@fontelba.example", password, from).then(codeOf);
  const own = browser("10.5.0.1", "lene’s own");
  expect(await enter(PASSWORD, own)).toBe("accepted");
  for (let i = 0; i < 10; i++) expect(await enter("wrong", browser(`10.6.0.${i}`))).toBe("sign-in");
  expect(await enter(PASSWORD, browser("10.6.0.99"))).toBe("rate-limited");
  expect(await enter(PASSWORD, browser("10.6.0.99", "somebody else’s"))).toBe("rate-limited");
  expect(await enter(PASSWORD, own)).toBe("accepted");
  for (let i = 0; i < 10; i++) await enter("wrong", own);
  expect(await enter(PASSWORD, own)).toBe("rate-limited");
});

test("an owner hears of a browser not seen before, and of a changed password", async () => {
  const letters = () => lettersTo("noor@fontelba.example");
  const enter = (password: string, token: string) =>
    signIn(world.act(null), "noor@fontelba.example", password, browser("10.7.0.1", token)).then(accepted);
  await enter(PASSWORD, "first");
  await enter(PASSWORD, "first");
  expect(await letters()).toEqual([]);
  const { secret } = await enter(PASSWORD, "second");
  expect(await letters()).toEqual([expect.stringContaining("from a browser not seen before")]);
  accepted(
    await changePassword(world.act("noor"), { old: PASSWORD, password: "a ledge above Larice", session: secret }),
  );
  expect((await letters())[0]).toContain("The password was changed");
  const rows = await world.db.select().from(outbox).where(eq(outbox.recipient, "noor@fontelba.example"));
  for (const { body } of rows) expect(body).toContain("http://elenco.test/forgot");
});

test("a changed password takes back links that wait; a link to a new password changes no name", async () => {
  const links = async () =>
    (
      await world.db
        .select()
        .from(accountLink)
        .where(eq(accountLink.personId, world.id("mina")))
    ).length;
  accepted(await askNewPassword(world.act(null), "mina@fontelba.example", "10.8.0.1"));
  await until(async () => (await links()) === 1);
  const linkOf = async () => {
    const rows = await world.db.select().from(outbox).where(eq(outbox.recipient, "mina@fontelba.example"));
    return /\/open\/(\S+)/.exec(rows.map((row) => row.body).join("\n"))?.[1] ?? "";
  };
  const dead = await linkOf();
  expect(await openedBy(world.db, dead, MORNING)).not.toBeNull();
  const mine = await open("mina");
  accepted(await changePassword(world.act("mina"), { old: PASSWORD, password: "a ledge above Larice", session: mine }));
  expect(await openedBy(world.db, dead, MORNING)).toBeNull();
  await world.db.delete(outbox);
  accepted(await askNewPassword(world.act(null), "mina@fontelba.example", "10.8.0.1"));
  await until(async () => (await links()) === 2);
  const wanted = { secret: await linkOf(), name: "Ilda Marenzi", password: "four walks and a hut" };
  accepted(await choosePassword(world.act(null), wanted));
  const [row] = await world.db
    .select()
    .from(person)
    .where(eq(person.id, world.id("mina")));
  expect(row?.name).toBe("Mina Tauberg");
});

test("passkeys belong to a name; what no device answered opens nothing", async () => {
  expect(partyOf("https://elenco.example")).toEqual({ id: "elenco.example", origin: "https://elenco.example" });
  expect(partyOf("http://127.0.0.1:4300")).toEqual({ id: "localhost", origin: "http://localhost:4300" });
  expect(partyOf("http://10.0.0.7:4300")).toBeNull();
  expect(codeOf(await askPasskey("http://10.0.0.7:4300"))).toBe("no-passkeys");
  const asked = accepted(await askPasskey("http://localhost:4300"));
  const clientDataJSON = Buffer.from(
    JSON.stringify({ type: "webauthn.get", challenge: asked.challenge, origin: "http://localhost:4300" }),
  ).toString("base64url");
  const forged = {
    id: "Zm9yZ2Vk",
    rawId: "Zm9yZ2Vk",
    type: "public-key" as const,
    clientExtensionResults: {},
    response: { clientDataJSON, authenticatorData: "AAAA", signature: "AAAA" },
  };
  const before = await world.db.select().from(session);
  expect(codeOf(await enterByPasskey(world.act(null), forged, browser("10.9.0.1")))).toBe("passkey");
  for (let i = 0; i < 30; i++) await enterByPasskey(world.act(null), forged, browser("10.9.0.1"));
  expect(codeOf(await enterByPasskey(world.act(null), forged, browser("10.9.0.1")))).toBe("rate-limited");
  expect(await world.db.select().from(session)).toHaveLength(before.length);
});

test("signing in anew in a browser ends the session it had", async () => {
  const first = await open("dario");
  const again = accepted(await openSession(world.act(null), world.id("dario"), { ...browser(), session: first }));
  expect(await loadSession(world.db, first, MORNING)).toBeNull();
  expect(await loadSession(world.db, again, MORNING)).not.toBeNull();
});

test("who lost a device is signed out everywhere, and rid of the factors on it, by who keeps access", async () => {
  const secret = await open("petra");
  const { secret: totp } = await newAuthenticator("petra@fontelba.example");
  const code = new TOTP({ secret: Secret.fromBase32(totp) }).generate();
  const set = accepted(
    await setUpSecondFactor(world.act("petra"), { secret: totp, code }, { secret, browser: browser() }),
  );
  accepted(await signOutEverywhere(world.act("ilda"), world.id("petra")));
  expect(await loadSession(world.db, set.secret, MORNING)).toBeNull();
  const enter = () => signIn(world.act(null), "petra@fontelba.example", PASSWORD, browser("10.9.9.1")).then(accepted);
  expect((await enter()).confirmed).toBe(false);
  accepted(await clearFactors(world.act("ilda"), world.id("petra")));
  expect(await world.db.select().from(recoveryCode)).toEqual([]);
  expect((await enter()).confirmed).toBe(true);
  expect((await lettersTo("petra@fontelba.example"))[0]).toContain("The second factors were taken away");
  expect(codeOf(await clearFactors(world.act("sefa"), world.id("petra")))).toBe("not-granted");
});
