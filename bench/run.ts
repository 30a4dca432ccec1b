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
import {
  actAs,
  asIlda,
  close,
  db,
  endNodes,
  fail,
  idOf,
  now,
  options,
  PARTS,
  record,
  startNode,
  viewer,
} from "./setting.ts";
import { typing } from "./studio.ts";
import { comparing, longHistory, longText } from "./text.ts";
import { changing, checking } from "./workflows.ts";
import { writing } from "./writing.ts";

const RELEASES = 300;

const parts: Record<(typeof PARTS)[number], () => Promise<void>> = {
  loaders,
  requests: wholeRequests,
  releases,
  editions: async () => record(await leaving(await asIlda())),
  due: async () => dueDates(),
  text: async () => record(...(await comparing()), ...(await longHistory(db, await viewer(db, "ilda")))),
  writing: typedInTheText,
  remarks: async () => {
    record(...(await carrying()), ...(await manyRemarks(db, await viewer(db, "ilda"))));
    await amongRemarks();
  },
  flow: async () =>
    record(
      await foreseeing(now),
      await measuring(db, await viewer(db, "ilda")),
      await queueing(db, await viewer(db, "ilda")),
    ),
  hands: felt,
  live,
  many: async () => record(...(await amongMany())),
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
    record(await matching(), await trying(db, ilda, counted));
  },
  intake: async () => {
    await listed(db, await idOf("ilda"), now);
    const base = await startNode();
    record(await formScript(db, base));
  },
  check: async () => record(...(await checking())),
  studio: async () => record(...(await typedInTheStudio(await asIlda()))),
  decisions: async () => record(deciding()),
  changes: async () => record(...(await changing(db, await viewer(db, "ilda"), await asIlda()))),
  visible: async () => {
    record(...(await listing(db, await viewer(db, "ilda"), () => viewer(db, "gus"))));
    await busiest();
  },
};
for (const part of PARTS) {
  if (options.parts.length > 0 && !options.parts.includes(part)) continue;
  try {
    await parts[part]();
  } catch (error) {
    fail(part, error);
  }
  endNodes();
}
process.exit(close());

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
  record({
    what: `releases, ${job.batch} at a time as the job does`,
    measured: `${out.toFixed(0)}/s`,
    beside: `${bare.toFixed(0)}/s bare committed updates`,
    ratio: bare / out,
    aim: "≤ 8",
  });
}

/** The studio's answer to a keystroke, on a node of its own. */
async function typedInTheStudio(act: Act): Promise<Row[]> {
  const base = await startNode();
  const opened = await openSession(act, act.personId ?? "", { address: "bench", agent: "bench" });
  const bring = async (document: unknown) => {
    const begun = await startCopy(act, { from: "file", source: JSON.stringify(document) });
    if (!begun.ok) throw new Error(begun.refusal.missing?.join() ?? begun.refusal.sentence);
    return begun.value.key;
  };
  return typing(base, `elenco=${opened.ok ? opened.value : ""}`, bring);
}

/** Writing in a long text, on a node of its own. */
async function typedInTheText(): Promise<void> {
  const base = await startNode();
  const { address, authorId } = await longText(db, now);
  const opened = await openSession(await asIlda(), authorId, { address: "bench", agent: "bench" });
  record(...(await writing(base, `elenco=${opened.ok ? opened.value : ""}`, address)));
}

/** Writing and scrolling in a long text with 300 remarks, on a node of its own. */
async function amongRemarks(): Promise<void> {
  const base = await startNode();
  const { address, authorId, pieceId } = await longText(db, now);
  await remarked(db, pieceId, authorId, 300, now);
  const opened = await openSession(await asIlda(), authorId, { address: "bench", agent: "bench" });
  const cookie = `elenco=${opened.ok ? opened.value : ""}`;
  record(...(await writing(base, cookie, address)).map((row) => ({ ...row, what: `${row.what}, 300 remarks` })));
  record(...(await margin(base, cookie, address)));
}

/** What the hands feel, on a node of its own. */
async function felt(): Promise<void> {
  const base = await startNode();
  const { address, authorId } = await longText(db, now);
  const opened = await openSession(await asIlda(), authorId, { address: "bench", agent: "bench" });
  record(...(await hands(base, `elenco=${opened.ok ? opened.value : ""}`, address)));
}

/** Due dates beside walking minute by minute. */
function dueDates(): void {
  const starts = Array.from({ length: 500 }, (_, i) => now + i * 7_777_777);
  const fast = perSecond((i) => due(calendar, starts[i % starts.length] as number, "13wh"), 1_000);
  const slow = perSecond((i) => steppedDue(calendar, starts[i % starts.length] as number, 13 * 60), 1_000);
  record({
    what: "due dates of 13 working hours",
    measured: `${fast.toFixed(0)}/s`,
    beside: `${slow.toFixed(0)}/s minute by minute`,
    ratio: fast / slow,
    aim: "",
  });
}

function steppedDue(of: Calendar, from: number, minutes: number): number {
  let at = Math.ceil(from / 60_000) * 60_000;
  for (let left = minutes; left > 0; at += 60_000) {
    if (dayOf(of, at).open.some((span) => span.start <= at && at < span.end)) left -= 1;
  }
  return at;
}
