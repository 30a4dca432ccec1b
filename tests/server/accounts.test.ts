import { eq } from "drizzle-orm";
import { Secret, TOTP } from "otpauth";
import { loadHolder } from "#server/access/holders.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { ledger, outbox, person, role, session } from "#server/db/schema/index.ts";
import {
  askNewPassword,
  changePassword,
  choosePassword,
  invite,
  inviteAgain,
  openedBy,
} from "#server/people/accounts.ts";
import {
  beginPublication,
  ensurePublication,
  firstSecret,
  isFirstStart,
  opensFirstStart,
} from "#server/people/first.ts";
import { saveRole } from "#server/people/roles.ts";
import {
  awaited,
  dropSecondFactor,
  giveSecondFactor,
  newAuthenticator,
  setUpSecondFactor,
} from "#server/people/second-factor.ts";
import { endSessions, listSessions, loadSession, openSession, signOut } from "#server/people/sessions.ts";
import { signIn } from "#server/people/sign-in.ts";
import { accepted, codeOf, DAY, HOUR, MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const PASSWORD = "over-the-pass";
const browser = (address = "10.0.0.1") => ({ address, agent: "a test" });

/** The link in the last mail to an address. */
async function linkTo(email: string): Promise<string> {
  const rows = await world.db.select().from(outbox).where(eq(outbox.recipient, email));
  const found = rows.map((row) => /\/open\/(\S+)/.exec(row.body ?? "")?.[1] ?? "").filter(Boolean);
  return found.at(-1) ?? "";
}

async function invited(name: string, email: string) {
  const grant = {
    roleKey: "writer",
    scope: "publication",
    scopeId: null,
    from: null,
    until: null,
    publishFrom: null,
    publishUntil: null,
  } as const;
  const { key } = accepted(await invite(world.act("ilda"), { name, email, grant }));
  const [row] = await world.db.select().from(person).where(eq(person.key, key));
  if (!row) throw new Error("nobody was invited");
  return row;
}

test("an invitation: the link is good once, for a week, and joins with the role that was given", async () => {
  const row = await invited("Odile Brandt", "Odile@Example.org");
  const secret = await linkTo("odile@example.org");
  expect(await openedBy(world.db, secret, MORNING + 8 * DAY)).toBeNull();
  expect(await openedBy(world.db, `${secret.slice(0, -1)}~`, MORNING)).toBeNull();
  const choose = (password: string) => choosePassword(world.act(null), { secret, name: "", password });
  expect(codeOf(await choose("short"))).toBe("weak");
  expect(codeOf(await choose("aaaaaaaaaaaaaa"))).toBe("weak");
  const twice = await Promise.all([choose("four walks and a hut"), choose("another phrase entirely")]);
  expect(twice.map(codeOf).sort()).toEqual(["accepted", "link-over"]);
  expect(codeOf(await choose("a third phrase"))).toBe("link-over");
  const joined = await loadHolder(world.db, row.id);
  expect(joined?.grants.map((grant) => grant.roleKey)).toEqual(["writer"]);
  expect(codeOf(await inviteAgain(world.act("ilda"), row.id))).toBe("joined");
});

test("a name no key can be made of still gets one", async () => {
  expect([(await invited("李 娜", "li@example.org")).key, (await invited("王 芳", "wang@example.org")).key]).toEqual([
    "person",
    "person-2",
  ]);
});

test("another invitation ends the one before; an address is somebody's only once; the letter's words are wiped after it left", async () => {
  const row = await invited("Bert Aho", "bert@example.org");
  const first = await linkTo("bert@example.org");
  accepted(await inviteAgain(world.act("ilda"), row.id));
  expect(await openedBy(world.db, first, MORNING)).toBeNull();
  expect(await openedBy(world.db, await linkTo("bert@example.org"), MORNING)).toMatchObject({ name: "Bert Aho" });
  const again = { name: "Other", email: "BERT@example.org ", grant: null };
  expect(codeOf(await invite(world.act("ilda"), again))).toBe("taken");
  expect(codeOf(await invite(world.act("sefa"), { ...again, email: "x@example.org" }))).toBe("not-granted");
});

test("a new password: sent only where there is an account, good for an hour, and every session ends", async () => {
  const before = await world.db.select().from(outbox);
  accepted(await askNewPassword(world.act(null), "nobody@example.org", "10.0.0.9"));
  accepted(await askNewPassword(world.act(null), "Noor@Fontelba.example", "10.0.0.9"));
  const arrived = async () => (await world.db.select().from(outbox)).length;
  for (let i = 0; i < 100 && (await arrived()) === before.length; i++)
    await new Promise((done) => setTimeout(done, 20));
  expect(await arrived()).toBe(before.length + 1);
  const secret = await linkTo("noor@fontelba.example");
  const kept = accepted(await openSession(world.act(null), world.id("noor"), browser()));
  expect(await openedBy(world.db, secret, MORNING + HOUR)).toBeNull();
  accepted(await choosePassword(world.act(null), { secret, name: "", password: "a path above the hut" }));
  expect(await loadSession(world.db, kept, MORNING)).toBeNull();
  expect(codeOf(await signIn(world.act(null), "noor@fontelba.example", PASSWORD, browser("10.0.1.1")))).toBe("sign-in");
  expect(
    codeOf(await signIn(world.act(null), "noor@fontelba.example", "a path above the hut", browser("10.0.1.1"))),
  ).toBe("accepted");
});

test("letters to one address are limited", async () => {
  const ask = () => askNewPassword(world.act(null), "gus@fontelba.example", "10.0.0.77");
  const codes: string[] = [];
  for (let i = 0; i < 7; i++) codes.push(codeOf(await ask()));
  expect(codes.slice(0, 4)).toEqual(Array(4).fill("accepted"));
  expect(codes.at(-1)).toBe("rate-limited");
});

test("mass sign-in attempts are refused, for one account and from one address, and pass again later", async () => {
  const attempt = (email: string, address: string, now = MORNING) =>
    signIn(world.act(null, now), email, "wrong", browser(address)).then(codeOf);
  for (let i = 0; i < 10; i++) expect(await attempt("kai@fontelba.example", `10.1.0.${i}`)).toBe("sign-in");
  expect(await attempt("kai@fontelba.example", "10.1.0.99")).toBe("rate-limited");
  const right = () => signIn(world.act(null, MORNING + HOUR), "kai@fontelba.example", PASSWORD, browser("10.1.0.99"));
  expect(codeOf(await right())).toBe("accepted");
  for (let i = 0; i < 30; i++) expect(await attempt(`nobody${i}@x.example`, "10.2.0.1")).toBe("sign-in");
  expect(await attempt("lene@fontelba.example", "10.2.0.1")).toBe("rate-limited");
});

test("of many guesses at once no more are judged than may be, and what is refused does not keep the door shut", async () => {
  const guess = (password: string, now = MORNING) =>
    signIn(world.act(null, now), "dario@fontelba.example", password, browser(`10.3.0.${Math.floor(now / 1e6) % 200}`));
  const codes = await Promise.all(Array.from({ length: 40 }, () => guess("wrong").then(codeOf)));
  const judged = codes.filter((code) => code === "sign-in").length;
  expect(judged).toBeLessThanOrEqual(10);
  expect(codes.filter((code) => code === "rate-limited")).toHaveLength(40 - judged);
  for (let i = 0; i < 20; i++) await guess("wrong", MORNING + 10 * 60_000);
  expect(codeOf(await guess(PASSWORD, MORNING + 26 * 60_000))).toBe("accepted");
});

/** A browser's session, as a step that makes it more finds it. */
const at = (secret: string) => ({ secret, browser: browser() });

const codeAt = (secret: string, at = Date.now()) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: at });

test("a second factor: half a session opens nothing, a code is good once, recovery codes stand in once each", async () => {
  const lene = world.act("lene");
  const whole = accepted(await openSession(world.act(null), world.id("lene"), browser()));
  const { secret } = await newAuthenticator("lene@fontelba.example");
  const setUp = (secret: string, code: string, act = lene) => setUpSecondFactor(act, { secret, code }, at(whole));
  expect(codeOf(await setUp(secret, codeAt(secret), { ...lene, proven: false }))).toBe("prove");
  expect(codeOf(await setUp(secret, "000000"))).toBe("wrong-code");
  expect(codeOf(await setUp("not base 32", "000000"))).toBe("wrong-code");
  const { codes, secret: renewed } = accepted(await setUp(secret, codeAt(secret)));
  expect(new Set(codes).size).toBe(10);
  for (const code of codes) expect(code).toMatch(/^([a-z2-7]{4}-){3}[a-z2-7]{4}$/);
  expect(await loadSession(world.db, whole, MORNING)).toBeNull();
  expect(await loadSession(world.db, renewed, MORNING)).toMatchObject({ factor: true });
  expect(codeOf(await setUp(secret, codeAt(secret)))).toBe("set-already");
  const enter = async () =>
    accepted(await signIn(world.act(null), "lene@fontelba.example", PASSWORD, browser("10.3.0.1")));
  const half = await enter();
  expect(half.confirmed).toBe(false);
  expect(await loadSession(world.db, half.secret, MORNING)).toBeNull();
  const give = (to: string, code: string) => giveSecondFactor(world.act(null), code, at(to));
  expect(codeOf(await give(half.secret, codeAt(secret)))).toBe("wrong-code");
  const later = codeAt(secret, Date.now() + 30_000);
  const given = accepted(await give(half.secret, later));
  expect(await loadSession(world.db, half.secret, MORNING)).toBeNull();
  expect(await loadSession(world.db, given, MORNING)).toMatchObject({ personId: world.id("lene") });
  const next = await enter();
  expect(codeOf(await give(next.secret, later))).toBe("wrong-code");
  accepted(await give(next.secret, ` ${codes[0]?.toUpperCase()} `));
  const third = await enter();
  expect(codeOf(await give(third.secret, codes[0] ?? ""))).toBe("wrong-code");
  expect(codeOf(await give("made-up", codes[1] ?? ""))).toBe("sign-in");
  for (let i = 0; i < 6; i++) await give(third.secret, "123456");
  expect(codeOf(await give(third.secret, codes[1] ?? ""))).toBe("rate-limited");
});

test("who knows only the password of an account with a second factor cannot set up another", async () => {
  const half = accepted(await signIn(world.act(null), "lene@fontelba.example", PASSWORD, browser("10.3.0.2")));
  expect((await awaited(world.db, half.secret, MORNING))?.pending).toBeNull();
  const { secret } = await newAuthenticator("lene@fontelba.example");
  const theft = await setUpSecondFactor(world.act("lene"), { secret, code: codeAt(secret) }, at(half.secret));
  expect(codeOf(theft)).toBe("set-already");
  expect(await loadSession(world.db, half.secret, MORNING)).toBeNull();
});

test("a role can demand a second factor: it is set up at the next sign-in and stays", async () => {
  const [lead] = await world.db.select().from(role).where(eq(role.key, "lead"));
  const permissions = ["piece.read", "review.decide"];
  accepted(
    await saveRole(world.act("ilda"), {
      key: "lead",
      name: "Section lead",
      permissions,
      secondFactor: true,
      revision: lead?.revision ?? 0,
    }),
  );
  const half = accepted(await signIn(world.act(null), "sefa@fontelba.example", PASSWORD, browser("10.4.0.1")));
  expect(half.confirmed).toBe(false);
  const waiting = await awaited(world.db, half.secret, MORNING);
  const secret = waiting?.pending?.secret ?? "";
  expect(waiting?.pending?.picture).toMatch(/^data:image\/png;base64,/);
  const set = accepted(await setUpSecondFactor(world.act("sefa"), { secret, code: codeAt(secret) }, at(half.secret)));
  expect(await loadSession(world.db, half.secret, MORNING)).toBeNull();
  expect(await loadSession(world.db, set.secret, MORNING)).not.toBeNull();
  expect(codeOf(await dropSecondFactor(world.act("sefa"), "wrong"))).toBe("wrong-password");
  expect(codeOf(await dropSecondFactor(world.act("sefa"), PASSWORD))).toBe("demanded");
  const [row] = await world.db
    .select()
    .from(person)
    .where(eq(person.id, world.id("sefa")));
  expect(row?.totpSecret).not.toContain(secret);
});

test("sessions are listed and ended, one's own alone; a cookie stolen before sign-out opens nothing after it", async () => {
  const open = async (who: string) => accepted(await openSession(world.act(null), world.id(who), browser()));
  const [mine, other, theirs] = [await open("wim"), await open("wim"), await open("jorun")];
  const listed = await listSessions(world.db, await world.viewer("wim"), mine);
  expect(listed.map((one) => one.present).sort()).toEqual([false, true]);
  const [foreign] = await world.db
    .select()
    .from(session)
    .where(eq(session.personId, world.id("jorun")));
  accepted(await endSessions(world.act("wim"), { id: foreign?.id ?? "", secret: mine }));
  expect(await loadSession(world.db, theirs, MORNING)).not.toBeNull();
  accepted(await endSessions(world.act("wim"), { id: null, secret: mine }));
  expect(await loadSession(world.db, other, MORNING)).toBeNull();
  expect(await loadSession(world.db, mine, MORNING)).not.toBeNull();
  await signOut(world.act("wim"), mine);
  expect(await loadSession(world.db, mine, MORNING)).toBeNull();
});

test("one's password is changed by who knows it, and other sessions end", async () => {
  const mine = accepted(await openSession(world.act(null), world.id("mina"), browser()));
  const other = accepted(await openSession(world.act(null), world.id("mina"), browser()));
  const change = (old: string, password: string) => changePassword(world.act("mina"), { old, password, session: mine });
  expect(codeOf(await change("wrong", "a long enough one"))).toBe("wrong-password");
  expect(codeOf(await change(PASSWORD, "short"))).toBe("weak");
  for (const known of ["Mina Tauberg 1", "MINA@fontelba.example", "Qwertyuiop12", "!!basketball99"])
    expect(`${known}: ${codeOf(await change(PASSWORD, known))}`).toBe(`${known}: weak`);
  const renewed = accepted(await change(PASSWORD, "the ledge above Larice"));
  expect(await loadSession(world.db, mine, MORNING)).toBeNull();
  expect(await loadSession(world.db, renewed, MORNING)).not.toBeNull();
  expect(await loadSession(world.db, other, MORNING)).toBeNull();
});

test("nothing secret is on the ledger", async () => {
  const rows = await world.db.select().from(ledger);
  const text = JSON.stringify(rows);
  for (const secret of [PASSWORD, "four walks and a hut", "argon2"]) expect(text).not.toContain(secret);
});

test("the first start: only the printed link, only once, only while nobody is here", async () => {
  const url = world.url.replace(/[^/]+$/, "first_start");
  await createDatabase(url);
  const db = connect(url);
  try {
    await migrateDatabase(db);
    await Promise.all([ensurePublication(db), ensurePublication(db)]);
    expect(await isFirstStart(db)).toBe(true);
    expect(await opensFirstStart(db, "guessed")).toBe(false);
    const act = { ...world.act(null), db };
    const begin = (name: string, more: Partial<Parameters<typeof beginPublication>[1]> = {}) =>
      beginPublication(act, {
        secret: firstSecret(),
        publication: "The Pass",
        timeZone: "Europe/Rome",
        name,
        email: `${name.toLowerCase()}@pass.example`,
        password: "snow on the saddle",
        ...more,
      });
    expect(codeOf(await begin("A", { secret: "guessed" }))).toBe("link-over");
    expect(codeOf(await begin("A", { timeZone: "Middle/Earth" }))).toBe("bad-zone");
    expect(codeOf(await begin("A", { password: "123" }))).toBe("weak");
    const both = await Promise.all([begin("Asta"), begin("Bruno")]);
    expect(both.map(codeOf).sort()).toEqual(["accepted", "link-over"]);
    expect(await opensFirstStart(db, firstSecret())).toBe(false);
    const [first] = await db.select().from(person);
    expect((await loadHolder(db, first?.id ?? ""))?.grants[0]?.permissions).toContain("access.edit");
  } finally {
    await disconnect(db);
  }
});
