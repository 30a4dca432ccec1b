import { once } from "node:events";
import { existsSync, readFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import { type AddressInfo, connect } from "node:net";
import path from "node:path";
import { text } from "node:stream/consumers";
import { pathToFileURL } from "node:url";
import { eq, max } from "drizzle-orm";
import { XMLValidator } from "fast-xml-parser";
import pino from "pino";
import type { ServerBuild } from "react-router";
import { newId } from "#server/db/schema/columns.ts";
import { ledger, ledgerTail, session } from "#server/db/schema/index.ts";
import { makeEdition } from "#server/editions/commands.ts";
import { picture } from "#server/files/samples.ts";
import { inviteGuest } from "#server/guests/commands.ts";
import { createApp, type Parts } from "#server/http/app.ts";
import { type Live, startLive } from "#server/http/live.ts";
import { READERS_CACHE } from "#server/http/reader-pages.ts";
import { decide } from "#server/passage/deciding.ts";
import { beginSeeingAs } from "#server/people/see-as.ts";
import { openSession } from "#server/people/sessions.ts";
import { seenNow } from "#server/reader/seen.ts";
import { withdrawPiece } from "#server/release/commands.ts";
import { remark } from "#server/remarks/commands.ts";
import { bulletin, fill } from "../support/edition.ts";
import {
  accepted,
  begin,
  bindReview,
  DAY,
  look,
  MORNING,
  makeWorld,
  send,
  until,
  type World,
} from "../support/world.ts";

/** The application as it runs, on a port of its own: what every answer and every request must hold to. */
let world: World;
let live: Live;
let parts: Parts;
let server: Server;
let base: string;
const logged: string[] = [];

beforeAll(async () => {
  if (!existsSync("build/server/index.js")) throw new Error("build first: npm run build");
  world = await makeWorld();
  const log = pino({ level: "info" }, { write: (line: string) => void logged.push(line) });
  live = startLive(world.db, log, async () => MORNING);
  const build = (await import(pathToFileURL(path.resolve("build/server/index.js")).href)) as ServerBuild;
  parts = {
    db: world.db,
    build,
    clientFolder: path.resolve("build/client"),
    baseUrl: "http://elenco.test",
    files: world.files,
    trustProxy: [],
    standIns: false,
    mailIn: null,
    now: async () => MORNING,
    live,
    log,
  };
  server = createServer(createApp(parts)).listen(0, "127.0.0.1");
  await once(server, "listening");
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});

afterAll(async () => {
  live.stop();
  server.closeAllConnections();
  server.close();
  await world.close();
});

const ask = (where: string, more: RequestInit = {}) => fetch(base + where, { redirect: "manual", ...more });

async function cookieOf(who: string): Promise<string> {
  const browser = { address: "127.0.0.1", agent: "a test" };
  return `elenco=${accepted(await openSession(world.act(null), world.id(who), browser))}`;
}

const post = (where: string, cookie: string, body: Record<string, string>, origin: string | null = base) =>
  ask(where, {
    method: "POST",
    headers: {
      Cookie: cookie,
      "Content-Type": "application/x-www-form-urlencoded",
      ...(origin !== null && { Origin: origin }),
    },
    body: new URLSearchParams(body).toString(),
  });

test.each([
  ["br, gzip", "br"],
  ["gzip", "gzip"],
  ["identity", null],
])("who takes %s gets scripts as %s, kept for good, and never by mistake by another", async (takes, sent) => {
  const [, script] = /(\/assets\/entry\.client[\w.-]+\.js)/.exec(await (await ask("/sign-in")).text()) ?? [];
  const { headers, status } = await ask(script ?? "", { method: "HEAD", headers: { "Accept-Encoding": takes } });
  expect([status, headers.get("content-encoding")]).toEqual([200, sent]);
  expect(headers.get("content-type")).toMatch(/javascript/);
  expect(headers.get("cache-control")).toBe("public, max-age=31536000, immutable");
  expect(headers.get("vary")).toMatch(/Accept-Encoding/i);
  const whole = readFileSync(path.join("build/client", script ?? "")).length;
  expect(Number(headers.get("content-length")) < whole).toBe(sent !== null);
});

test.each<[string, string]>([
  ["/turn", "no-store"],
  ["/turn.data", "no-store"],
  ["/sign-in", "no-store"],
  ["/find?q=hut", "no-store"],
  ["/files/0", "no-store"],
  ["/publication/record/file", "no-store"],
  ["/read", "no-cache"],
  ["/read/feed.atom", "no-cache"],
  ["/readers", "no-store"],
])("%s is kept by no cache that should not: %s", async (where, how) => {
  const { headers } = await ask(where, { headers: { Cookie: await cookieOf("ilda") } });
  expect(headers.get("cache-control")).toBe(how);
});

test.each<[string[], string, string]>([
  [[], "192.0.2.7", "127.0.0.1"],
  [["loopback"], "192.0.2.7", "192.0.2.7"],
  [["loopback"], "<script>", "127.0.0.1"],
])("with %j trusted, a request forwarded for %s comes from %s", async (trustProxy, forwarded, from) => {
  const behind = createServer(createApp({ ...parts, trustProxy })).listen(0, "127.0.0.1");
  await once(behind, "listening");
  const at = `http://127.0.0.1:${(behind.address() as AddressInfo).port}`;
  const answer = await fetch(`${at}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers: { Origin: at, "X-Forwarded-For": forwarded },
    body: new URLSearchParams({ email: "gus@fontelba.example", password: "over-the-pass" }),
  });
  behind.close();
  expect(answer.status).toBe(302);
  const rows = await world.db
    .select()
    .from(session)
    .where(eq(session.personId, world.id("gus")));
  expect(rows.map((row) => row.address)).toEqual([from]);
  await world.db.delete(session).where(eq(session.personId, world.id("gus")));
});

test("every page forbids scripts that are not its own, framing, sniffing, and telling others where one was", async () => {
  const { headers } = await ask("/sign-in");
  const policy = headers.get("content-security-policy") ?? "";
  expect(policy).toMatch(/script-src 'self' 'nonce-[A-Za-z0-9+/=]{24}'/);
  for (const part of [
    "default-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
    "form-action 'self'",
  ])
    expect(policy).toContain(part);
  expect(headers.get("x-content-type-options")).toBe("nosniff");
  expect(headers.get("referrer-policy")).toBe("same-origin");
  expect(headers.get("x-powered-by")).toBeNull();
  const policies = ["/read/a-walk/files/0", "/files/0", "/turn"].map((where) => ask(where));
  const said = (await Promise.all(policies)).map((one) => one.headers.get("cross-origin-resource-policy"));
  expect(said).toEqual(["cross-origin", "same-origin", "same-origin"]);
  const again = (await ask("/sign-in")).headers.get("content-security-policy");
  expect(again).not.toBe(policy);
});

test.each<[string, string | null, number]>([
  ["of this house", "own", 302],
  ["of another", "https://elsewhere.example", 403],
  ["of the same name on another port", "http://127.0.0.1:1", 403],
  ["hidden by the browser", "null", 403],
  ["not named at all", null, 403],
])("a form with a cookie, its origin %s", async (_, origin, status) => {
  const cookie = await cookieOf("ilda");
  const answer = await post(
    "/people/groups",
    cookie,
    { intent: "add", name: `G ${status} ${origin}` },
    origin === "own" ? base : origin,
  );
  expect(answer.status).toBe(status);
});

test.each<[string, number, number]>([
  ["/ask/none", 11_000_000, 413],
  ["/ask/none", 9_000_000, 404],
  ["/asked", 5_000_000, 413],
])("files brought to %s, %i bytes of them, are answered %i", async (where, bytes, status) => {
  const body = new FormData();
  body.set("files", new Blob([new Uint8Array(bytes)]), "large.bin");
  const answer = await ask(where, { method: "POST", body, headers: { Origin: base } }).catch(() => ({ status: 413 }));
  expect(answer.status).toBe(status);
});

test("what is sent names its size, and is not too much", async () => {
  const cookie = await cookieOf("ilda");
  const large = await post("/people/groups", cookie, { intent: "add", name: "x".repeat(4_100_000) });
  expect(large.status).toBe(413);
});

/** Sends a request as it is written, whatever a browser would have made of it. @returns its status */
async function sentRaw(line: string, host = "elenco.test", more: string[] = []): Promise<number> {
  const socket = connect((server.address() as AddressInfo).port, "127.0.0.1");
  socket.write(`${[line, `Host: ${host}`, ...more, "Connection: close"].join("\r\n")}\r\n\r\n`);
  const answer = await text(socket);
  return Number(/^HTTP\/1\.1 (\d{3})/.exec(answer)?.[1]);
}

test.each([
  ["GET /% HTTP/1.1", 404],
  ["GET /pieces/%E0%A4%A HTTP/1.1", 404],
  ["GET /read/%F0%9F%98%80 HTTP/1.1", 404],
  ["GET /read/%00 HTTP/1.1", 404],
  ["GET /guest/%F0%9F%98%80 HTTP/1.1", 404],
  ["GET /pieces/%F0%9F%98%80 HTTP/1.1", 404],
  ["GET /people/who/%F0%9F%98%80 HTTP/1.1", 404],
  ["GET /workflows/%F0%9F%98%80 HTTP/1.1", 404],
  ["GET /why?person=%F0%9F%98%80&action=constructor HTTP/1.1", 200],
  ["GET /pieces?show=constructor&kind=%F0%9F%98%80&words=%00 HTTP/1.1", 200],
  [
    "GET /pieces?state=%F0%9F%98%80&author=%F0%9F%98%80&line=%F0%9F%98%80&holder=%F0%9F%98%80&section=%F0%9F%98%80&after=%F0%9F%98%80 HTTP/1.1",
    200,
  ],
  [
    "GET /pieces?as=stops&line=%F0%9F%98%80&kind=%F0%9F%98%80&piece=%F0%9F%98%80&do=%F0%9F%98%80&by=%F0%9F%98%80 HTTP/1.1",
    200,
  ],
  ["GET /pieces/file?kind=%F0%9F%98%80&sort=constructor HTTP/1.1", 200],
  [
    "GET /flow/help?line=%F0%9F%98%80&kind=%F0%9F%98%80&section=%F0%9F%98%80&author=%F0%9F%98%80&weeks=1e9 HTTP/1.1",
    200,
  ],
  [
    "GET /lately?section=%F0%9F%98%80&workflow=%F0%9F%98%80&person=%F0%9F%98%80&days=%F0%9F%98%80&since=9999999999999&by=constructor HTTP/1.1",
    200,
  ],
  ["GET /pending?section=%F0%9F%98%80&workflow=%F0%9F%98%80&person=%F0%9F%98%80 HTTP/1.1", 200],
  ["TRACE /turn HTTP/1.1", 405],
  ["PUT /turn HTTP/1.1", 405],
])("%s: what nobody can mean is no fault of ours, and said so: %i", async (line, status) => {
  expect(await sentRaw(line, "elenco.test", [`Cookie: ${await cookieOf("ilda")}`])).toBe(status);
});

test.each(["a b", "[", "%"])("a host named %s is none", async (host) => {
  expect(await sentRaw("GET /turn HTTP/1.1", host)).toBe(400);
});

test.each(["constructor", "__proto__", "toString"])("an intent %s is none of a form's, on any page", async (intent) => {
  for (const address of ["/people", "/people/who/noor", "/publication/sections", "/workflows", "/me", "/pieces/new"]) {
    const answer = await post(address, await cookieOf("ilda"), { intent });
    expect([address, Math.floor(answer.status / 100)]).toEqual([address, 4]);
  }
});

test("a cookie nobody was given, one cut short and none at all lead to the door, with the way back", async () => {
  const cookie = await cookieOf("noor");
  for (const one of ["", "elenco=guessed", cookie.slice(0, -1), `other=${cookie}`]) {
    const answer = await ask("/pieces?late=yes", { headers: { Cookie: one } });
    expect([answer.status, answer.headers.get("location")]).toEqual([302, "/sign-in?to=%2Fpieces%3Flate%3Dyes"]);
  }
  expect((await ask("/pieces", { headers: { Cookie: cookie } })).status).toBe(200);
});

test("the data behind a page is guarded like the page, and an error tells nothing of how it came", async () => {
  const [noor, ilda] = [await cookieOf("noor"), await cookieOf("ilda")];
  for (const where of [
    "/people.data",
    "/publication/record.data",
    "/workflows.data",
    "/people/roles/preview",
    "/publication/record/file?as=csv",
  ]) {
    expect([where, (await ask(where, { headers: { Cookie: noor } })).status]).toEqual([where, 404]);
    expect([where, (await ask(where, { headers: { Cookie: ilda } })).status]).toEqual([where, 200]);
  }
  const odd = await post("/pieces/none", ilda, { intent: "constructor" });
  expect(odd.status).toBe(400);
  expect(await odd.text()).not.toMatch(/node_modules|at \w+ \(/);
});

test("a text is saved by who writes it, in the form it must have, and nobody else learns that it is there", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id, slug } = await begin(world, "Posted to", "tobia", MORNING, true);
  const { version } = await look(world, id);
  const save = async (who: string, body: unknown) => {
    const answer = await ask(`/pieces/${slug}/text`, {
      method: "POST",
      headers: { Cookie: await cookieOf(who), "Content-Type": "application/json", Origin: base },
      body: typeof body === "string" ? body : JSON.stringify(body),
    });
    return answer.status;
  };
  const whole = {
    intent: "save",
    pieceId: id,
    window: newId(),
    base: version.hash,
    patch: { title: "By post", fields: {} },
  };
  expect(await save("noor", whole)).toBe(404);
  expect(await save("tobia", "{")).toBe(400);
  expect(
    await save("tobia", { ...whole, patch: { fields: { body: { splice: { head: -1, tail: 0, blocks: [] } } } } }),
  ).toBe(400);
  expect(await save("tobia", { ...whole, intent: "constructor" })).toBe(400);
  expect(
    await save("tobia", {
      ...whole,
      patch: { fields: { body: { value: { type: "doc", content: [{ type: "script" }] } } } },
    }),
  ).toBe(422);
  expect(await save("tobia", whole)).toBe(200);
  expect(await save("tobia", whole)).toBe(409);
  for (const [who, status] of [
    ["noor", 404],
    ["tobia", 200],
  ] as const)
    for (const what of ["text", "preview", "versions", "document?as=md"])
      expect([
        who,
        what,
        (await ask(`/pieces/${slug}/${what}`, { headers: { Cookie: await cookieOf(who) } })).status,
      ]).toEqual([who, what, status]);
});

test("what the workshop is told above a released piece no reader gets a byte of, nor any cache", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id, slug } = await begin(world, "Looked at here");
  accepted(await send(world, id, "tobia", "send"));
  const { hash } = (await look(world, id)).version;
  accepted(await decide(world.act("wim"), { pieceId: id, versionHash: hash, verdict: "approve", note: "" }));
  accepted(await send(world, id, "ilda", "release"));
  accepted(await send(world, id, "tobia", "revise"));
  const shown = async (cookie: string | null) => {
    const answer = await ask(`/read/${slug}`, cookie === null ? {} : { headers: { Cookie: cookie } });
    return { status: answer.status, kept: answer.headers.get("cache-control"), page: await answer.text() };
  };
  const [reader, stranger, tobia] = [
    await shown(null),
    await shown(await cookieOf("noor")),
    await shown(await cookieOf("tobia")),
  ];
  expect([reader.status, reader.kept, stranger.kept, tobia.kept]).toEqual([200, READERS_CACHE, "no-store", "no-store"]);
  for (const { page } of [reader, stranger]) {
    expect(page).toContain("Looked at here");
    expect(page).not.toContain("In place");
    expect(page).not.toContain("in-place");
    expect(page).not.toContain("Draft");
  }
  expect(tobia.page).toContain('aria-label="In place"');
  expect(tobia.page).toContain("on its way: version");
});

test("readers' pages carry no script, say what they are, and are kept by anybody until something they show changes", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const release = async (title: string) => {
    const { id, slug } = await begin(world, title);
    accepted(await send(world, id, "tobia", "send"));
    const { hash } = (await look(world, id)).version;
    accepted(await decide(world.act("wim"), { pieceId: id, versionHash: hash, verdict: "approve", note: "" }));
    accepted(await send(world, id, "ilda", "release"));
    return { id, slug };
  };
  const { id, slug } = await release("Kept by anybody");
  // A node asks twice a second what readers see: a page made before it heard is made once more.
  const released = world.db
    .select({ seq: max(ledger.seq) })
    .from(ledger)
    .where(eq(ledger.action, "piece.released"));
  const [{ seq } = { seq: 0 }] = await released;
  await until(async () => (await seenNow(world.db)).number >= (seq ?? 0));
  const first = await ask(`/read/${slug}`);
  const page = await first.text();
  const scripts = [...page.matchAll(/<script([^>]*)>(.*?)<\/script>/gs)];
  expect(scripts.map(([, type]) => type?.trim())).toEqual(['type="application/ld+json"']);
  expect(JSON.parse(scripts[0]?.[2] ?? "")).toMatchObject({
    "@type": "Article",
    headline: "Kept by anybody",
    author: { name: "Tobia Rensk" },
    mainEntityOfPage: `http://elenco.test/read/${slug}`,
  });
  for (const part of [
    `rel="canonical" href="http://elenco.test/read/${slug}"`,
    'property="og:title" content="Kept by anybody"',
    'type="application/atom+xml"',
  ])
    expect(page).toContain(part);

  const again = await ask(`/read/${slug}`, { headers: { "Accept-Encoding": "gzip" } });
  const etag = again.headers.get("etag") ?? "";
  expect(await again.text()).toBe(page);
  expect(again.headers.get("cache-control")).toBe(READERS_CACHE);
  const tagged = await ask(`/read/${slug}`, { headers: { "If-None-Match": etag } });
  const dated = await ask(`/read/${slug}`, {
    headers: { "If-Modified-Since": again.headers.get("last-modified") ?? "" },
  });
  expect([tagged.status, dated.status, await tagged.text()]).toEqual([304, 304, ""]);
  const head = await ask(`/read/${slug}`, { method: "HEAD" });
  expect([head.status, head.headers.get("etag"), await head.text()]).toEqual([200, etag, ""]);
  expect(head.headers.get("content-security-policy")).toContain("default-src 'self'");
  expect((await ask(`/read/${slug}?utm=1`)).headers.get("etag")).toBeNull();

  const other = await release("Released a moment later");
  await until(async () => (await (await ask("/read")).text()).includes("Released a moment later"));
  const { piece: row } = await look(world, id);
  const away = { pieceId: id, revision: row.revision, note: "Wrong.", notice: "It is gone." };
  accepted(await withdrawPiece(world.act("ilda"), away));
  await until(async () => (await ask(`/read/${slug}`)).status === 410);
  const gone = async (where: string) => !(await (await ask(where)).text()).includes(slug);
  for (const where of ["/read", "/read/feed.atom"]) await until(() => gone(where));

  const sitemap = await (await ask("/read/sitemap.xml")).text();
  expect(XMLValidator.validate(sitemap)).toBe(true);
  expect(sitemap).toContain(`<loc>http://elenco.test/read/${other.slug}</loc>`);
  expect(sitemap).not.toContain(slug);
  const robots = await ask("/robots.txt");
  expect(await robots.text()).toContain("Sitemap: http://elenco.test/read/sitemap.xml");
  for (const where of ["/read/in/bulletin", "/read/archive", "/read/archive/2026-11"])
    expect([where, (await ask(where)).status]).toEqual([where, 200]);
  expect(await (await ask("/read/in/bulletin")).text()).toContain("Released a moment later");
  for (const where of ["/read/in/nowhere", "/read/archive/2026-13", "/read?after=1"])
    expect([where, (await ask(where)).status]).toEqual([where, 404]);
});

test("a piece taken along is a file to keep: named, not sniffed, not opened in place", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { slug } = await begin(world, "Taken along");
  const headers = { Cookie: await cookieOf("tobia") };
  const page = await ask(`/pieces/${slug}/document?as=html`, { headers });
  expect(page.headers.get("content-disposition")).toBe(`attachment; filename="${slug}.html"`);
  expect(page.headers.get("x-content-type-options")).toBe("nosniff");
  expect(await page.text()).toContain("<h1>Taken along</h1>");
  const document = await ask(`/pieces/${slug}/document?as=docx`, { headers });
  expect(
    Buffer.from(await document.arrayBuffer())
      .subarray(0, 2)
      .toString(),
  ).toBe("PK");
  expect((await ask(`/pieces/${slug}/document?as=exe`, { headers })).status).toBe(404);
});

test("while one sees as somebody, their pages are shown and every form is turned away", async () => {
  const cookie = await cookieOf("ilda");
  const secret = cookie.slice("elenco=".length);
  accepted(await beginSeeingAs(world.act("ilda"), { personId: world.id("noor"), secret }));
  const page = await (await ask("/turn", { headers: { Cookie: cookie } })).text();
  expect(page).toContain("This is what");
  expect(page).toContain("Noor Castellan");
  expect((await ask("/people", { headers: { Cookie: cookie } })).status).toBe(404);
  const forms: [string, Record<string, string>][] = [
    ["/me", { intent: "away", from: "2026-12-01", until: "2026-12-02" }],
    ["/me", { intent: "password", old: "over-the-pass", password: "another one, longer" }],
  ];
  for (const [where, body] of forms) {
    const answer = await post(where, cookie, body);
    expect([body.intent, answer.status]).toEqual([body.intent, 422]);
    expect(await answer.text()).toContain("nothing can be changed until you leave");
  }
});

test("secrets in an address stay out of the log; who asked for what is in it", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id } = await begin(world);
  const invite = { pieceId: id, label: "A guest", until: MORNING + DAY, decides: false };
  const { link } = accepted(await inviteGuest(world.act("ilda"), invite));
  const secret = link.split("/guest/")[1] ?? "";
  logged.length = 0;
  expect((await ask(`/guest/${secret}`)).status).toBe(200);
  await ask(`/open/${secret}`);
  await ask(`/first/${secret}`);
  const cookie = await cookieOf("noor");
  const page = await ask("/turn", { headers: { Cookie: cookie } });
  await page.text();
  await until(() => logged.some((line) => line.includes('"path":"/turn"')));
  const text = logged.join("\n");
  expect(text).not.toContain(secret);
  expect(text).not.toContain(cookie.slice("elenco=".length));
  expect(text).toContain('"path":"/guest/…"');
});

/** Reads a live stream until something is told, or for a while. */
async function told(cookie: string, act: () => Promise<unknown>, patience: number): Promise<boolean> {
  const stop = new AbortController();
  const { body } = await ask("/live", { headers: { Cookie: cookie }, signal: stop.signal });
  const reader = body?.getReader();
  const decoder = new TextDecoder();
  await new Promise((done) => setTimeout(done, 900));
  await act();
  const timer = setTimeout(() => stop.abort(), patience);
  try {
    for (;;) {
      const { value, done } = (await reader?.read()) ?? { value: undefined, done: true };
      if (done) return false;
      const text = decoder.decode(value);
      if (text.includes("event: changed")) {
        expect(text).not.toContain("comment");
        return true;
      }
    }
  } catch {
    return false;
  } finally {
    clearTimeout(timer);
    stop.abort();
  }
}

test("a session has a few live streams, and they end with it", async () => {
  const cookie = await cookieOf("tobia");
  const ended: number[] = [];
  for (let i = 0; i < 8; i++) {
    const { body } = await ask("/live", { headers: { Cookie: cookie } });
    void new Response(body).text().then(() => ended.push(i));
  }
  await until(() => ended.length === 2);
  expect(ended).toEqual([0, 1]);
  await fetch(`${base}/sign-out`, { method: "POST", redirect: "manual", headers: { Cookie: cookie, Origin: base } });
  await remark(world.act("ilda"), { pieceId: (await begin(world)).id, body: "Anything." });
  await until(() => ended.length === 8);
});

test("the live stream tells exactly whom a change concerns, and nothing of what changed", async () => {
  expect((await ask("/live")).status).toBe(401);
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  const comment = () => remark(world.act("ilda"), { pieceId: id, body: "A comment" });
  expect(await told(await cookieOf("wim"), comment, 8_000)).toBe(true);
  expect(await told(await cookieOf("tobia"), comment, 8_000)).toBe(true);
  expect(await told(await cookieOf("noor"), comment, 2_500)).toBe(false);
});

test("a window that began to listen after its page was drawn learns whether anything happened meanwhile", async () => {
  const cookie = await cookieOf("noor");
  const still = async (since: string) =>
    (await (await ask(`/live/still${since}`, { headers: { Cookie: cookie } })).json()).missed;
  const [tail] = await world.db.select({ seq: ledgerTail.seq }).from(ledgerTail);
  expect(await still(`?since=${tail?.seq}`)).toBe(false);
  await remark(world.act("ilda"), { pieceId: (await begin(world)).id, body: "Anything." });
  expect(await still(`?since=${tail?.seq}`)).toBe(true);
  expect(await still("")).toBe(false);
  expect(await still("?since=x")).toBe(false);
});

test("of an edition hear who signs it and who put something in, also of a piece in it", async () => {
  await bulletin(world, { people: ["ilda", "petra"] });
  const { id } = await begin(world, "Not yet");
  const put = async () => accepted(await fill(world, 48, [id], "kai"));
  expect(await told(await cookieOf("petra"), put, 8_000)).toBe(true);
  const rest = async () => accepted(await send(world, id, "tobia", "send"));
  expect(await told(await cookieOf("kai"), rest, 8_000)).toBe(true);
  const make = () => makeEdition(world.act("ilda"), { channel: "bulletin", at: MORNING + DAY });
  expect(await told(await cookieOf("noor"), make, 2_500)).toBe(false);
});

test("the record as a spreadsheet holds nothing a spreadsheet would run", async () => {
  const cookie = await cookieOf("ilda");
  accepted(await begin(world, "=HYPERLINK(1)").then((value) => ({ ok: true as const, value })));
  await post("/people/groups", cookie, { intent: "add", name: "=1+1" });
  const csv = await (await ask("/publication/record/file?as=csv", { headers: { Cookie: cookie } })).text();
  const cells = csv.split("\r\n").flatMap((line) => line.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/));
  expect(cells.length).toBeGreaterThan(20);
  expect(cells.filter((cell) => /^"?[=+\-@]/.test(cell))).toEqual([]);
});

describe("files over HTTP", () => {
  const said = { name: "hut “Larice”.jpg", description: "The hut", credit: "G. F.", licence: "Own work" };
  const post = async (who: string, slug: string, body: Record<string, string | Blob>) => {
    const form = new FormData();
    for (const [key, value] of Object.entries(body)) form.append(key, value as string);
    const cookie = await cookieOf(who);
    // A form built by fetch names no length; the whole of it is sent at once instead.
    const whole = new Response(form);
    const headers = { Cookie: cookie, Origin: base, "Content-Type": whole.headers.get("content-type") ?? "" };
    return ask(`/pieces/${slug}/files`, { method: "POST", headers, body: await whole.arrayBuffer() });
  };
  const bring = async (who: string, piece: { id: string; slug: string }, more = {}) =>
    post(who, piece.slug, {
      intent: "attach",
      pieceId: piece.id,
      ...said,
      file: new Blob([new Uint8Array(await picture("#468", { width: 700 }))]),
      ...more,
    });

  test("the workshop gets a picture as it came or in a width, others nothing, readers nothing yet", async () => {
    const piece = await begin(world, "With a hut", "tobia", MORNING, true);
    const answer = await bring("tobia", piece);
    const { file } = (await answer.json()) as { file: string };
    const get = async (who: string, more = "") =>
      ask(`/files/${file}${more}`, { headers: { Cookie: await cookieOf(who) } });
    const original = await get("tobia");
    expect([original.status, original.headers.get("content-type")]).toEqual([200, "image/jpeg"]);
    expect(original.headers.get("content-disposition")).toMatch(
      /^inline; filename=.*filename\*=UTF-8''hut%20%E2%80%9C/,
    );
    expect(original.headers.get("content-security-policy")).toContain("sandbox");
    expect((await get("tobia", "?width=480")).headers.get("content-type")).toBe("image/webp");
    expect((await get("tobia", "?width=-1")).status).toBe(200);
    expect((await get("wim")).status).toBe(404);
    expect((await ask(`/files/${file}`)).status).toBe(302);
    expect((await ask(`/read/${piece.slug}/files/${file}`)).status).toBe(404);
    for (const id of ["../../session-secret", "..%2f..%2fsession-secret", "0".repeat(64)])
      expect((await ask(`/files/${id}`, { headers: { Cookie: await cookieOf("ilda") } })).status).toBe(404);
  });

  test.each<[string, Record<string, string>, string]>([
    ["without a name", { name: " " }, "name"],
    ["without saying by whom", { credit: "" }, "credit"],
    ["without a licence", { licence: "" }, "licence"],
    ["with a description of two thousand characters", { description: "x".repeat(2_000) }, "description"],
  ])("a file %s is not taken, and the field is named", async (_, more, field) => {
    const piece = await begin(world, "Without a hut");
    const answer = await bring("tobia", piece, more);
    expect(answer.status).toBe(422);
    expect(Object.keys(((await answer.json()) as { fields: object }).fields)).toEqual([field]);
  });

  test("a form that is none, and one of somebody who may not write there, are turned away", async () => {
    const piece = await begin(world, "Another's");
    expect((await post("tobia", piece.slug, { intent: "erase", pieceId: piece.id })).status).toBe(400);
    const refused = (await (await bring("kai", piece)).json()) as { refusal: { code: string }; file?: string };
    expect([refused.refusal.code, refused.file]).toEqual(["not-editor", undefined]);
  });
});

test.each<[who: string, action: string, wanted: string, leads: (slug: string) => string]>([
  ["tobia", "step:send", "step-send", (slug) => `/pieces/${slug}?do=step-send`],
  ["wim", "step:send", "step-send", (slug) => `/why?piece=${slug}&action=step%3Asend`],
  ["tobia", "review.decide", "decide", (slug) => `/why?piece=${slug}&action=review.decide`],
  ["tobia", "step:unheard-of", "step-unheard-of", (slug) => `/why?piece=${slug}&action=step%3Aunheard-of`],
  ["tobia", "step:send", "//elsewhere.example", (slug) => `/pieces/${slug}?do=%2F%2Felsewhere.example`],
])("%s, who wants %s, is led to it where it is open, to why where it is not", async (who, action, wanted, leads) => {
  const { slug } = await begin(world);
  const words = new URLSearchParams({ piece: slug, action, do: wanted });
  const { status, headers } = await ask(`/why?${words}`, { headers: { Cookie: await cookieOf(who) } });
  expect([status, headers.get("location")]).toEqual([302, leads(slug)]);
});
