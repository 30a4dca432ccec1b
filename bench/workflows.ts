import { setTimeout as pause } from "node:timers/promises";
import { eq } from "drizzle-orm";
import type { People } from "#core/people/document.ts";
import { check } from "#core/workflow/checking/check.ts";
import { readShape, type Workflow } from "#core/workflow/document.ts";
import { removeState } from "#core/workflow/editing/edit.ts";
import { chance, pick } from "#demo/texts.ts";
import type { Database } from "#server/db/client.ts";
import { piece, workflow } from "#server/db/schema/index.ts";
import { listReleased } from "#server/reader/queries.ts";
import type { Viewer } from "#server/viewer.ts";
import { putInUse } from "#server/workflows/adopt.ts";
import { saveCopy } from "#server/workflows/copies.ts";
import { previewChange } from "#server/workflows/preview.ts";
import { exportWorkflow } from "#server/workflows/queries.ts";
import type { Act } from "#server/write.ts";
import { medianTime, medianTimes, type Row } from "./measure.ts";

const SIZES = [300, 1_000, 3_000];
const PEOPLE = 500;
const RUNS = 60;
const IN_FLIGHT = 10_000;

/** The checker on larger and larger workflows, beside a plain breadth-first search over the same graph. */
export async function checking(): Promise<Row[]> {
  const people = staff();
  const rows: Row[] = [];
  for (const states of SIZES) {
    const document = lineOf(states);
    const tasks = [() => check(document, people), () => plainSearch(document)];
    const [took = 0, search = 0] = await medianTimes(tasks, RUNS);
    rows.push({
      what: `check of ${states} states, ${document.transitions.length} transitions, ${PEOPLE} people`,
      measured: `${took.toFixed(1)} ms`,
      beside: `${search.toFixed(1)} ms one breadth-first search`,
      ratio: took / search,
      aim: states === SIZES[0] ? "≤ 50 ms" : "≤ 5",
    });
  }
  return rows;
}

/** The yardstick: what is reached from the first state, as anybody would write it down. */
function plainSearch({ initial, transitions }: Workflow): number {
  const next = new Map<string, string[]>();
  for (const { from, to } of transitions) {
    for (const key of from) next.set(key, [...(next.get(key) ?? []), to]);
  }
  const seen = new Set([initial]);
  const queue = [initial];
  for (const key of queue) {
    for (const to of next.get(key) ?? []) {
      if (seen.has(to)) continue;
      seen.add(to);
      queue.push(to);
    }
  }
  return seen.size;
}

/** What putting a change in use costs with every piece in flight on it: the preview, and the change itself. */
export async function changing(db: Database, viewer: Viewer, act: Act): Promise<Row[]> {
  const key = "route-guide";
  const [row] = await db.select().from(workflow).where(eq(workflow.key, key));
  await bringInFlight(db, IN_FLIGHT);
  const inFlight = await db.$count(piece, eq(piece.inFlight, true));
  const next = removeState((await exportWorkflow(db, key)) as Workflow, "copy-edit");
  const preview = await medianTime(() => previewChange(db, viewer, row?.id ?? "", next), 5);
  const bare = await medianTime(() => db.select({ id: piece.id }).from(piece).where(eq(piece.inFlight, true)), 5);
  await saveCopy(act, { key, document: next, revision: 0 });
  const wanted = { key, revision: 1, choices: { states: {}, pieces: {} }, at: null };
  const asked = await putInUse(act, { ...wanted, acknowledged: [] });
  const acknowledged = asked.ok ? [] : (asked.refusal.keys ?? []);
  const reading = readers(db);
  const begun = performance.now();
  const done = await putInUse(act, { ...wanted, acknowledged });
  const took = performance.now() - begun;
  const slowest = await reading();
  if (!done.ok) throw new Error(done.refusal.sentence);
  return [
    {
      what: `preview of a change, ${inFlight} pieces in flight`,
      measured: `${preview.toFixed(0)} ms`,
      beside: `${bare.toFixed(0)} ms reading their ids`,
      ratio: preview / bare,
      aim: "≤ 2000 ms",
    },
    {
      what: `put in use: ${done.value?.moved} moved, ${done.value?.stayed} stayed`,
      measured: `${(took / 1000).toFixed(1)} s`,
      beside: `${slowest.toFixed(0)} ms slowest read meanwhile`,
      ratio: took / slowest,
      aim: "≤ 6 s",
    },
  ];
}

/** Puts as many live pieces back into copy edit as it takes to have so many in flight. */
async function bringInFlight(db: Database, wanted: number): Promise<void> {
  const missing = wanted - (await db.$count(piece, eq(piece.inFlight, true)));
  await db
    .update(piece)
    .set({ stateKey: "copy-edit", stateKind: "review" })
    .where(eq(piece.stateKind, "live"))
    .limit(Math.max(0, missing));
}

/** A reader takes a breath between two pages, in milliseconds. */
const BETWEEN = 20;

/** Reads what readers see first, again and again, until told to stop. @returns ends it, and answers the slowest read in milliseconds */
function readers(db: Database): () => Promise<number> {
  let going = true;
  let slowest = 0;
  const read = async () => {
    while (going) {
      const begun = performance.now();
      await listReleased(db, 20);
      slowest = Math.max(slowest, performance.now() - begun);
      await pause(BETWEEN);
    }
  };
  const reading = read();
  return async () => {
    going = false;
    await reading;
    return slowest;
  };
}

/** A line of so many states with three transitions a state, every third one a review. */
export function lineOf(count: number): Workflow {
  const random = chance(count);
  const key = (i: number) => `s${i}`;
  const states = Array.from({ length: count }, (_, i) => {
    const isReview = i % 3 === 1 && i < count - 1;
    return {
      key: key(i),
      name: `State ${i}`,
      kind: i === count - 1 ? "live" : isReview ? "review" : "writing",
      ...(isReview && {
        review: {
          rule: pick(["any", "all", "count", "in-order"], random),
          count: 2,
          seats: [{ role: `r${i % 40}` }, { role: `r${(i + 7) % 40}`, pick: "least-busy", number: 2 }],
          approve: `on${i}`,
          return: `back${i}`,
        },
      }),
    };
  });
  const transitions = states.slice(0, -1).flatMap((_, i) => [
    { key: `on${i}`, name: `On ${i}`, from: [key(i)], to: key(i + 1), by: ["author"] },
    { key: `back${i}`, name: `Back ${i}`, from: [key(i)], to: key(Math.max(0, i - 1)), by: [`role:r${i % 40}`] },
    { key: `leap${i}`, name: `Leap ${i}`, from: [key(i)], to: key(Math.floor(random() * count)), by: ["anyone"] },
  ]);
  const read = readShape({
    format: "elenco.workflow/1",
    key: "large",
    name: "Large",
    initial: key(0),
    mainLine: states.map((state) => state.key),
    states,
    transitions,
  });
  if ("problems" in read) throw new Error(JSON.stringify(read.problems[0]));
  return read.workflow;
}

function staff(): People {
  return {
    roles: Array.from({ length: 40 }, (_, i) => ({
      key: `r${i}`,
      name: `Role ${i}`,
      permissions: i % 4 === 0 ? ["piece.create"] : [],
    })),
    people: Array.from({ length: PEOPLE }, (_, i) => ({
      key: `p${i}`,
      name: `Person ${i}`,
      active: i % 21 !== 0,
      roles: [`r${i % 40}`, `r${(i * 7) % 40}`],
    })),
  };
}
