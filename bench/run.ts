import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { and, asc, eq } from "drizzle-orm";
import mysql from "mysql2/promise";
import { type Calendar, dayOf } from "#core/time/calendar.ts";
import { due } from "#core/time/due.ts";
import { seedDemo } from "#demo/seed.ts";
import { calendar } from "#demo/setting.ts";
import { connect, type Database, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { newId } from "#server/db/schema/columns.ts";
import { person, piece, release } from "#server/db/schema/index.ts";
import { releases as job } from "#server/jobs/releases.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { openSession } from "#server/people/sessions.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { piecePage } from "#server/pieces/page.ts";
import { timetable } from "#server/pieces/timetable.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { remark } from "#server/remarks/commands.ts";
import { loadViewer, type Viewer } from "#server/viewer.ts";
import { startCopy } from "#server/workflows/copies.ts";
import type { Act } from "#server/write.ts";
import { buildWhenStale } from "../scripts/build.ts";
import { freePort, startMariaDb } from "../scripts/mariadb.ts";
import { deciding, listing } from "./access.ts";
import { hands } from "./hands.ts";
import { approving, evening, heardOf, seatsFor, telling } from "./many.ts";
import { medianTime, perSecond, type Row, requestTimes } from "./measure.ts";
import { generate } from "./publication.ts";
import { carrying, manyRemarks, margin, remarked } from "./remarks.ts";
import { carrying as whileCarried, windows } from "./schedule.ts";
import { typing } from "./studio.ts";
import { comparing, firstLoad, longHistory, longText } from "./text.ts";
import { changing, checking } from "./workflows.ts";
import { writing } from "./writing.ts";

const PIECES = 20_000;
const ENTRIES = 200_000;
const RUNS = 40;
const CLIENTS = 16;
const REQUESTS = 640;
const RELEASES = 300;
const SECRET = "bench".repeat(8);

const rows: Row[] = [];
const parts: Record<string, () => Promise<unknown>> = {
  loaders,
  requests: wholeRequests,
  releases,
  due: async () => dueDates(),
  text: async () => rows.push(...(await comparing()), ...(await longHistory(db, await viewer(db, "ilda")))),
  writing: typedInTheText,
  remarks: async () => {
    rows.push(...(await carrying()), ...(await manyRemarks(db, await viewer(db, "ilda"))));
    await amongRemarks();
  },
  hands: felt,
  live,
  many: async () => rows.push(...(await amongMany())),
  schedule: scheduled,
  readers: asRead,
  check: async () => rows.push(...(await checking())),
  studio: async () => rows.push(...(await typedInTheStudio(await asIlda()))),
  decisions: async () => rows.push(deciding()),
  changes: async () => rows.push(...(await changing(db, await viewer(db, "ilda"), await asIlda()))),
  // Last, since it makes five times as many pieces.
  visible: async () => {
    rows.push(...(await listing(db, await viewer(db, "ilda"), () => viewer(db, "gus"))));
    await busiest();
  },
};
const wanted = process.argv.slice(2);
const folder = mkdtempSync(path.join(tmpdir(), "elenco-bench-"));
process.env.SESSION_SECRET = SECRET;
const maria = await startMariaDb(folder);
const url = `${maria.url}bench`;
const statements: { sql: string; params: unknown[] }[] = [];
await createDatabase(url);
const db = connect(url);
await migrateDatabase(db);
const now = Date.now();
await seedDemo(db, { baseUrl: "http://bench", files: folder, bare: true });
console.error(`Laying out ${PIECES} pieces and ${ENTRIES} ledger entries …`);
await generate(db, now, PIECES, ENTRIES);
try {
  for (const [name, part] of Object.entries(parts)) if (wanted.length === 0 || wanted.includes(name)) await part();
} finally {
  await disconnect(db);
  await maria.stop();
  rmSync(folder, { recursive: true, force: true });
}
print();

/** What loaders take beside the very statements they send, sent again raw over one connection. */
async function loaders(): Promise<void> {
  const wim = await idOf("wim");
  const ilda = await idOf("ilda");
  const [one] = await db.select({ slug: piece.slug }).from(piece).where(eq(piece.stateKey, "route-check")).limit(1);
  await besideRaw("Your turn", wim, yourTurn);
  await besideRaw("Pieces", ilda, (counted, who) => listPieces(counted, who, {}));
  await besideRaw("a piece", ilda, (counted, who) => piecePage(counted, who, one?.slug ?? ""));
}

async function besideRaw(
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
  rows.push({
    what: `loader of ${name}, ${sent.length} statements`,
    measured: `${took.toFixed(1)} ms`,
    beside: `${bare.toFixed(1)} ms raw SQL`,
    ratio: took / bare,
    aim: "≤ 3",
  });
  await raw.end();
  await disconnect(counted);
}

/** The schedule of a quarter with 3,000 releases, what a drag would do, and when wishes leave. */
async function scheduled(): Promise<void> {
  rows.push(await windows(), await whileCarried());
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
}

/** Readers' pages at 64 clients, beside Pieces at as many, while releases go out. */
async function asRead(): Promise<void> {
  const port = await freePort();
  const node = await startNode(port);
  const base = `http://127.0.0.1:${port}`;
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
    const begun = performance.now();
    const [p95 = Number.NaN] = await requestTimes([page], 64, count);
    // Two of ten turns warm up.
    times.push({ p95, rate: (count * 1.25 * 1000) / (performance.now() - begun) });
  }
  const [pieces, article, list] = times;
  for (const [name, one] of [
    ["a reader's page", article],
    ["the readers' list", list],
  ] as const)
    rows.push({
      what: `${name} at 64 clients, p95 ${one?.p95.toFixed(0)} ms`,
      measured: `${one?.rate.toFixed(0)}/s`,
      beside: `${pieces?.rate.toFixed(0)}/s Pieces`,
      ratio: (one?.rate ?? 0) / (pieces?.rate ?? 1),
      aim: "≥ 20, p95 ≤ 30 ms",
    });
  node.kill("SIGTERM");
}

/** Somebody on whom 500 seats wait, among all pieces there are. */
async function busiest(): Promise<void> {
  const lene = await idOf("lene");
  const seats = await seatsFor(db, lene, 500);
  await besideRaw(`Your turn with ${seats} open seats`, lene, yourTurn);
}

/** How soon 500 windows on two nodes hear of something. */
async function live(): Promise<void> {
  const ports = [await freePort(), await freePort()];
  const nodes = await Promise.all(ports.map(startNode));
  const addresses = ports.map((port) => `http://127.0.0.1:${port}/live?of=lines`);
  // One browser holds a few streams at most.
  const cookies: string[] = [];
  for (let i = 0; i < 500; i++) cookies.push(await cookieOf("ilda", addresses[0] ?? ""));
  const [one] = await db.select({ id: piece.id }).from(piece).limit(1);
  const act = { ...(await asIlda()), personId: await idOf("petra") };
  rows.push(await heardOf(addresses, cookies, () => remark(act, { pieceId: one?.id ?? "", body: "Heard?" })));
  for (const node of nodes) node.kill("SIGTERM");
}

/** What is done to many, told to many, weighed among many. */
async function amongMany() {
  const petra = await viewer(db, "petra");
  const act = { ...(await asIlda()), personId: petra.id };
  const readers = await db.select({ id: person.id }).from(person).where(eq(person.guest, false));
  const pieces = await db.select({ id: piece.id }).from(piece).limit(800);
  return [
    await evening(),
    ...(await approving(db, act, petra)),
    await telling(
      act,
      readers.map(({ id }) => id).filter((id) => id !== petra.id),
      pieces.map(({ id }) => id),
    ),
  ];
}

/** A pool that notes each statement with its values. */
async function counting(): Promise<Database> {
  const noting = connect(url);
  const pool = noting.$client;
  const query = pool.query.bind(pool);
  pool.query = ((...given: unknown[]) => {
    const [options, params] = given as [{ sql: string } | string, unknown[]];
    statements.push({
      sql: typeof options === "string" ? options : options.sql,
      params: Array.isArray(params) ? params : [],
    });
    return (query as (...all: unknown[]) => unknown)(...given);
  }) as typeof pool.query;
  return noting;
}

/** Whole pages, rendered, with sixteen clients at once, beside an empty page of the same server. */
async function wholeRequests(): Promise<void> {
  const port = await freePort();
  const node = await startNode(port);
  const base = `http://127.0.0.1:${port}`;
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
    rows.push({
      what: `page of ${name}, ${CLIENTS} clients, p95`,
      measured: `${time.toFixed(0)} ms`,
      beside: `${empty.toFixed(0)} ms empty page`,
      ratio: time / empty,
      aim: "≤ 4",
    });
  }
  rows.push(...(await firstLoad(`${base}/pieces/${one?.slug}`, ilda)));
  node.kill("SIGTERM");
}

/** A session of somebody, as a browser keeps it. */
async function cookieOf(key: string, baseUrl: string): Promise<string> {
  const act = {
    db,
    personId: null,
    now: Date.now(),
    origin: "bench",
    requestId: "bench",
    baseUrl,
    files: folder,
    proven: true,
  };
  const opened = await openSession(act, await idOf(key), { address: "bench", agent: "bench" });
  return `elenco=${opened.ok ? opened.value : ""}`;
}

async function startNode(port: number): Promise<ChildProcess> {
  buildWhenStale();
  const env = {
    ...process.env,
    NODE_ENV: "production",
    DATABASE_URL: url,
    SESSION_SECRET: SECRET,
    PORT: String(port),
    LOG_LEVEL: "error",
  };
  const node = spawn(process.execPath, ["--import", "tsx", "scripts/start.ts"], {
    env,
    stdio: ["ignore", "pipe", "inherit"],
  });
  for await (const line of node.stdout ?? []) if (String(line).includes("ready")) break;
  node.stdout?.resume();
  return node;
}

/** Releases carried out in a row, with all they bring, beside single rows updated and committed in a row. */
async function releases(): Promise<void> {
  const ready = await db
    .select({ id: piece.id, versionId: piece.currentVersionId })
    .from(piece)
    .where(eq(piece.stateKey, "ready"))
    .orderBy(asc(piece.id))
    .limit(RELEASES * 2);
  const plannedBy = await idOf("ilda");
  const planned = ready.slice(0, RELEASES).map((one) => ({
    id: newId(),
    pieceId: one.id,
    versionId: one.versionId,
    at: now - 1000,
    status: "planned" as const,
    holds: [],
    plannedBy,
    confirmedBy: plannedBy,
  }));
  await db.insert(release).values(planned);
  const rate = async (count: number, tasks: (() => Promise<unknown>)[]) => {
    const begun = performance.now();
    for (const task of tasks) await task();
    return (count * 1000) / (performance.now() - begun);
  };
  const act = actAs(null);
  const ids = planned.map((one) => one.id);
  const batches = Array.from({ length: Math.ceil(ids.length / job.batch) }, (_, i) =>
    ids.slice(i * job.batch, (i + 1) * job.batch),
  );
  const out = await rate(
    RELEASES,
    batches.map((batch) => () => carryOut(act, batch)),
  );
  const bare = await rate(
    RELEASES,
    ready.slice(RELEASES).map(
      (one) => () =>
        db
          .update(piece)
          .set({ publishAt: now })
          .where(and(eq(piece.id, one.id))),
    ),
  );
  rows.push({
    what: `releases, ${job.batch} at a time as the job does`,
    measured: `${out.toFixed(0)}/s`,
    beside: `${bare.toFixed(0)}/s bare committed updates`,
    ratio: bare / out,
    aim: "≤ 8",
  });
}

async function asIlda(): Promise<Act> {
  return actAs(await idOf("ilda"));
}

/** What a command is given, in somebody's name or in that of a job. */
function actAs(personId: string | null): Act {
  return {
    db,
    personId,
    now,
    origin: "bench",
    requestId: "bench",
    baseUrl: "http://bench",
    files: folder,
    proven: true,
  };
}

/** The studio's answer to a keystroke, on a node of its own. */
async function typedInTheStudio(act: Act): Promise<Row[]> {
  const port = await freePort();
  const node = await startNode(port);
  const opened = await openSession(act, act.personId ?? "", { address: "bench", agent: "bench" });
  const bring = async (document: unknown) => {
    const begun = await startCopy(act, { from: "file", source: JSON.stringify(document) });
    if (!begun.ok) throw new Error(begun.refusal.missing?.join() ?? begun.refusal.sentence);
    return begun.value.key;
  };
  try {
    return await typing(`http://127.0.0.1:${port}`, `elenco=${opened.ok ? opened.value : ""}`, bring);
  } finally {
    node.kill("SIGTERM");
  }
}

/** Writing in a long text, on a node of its own. */
async function typedInTheText(): Promise<void> {
  const port = await freePort();
  const node = await startNode(port);
  try {
    const { address, authorId } = await longText(db, now);
    const opened = await openSession(await asIlda(), authorId, { address: "bench", agent: "bench" });
    rows.push(...(await writing(`http://127.0.0.1:${port}`, `elenco=${opened.ok ? opened.value : ""}`, address)));
  } finally {
    node.kill("SIGTERM");
  }
}

/** Writing and scrolling in a long text with 300 remarks, on a node of its own. */
async function amongRemarks(): Promise<void> {
  const port = await freePort();
  const node = await startNode(port);
  try {
    const { address, authorId, pieceId } = await longText(db, now);
    await remarked(db, pieceId, authorId, 300, now);
    const opened = await openSession(await asIlda(), authorId, { address: "bench", agent: "bench" });
    const cookie = `elenco=${opened.ok ? opened.value : ""}`;
    const base = `http://127.0.0.1:${port}`;
    rows.push(...(await writing(base, cookie, address)).map((row) => ({ ...row, what: `${row.what}, 300 remarks` })));
    rows.push(...(await margin(base, cookie, address)));
  } finally {
    node.kill("SIGTERM");
  }
}

/** What the hands feel, on a node of its own. */
async function felt(): Promise<void> {
  const port = await freePort();
  const node = await startNode(port);
  try {
    const { address, authorId } = await longText(db, now);
    const opened = await openSession(await asIlda(), authorId, { address: "bench", agent: "bench" });
    rows.push(...(await hands(`http://127.0.0.1:${port}`, `elenco=${opened.ok ? opened.value : ""}`, address)));
  } finally {
    node.kill("SIGTERM");
  }
}

/** Due dates beside walking minute by minute. */
function dueDates(): void {
  const starts = Array.from({ length: 500 }, (_, i) => now + i * 7_777_777);
  const fast = perSecond((i) => due(calendar, starts[i % starts.length] as number, "13wh"), 1_000);
  const slow = perSecond((i) => steppedDue(calendar, starts[i % starts.length] as number, 13 * 60), 1_000);
  rows.push({
    what: "due dates of 13 working hours",
    measured: `${fast.toFixed(0)}/s`,
    beside: `${slow.toFixed(0)}/s minute by minute`,
    ratio: fast / slow,
    aim: "no aim set",
  });
}

function steppedDue(of: Calendar, from: number, minutes: number): number {
  let at = Math.ceil(from / 60_000) * 60_000;
  for (let left = minutes; left > 0; at += 60_000) {
    if (dayOf(of, at).open.some((span) => span.start <= at && at < span.end)) left -= 1;
  }
  return at;
}

async function viewer(on: Database, key: string): Promise<Viewer> {
  const found = await loadViewer(on, await idOf(key), Date.now());
  if (!found) throw new Error(`the bench has no ${key}`);
  return found;
}

async function idOf(key: string): Promise<string> {
  const [row] = await db.select({ id: person.id }).from(person).where(eq(person.key, key));
  return row?.id ?? "";
}

function print(): void {
  const table = [
    ["measured", "", "beside", "ratio", "aim"],
    ...rows.map((row) => [row.what, row.measured, row.beside, row.ratio.toFixed(2), row.aim]),
  ];
  const widths = [0, 1, 2, 3, 4].map((i) => Math.max(...table.map((line) => line[i]?.length ?? 0)));
  for (const line of table) console.log(line.map((cell, i) => cell.padEnd(widths[i] ?? 0)).join("  "));
  writeFileSync(
    "bench/results.json",
    `${JSON.stringify({ at: new Date().toISOString(), pieces: PIECES, entries: ENTRIES, rows }, null, 2)}\n`,
  );
}
