import { writeFileSync } from "node:fs";
import { and, asc, count, eq, gt, isNotNull } from "drizzle-orm";
import { type Calendar, dayOf } from "#core/time/calendar.ts";
import { due } from "#core/time/due.ts";
import { calendar } from "#demo/setting.ts";
import { newId } from "#server/db/schema/columns.ts";
import { ledger, person, piece, release } from "#server/db/schema/index.ts";
import { releases as job } from "#server/jobs/releases.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { openSession } from "#server/people/sessions.ts";
import { startCopy } from "#server/workflows/copies.ts";
import type { Act } from "#server/write.ts";
import { freePort } from "../scripts/mariadb.ts";
import { deciding, listing } from "./access.ts";
import { leaving } from "./editions.ts";
import { foreseeing, measuring, queueing } from "./flow.ts";
import { hands } from "./hands.ts";
import { formScript, listed } from "./intake.ts";
import { asRead, busiest, live, loaders, scheduled, wholeRequests } from "./loads.ts";
import { approving, evening, telling } from "./many.ts";
import { perSecond, type Row } from "./measure.ts";
import { carrying, manyRemarks, margin, remarked } from "./remarks.ts";
import { matching, trying } from "./rules.ts";
import { actAs, asIlda, db, ENTRIES, idOf, leave, now, PIECES, rows, startNode, viewer } from "./setting.ts";
import { typing } from "./studio.ts";
import { comparing, longHistory, longText } from "./text.ts";
import { changing, checking } from "./workflows.ts";
import { writing } from "./writing.ts";

const RELEASES = 300;

const parts: Record<string, () => Promise<unknown>> = {
  loaders,
  requests: wholeRequests,
  releases,
  editions: async () => rows.push(await leaving(await asIlda())),
  due: async () => dueDates(),
  text: async () => rows.push(...(await comparing()), ...(await longHistory(db, await viewer(db, "ilda")))),
  writing: typedInTheText,
  remarks: async () => {
    rows.push(...(await carrying()), ...(await manyRemarks(db, await viewer(db, "ilda"))));
    await amongRemarks();
  },
  flow: async () =>
    rows.push(
      await foreseeing(now),
      await measuring(db, await viewer(db, "ilda")),
      await queueing(db, await viewer(db, "ilda")),
    ),
  hands: felt,
  live,
  many: async () => rows.push(...(await amongMany())),
  schedule: scheduled,
  readers: asRead,
  rules: async () => {
    const ilda = await viewer(db, "ilda");
    const since = now - 30 * 86_400_000;
    const counted = () =>
      db
        .select({ n: count() })
        .from(ledger)
        .where(and(gt(ledger.at, since), isNotNull(ledger.pieceId)));
    rows.push(await matching(), await trying(db, ilda, counted));
  },
  intake: async () => {
    await listed(db, await idOf("ilda"), now);
    const port = await freePort();
    const node = await startNode(port);
    rows.push(await formScript(db, `http://127.0.0.1:${port}`));
    node.kill("SIGTERM");
  },
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
try {
  for (const [name, part] of Object.entries(parts)) if (wanted.length === 0 || wanted.includes(name)) await part();
} finally {
  await leave();
}
print();

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
