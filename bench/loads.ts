import { spawn } from "node:child_process";
import { setTimeout as rest } from "node:timers/promises";
import { chromium } from "@playwright/test";
import { and, desc, eq, isNull } from "drizzle-orm";
import mysql from "mysql2/promise";
import { type Database, disconnect } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { piece, release, task } from "#server/db/schema/index.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { piecePage } from "#server/pieces/page.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { remark } from "#server/remarks/commands.ts";
import { timetable } from "#server/schedule/timetable.ts";
import { loadViewer, type Viewer } from "#server/viewer.ts";
import { freePort } from "../scripts/mariadb.ts";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { RESTS } from "./hands.ts";
import { heardOf, seatsFor } from "./many.ts";
import { medianTime, percentile, type Row, requestTimes } from "./measure.ts";
import { carrying as whileCarried, windows } from "./schedule.ts";
import { asIlda, cookieOf, counting, db, idOf, now, record, startNode, statements, url } from "./setting.ts";
import { firstLoad } from "./text.ts";

const RUNS = 40;
const CLIENTS = 16;
const REQUESTS = 640;
const PAGES = 8;
const WARM = 20;
/** After so long a page has fetched what it fetches ahead, in milliseconds. */
const SETTLED = 1_500;

/** What loaders take beside the very statements they send, sent again raw over one connection. */
export async function loaders(): Promise<void> {
  const wim = await idOf("wim");
  const ilda = await idOf("ilda");
  const [one] = await db.select({ slug: piece.slug }).from(piece).where(eq(piece.stateKey, "route-check")).limit(1);
  await besideRaw("Your turn", wim, yourTurn);
  await besideRaw("Pieces", ilda, (counted, who) => listPieces(counted, who, {}));
  await besideRaw("a piece", ilda, (counted, who) => piecePage(counted, who, one?.slug ?? ""));
}

export async function besideRaw(
  name: string,
  personId: string,
  read: (counted: Database, who: Viewer) => Promise<unknown>,
): Promise<void> {
  const counted = await counting();
  const raw = await mysql.createConnection({ uri: url, dateStrings: true });
  const who = await loadViewer(counted, personId, now);
  if (!who) throw new Error("nobody looks");
  statements.length = 0;
  await read(counted, who);
  const sent = [...statements];
  const took = await medianTime(() => read(counted, who), RUNS);
  const bare = await medianTime(async () => {
    for (const { sql, params } of sent) await raw.query(sql, params);
  }, RUNS);
  record({
    what: `loader of ${name}, ${sent.length} statements`,
    measured: `${took.toFixed(1)} ms`,
    beside: `${bare.toFixed(1)} ms raw SQL`,
    ratio: took / bare,
    aim: "≤ 3",
  });
  await raw.end();
  await disconnect(counted);
}

/** Somebody on whom 500 seats wait, among all pieces there are. */
export async function busiest(): Promise<void> {
  const lene = await idOf("lene");
  const seats = await seatsFor(db, lene, 500);
  await besideRaw(`Your turn with ${seats} open seats`, lene, yourTurn);
}

/** The schedule of a quarter with 3,000 releases, what a drag would do, and when wishes leave. */
export async function scheduled(): Promise<void> {
  record(await windows(), await whileCarried());
  const ilda = await idOf("ilda");
  const from = now - 2 * 86_400_000;
  const some = await db.select({ id: piece.id, versionId: piece.currentVersionId }).from(piece).limit(3_000);
  const planned = some.map(({ id, versionId }, i) => ({
    id: newId(),
    pieceId: id,
    versionId,
    at: from + 4 * 86_400_000 + (i % 80) * 86_400_000,
    status: "planned" as const,
    holds: [],
    plannedBy: ilda,
    confirmedBy: ilda,
  }));
  for (let i = 0; i < planned.length; i += 500) await db.insert(release).values(planned.slice(i, i + 500));
  const span = { from, until: from + 91 * 86_400_000 };
  await besideRaw("the schedule, 3,000 releases in 13 weeks", ilda, (counted, who) => timetable(counted, who, span));
  await scheduleInBrowser();
}

/** In the page: when something was there and painted, by the page's own clock. */
const PAINTED = `window.painted = async (shows) => {
  await new Promise((done) => {
    const look = () => document.querySelector(shows) && done();
    new MutationObserver(look).observe(document, { childList: true, subtree: true });
    look();
  });
  for (let i = 0; i < 2; i++) await new Promise(requestAnimationFrame);
  return performance.now();
}`;

/** The page of that schedule in headless Chromium, from its address until its marks are painted, beside a page that shows nothing. */
async function scheduleInBrowser(): Promise<void> {
  const base = await startNode();
  const cookie = await cookieOf("ilda", base);
  const browser = await chromium.launch(chromiumOptions);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await context.addCookies([{ name: "elenco", value: cookie.split("=")[1] ?? "", url: base }]);
  const page = await context.newPage();
  await page.addInitScript(PAINTED);
  const quarter = "[role=grid] colgroup col:nth-child(92)";
  /** Each begins where `from` leads, once that is settled. */
  const median = async (from: string, go: () => Promise<number>) => {
    const times: number[] = [];
    for (let i = 0; i < PAGES; i++) {
      await page.goto(base + from);
      await rest(SETTLED);
      times.push(await go());
    }
    return percentile(times, 0.5);
  };
  const byAddress = (address: string, shows: string) => async () => {
    await page.goto(base + address, { waitUntil: "commit" });
    return page.evaluate<number>(`painted(${JSON.stringify(shows)})`);
  };
  const byLink = (name: string, shows: string) => async () => {
    await page.getByText(name).hover();
    await rest(RESTS);
    return page.getByText(name).evaluate(async (link: HTMLElement, wanted) => {
      const begun = performance.now();
      link.click();
      const { painted } = window as unknown as { painted(shows: string): Promise<number> };
      return (await painted(wanted)) - begun;
    }, shows);
  };
  // A node that has just begun is slower than it will be.
  for (let i = 0; i < WARM; i++) await (await context.request.get(`${base}/schedule?weeks=13`)).body();
  const bare = await median("/no-such-page", byAddress("/no-such-page", "h1"));
  const took = await median("/no-such-page", byAddress("/schedule?weeks=13", quarter));
  const byClick = await median("/schedule?weeks=2", byLink("a quarter", quarter));
  await browser.close();
  const row = (how: string, time: number): Row => ({
    what: `the schedule ${how}, a quarter with 3,000 releases`,
    measured: `${time.toFixed(0)} ms`,
    beside: `${bare.toFixed(0)} ms a page that shows nothing`,
    ratio: time / bare,
    aim: "≤ 300 ms",
  });
  record(row("by its address in the browser", took), row("by a link in the browser", byClick));
}

/** Plans ready pieces for now; a node that runs lets them out. */
async function planReady(most: number): Promise<void> {
  const plannedBy = await idOf("ilda");
  const ready = await db
    .select({ pieceId: piece.id, versionId: piece.currentVersionId })
    .from(piece)
    .leftJoin(release, eq(release.pieceId, piece.id))
    .where(and(eq(piece.stateKey, "ready"), isNull(release.id)))
    .orderBy(desc(piece.id))
    .limit(most);
  const at = Date.now();
  const planned = ready.map((one) => ({ id: newId(), ...one, at, holds: [], plannedBy, confirmedBy: plannedBy }));
  await db.insert(release).values(planned.map((one) => ({ ...one, status: "planned" as const })));
  await db.insert(task).values(planned.map(({ id }) => ({ id: newId(), kind: "release", subject: id, dueAt: at })));
}

/** Readers' pages at 64 clients, beside Pieces at as many, while 300 releases go out. */
export async function asRead(): Promise<void> {
  const base = await startNode();
  const cookie = await cookieOf("ilda", base);
  const [live] = await db.select({ slug: piece.slug }).from(piece).where(eq(piece.stateKind, "live")).limit(1);
  const pages = [
    { url: `${base}/pieces`, cookie },
    { url: `${base}/read/${live?.slug}`, cookie: "" },
    { url: `${base}/read`, cookie: "" },
  ];
  const times: { p95: number; rate: number }[] = [];
  for (const page of pages) {
    await requestTimes([page], 8, 32);
    const count = page.cookie ? 256 : 6_400;
    if (!page.cookie) await planReady(150);
    const begun = performance.now();
    const [p95 = Number.NaN] = await requestTimes([page], 64, count);
    // Two of ten turns warm up.
    times.push({ p95, rate: (count * 1.25 * 1000) / (performance.now() - begun) });
  }
  const bare = await bareServer();
  const [quickest = Number.NaN] = await requestTimes([{ url: bare.url, cookie: "" }], 64, 6_400);
  bare.stop();
  const [pieces, article, list] = times;
  for (const [name, one] of [
    ["a reader's page", article],
    ["the readers' list", list],
  ] as const)
    record({
      what: `${name} at 64 clients; p95 of a bare server ${quickest.toFixed(0)} ms`,
      measured: `${one?.rate.toFixed(0)}/s, p95 ${one?.p95.toFixed(0)} ms`,
      beside: `${pieces?.rate.toFixed(0)}/s Pieces`,
      ratio: (one?.rate ?? 0) / (pieces?.rate ?? 1),
      aim: "≥ 20 and ≤ 30 ms",
    });
}

/** A server in a process of its own that answers everything with the same few kilobytes: as quick as these clients can be told. */
async function bareServer(): Promise<{ url: string; stop(): void }> {
  const port = await freePort();
  const script = `require("node:http").createServer((_, to) => to.end("x".repeat(8000))).listen(${port}, () => console.log("ready"))`;
  const server = spawn(process.execPath, ["-e", script], { stdio: ["ignore", "pipe", "inherit"] });
  for await (const line of server.stdout ?? []) if (String(line).includes("ready")) break;
  return { url: `http://127.0.0.1:${port}/`, stop: () => void server.kill("SIGTERM") };
}

/** How soon 500 windows on two nodes hear of something. */
export async function live(): Promise<void> {
  const addresses = (await Promise.all([startNode(), startNode()])).map((base) => `${base}/live?of=lines`);
  // One browser holds a few streams at most.
  const cookies: string[] = [];
  for (let i = 0; i < 500; i++) cookies.push(await cookieOf("ilda", addresses[0] ?? ""));
  const [one] = await db.select({ id: piece.id }).from(piece).limit(1);
  const act = { ...(await asIlda()), personId: await idOf("petra") };
  record(await heardOf(addresses, cookies, () => remark(act, { pieceId: one?.id ?? "", body: "Heard?" })));
}

/** Whole pages, rendered, with sixteen clients at once, beside an empty page of the same server. */
export async function wholeRequests(): Promise<void> {
  const base = await startNode();
  const [wim, ilda] = [await cookieOf("wim", base), await cookieOf("ilda", base)];
  const [one] = await db.select({ slug: piece.slug }).from(piece).where(eq(piece.stateKey, "route-check")).limit(1);
  const pages: [string, string, string][] = [
    ["Your turn", "/turn", wim],
    ["Pieces", "/pieces", ilda],
    ["a piece", `/pieces/${one?.slug}`, ilda],
  ];
  const asked = [["", "/no-such-page", ilda], ...pages].map(([, at, cookie]) => ({
    url: base + at,
    cookie: `${cookie}`,
  }));
  const [empty = Number.NaN, ...took] = await requestTimes(asked, CLIENTS, REQUESTS);
  for (const [i, [name]] of pages.entries()) {
    const time = took[i] ?? Number.NaN;
    record({
      what: `page of ${name}, ${CLIENTS} clients, p95`,
      measured: `${time.toFixed(0)} ms`,
      beside: `${empty.toFixed(0)} ms empty page`,
      ratio: time / empty,
      aim: "≤ 4",
    });
  }
  record(...(await firstLoad(`${base}/pieces/${one?.slug}`, ilda)));
}
