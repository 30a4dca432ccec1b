import { once } from "node:events";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import express from "express";
import type { Database } from "../db/client.ts";
import { type Answer, keepsPages, readerPages } from "./reader-pages.ts";

/** What readers see, by number, as the ledger would tell it. */
let number = 1;
const db = {
  select: () => ({ from: () => ({ where: async () => [{ number }] }) }),
} as unknown as Database;

let server: Server;
let base: string;
/** How often pages were made, what they say and how; who makes one waits until it may go on. */
let made = 0;
let says: { status: number; words: string };
let gate = Promise.resolve();
let now = 0;
const real = performance.now;

/** Closes the gate; what is made waits until it is opened. */
function closed(): () => void {
  let open = () => {};
  gate = new Promise((done) => {
    open = done;
  });
  return open;
}

beforeEach(async () => {
  [number, made, now, says, gate] = [number + 1, 0, now + 10_000, { status: 200, words: "first" }, Promise.resolve()];
  performance.now = () => now;
  const app = express();
  app.use(keepsPages);
  app.get("/{*path}", async (_, response) => {
    made++;
    const { status, words } = says;
    await gate;
    response.status(status).type("html").send(words);
  });
  const kept = readerPages(db, "http://elenco.example");
  server = createServer((request, response) => {
    const answer: Answer = Object.assign(response, { locals: { requestId: "r" } });
    void kept(request, answer, () => app(request, response));
  }).listen(0, "127.0.0.1");
  await once(server, "listening");
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterEach(async () => {
  performance.now = real;
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
});

const ask = async (path: string, headers: Record<string, string> = {}) => {
  const answer = await fetch(base + path, { headers });
  return { status: answer.status, words: await answer.text(), headers: answer.headers };
};
const words = async (path: string) => (await ask(path)).words;
/** Once so many requests are with the node. */
const begun = (count: number) =>
  new Promise<void>((done) => {
    const look = () => (made >= count ? done() : setTimeout(look, 5));
    look();
  });
/** Something readers see has changed, long enough ago that the node asks. */
const changes = (to: typeof says) => {
  [number, now, says] = [number + 1, now + 1_000, to];
};
const soon = () => new Promise((done) => setTimeout(done, 50));

test("a page is made once and sent from memory from then on, until something readers see has changed", async () => {
  expect([await words("/read"), await words("/read")]).toEqual(["first", "first"]);
  expect(made).toBe(1);
  changes({ status: 200, words: "second" });
  expect([await words("/read"), await words("/read")]).toEqual(["second", "second"]);
  expect(made).toBe(2);
});

test("sixty who ask for what is not there yet wait for one to make it", async () => {
  const open = closed();
  const asking = Promise.all(Array.from({ length: 60 }, () => words("/read/fog")));
  await begun(1);
  await soon();
  open();
  expect(new Set(await asking)).toEqual(new Set(["first"]));
  expect(made).toBe(1);
});

test("while it is made anew it is shown as it was, for a moment; then one waits for it", async () => {
  await words("/read");
  changes({ status: 200, words: "second" });
  const open = closed();
  const maker = words("/read");
  await begun(2);
  expect(await words("/read")).toBe("first");
  now += 300;
  const waits = words("/read");
  await soon();
  open();
  expect([await maker, await waits]).toEqual(["second", "second"]);
  expect(made).toBe(2);
});

test.each([404, 500])("what answers %i is never shown as it was, whoever asks meanwhile", async (status) => {
  await words("/read/fog");
  changes({ status, words: "gone" });
  expect(await words("/read/fog")).toBe("gone");
  const open = closed();
  const maker = words("/read/fog");
  await begun(3);
  const other = words("/read/fog");
  await soon();
  open();
  expect([await maker, await other]).toEqual(["gone", "gone"]);
});

test("who went before it was made leaves nobody waiting", async () => {
  const open = closed();
  const leaving = new AbortController();
  const left = fetch(`${base}/read`, { signal: leaving.signal }).catch(() => "left");
  await begun(1);
  const waits = words("/read");
  await soon();
  leaving.abort();
  expect(await left).toBe("left");
  await begun(2);
  open();
  expect(await waits).toBe("first");
});

test("who reads slowly, or is never answered, holds nobody up for long", async () => {
  closed();
  const leaving = new AbortController();
  const held = fetch(`${base}/read`, { signal: leaving.signal }).catch(() => "left");
  await begun(1);
  gate = Promise.resolve();
  expect(await words("/read")).toBe("first");
  now += 1_000;
  says = { status: 200, words: "first" };
  expect([await words("/read"), made]).toEqual(["first", 3]);
  expect([await words("/read"), made]).toEqual(["first", 3]);
  leaving.abort();
  await held;
});

test("what was kept is not sent for what is still being made when one has waited long enough", async () => {
  await words("/read/fog");
  changes({ status: 404, words: "gone" });
  closed();
  const leaving = new AbortController();
  const held = fetch(`${base}/read/fog`, { signal: leaving.signal }).catch(() => "left");
  await begun(2);
  now += 300;
  gate = Promise.resolve();
  expect(await words("/read/fog")).toBe("gone");
  leaving.abort();
  await held;
});

test.each<[path: string, headers: Record<string, string>, times: number]>([
  ["/read?after=3", {}, 1],
  ["/read?after=3&after=4", {}, 2],
  ["/read?other=3", {}, 2],
  ["/read.data", {}, 2],
  ["/read/fog/files/1", {}, 2],
  ["/turn", {}, 2],
  ["/robots.txt", {}, 1],
  ["/read", { cookie: "elenco=somebody" }, 2],
])("%s with %j, asked for twice, is made %i times", async (path, headers, times) => {
  await ask(path, headers);
  await ask(path, headers);
  expect(made).toBe(times);
});

test("a page that is known already is not sent again; packed for who takes it so; of a HEAD the head alone", async () => {
  await ask("/read");
  const { headers } = await ask("/read");
  const etag = headers.get("etag") ?? "";
  expect(headers.get("cache-control")).toBe("public, max-age=5, stale-while-revalidate=60");
  expect(headers.get("content-type")).toBe("text/html; charset=utf-8");
  expect(headers.get("content-encoding")).toBe("gzip");
  expect((await ask("/read", { "accept-encoding": "identity" })).headers.get("content-length")).toBe("5");
  expect((await ask("/read", { "if-none-match": etag })).status).toBe(304);
  expect((await ask("/read", { "if-none-match": `"other", ${etag}` })).status).toBe(304);
  expect((await ask("/read", { "if-none-match": '"other"' })).status).toBe(200);
  const modified = headers.get("last-modified") ?? "";
  expect((await ask("/read", { "if-modified-since": modified })).status).toBe(304);
  expect((await ask("/read", { "if-modified-since": "Mon, 01 Jan 2001 00:00:00 GMT" })).status).toBe(200);
  const head = await fetch(`${base}/read`, { method: "HEAD" });
  expect([head.headers.get("etag"), await head.text()]).toEqual([etag, ""]);
  expect(made).toBe(1);
});
