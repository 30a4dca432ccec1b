import { gte, isNull, or, sql } from "drizzle-orm";
import { chance } from "#core/flow/chance.ts";
import { forecast } from "#core/flow/forecast.ts";
import { measure, type Stay } from "#core/flow/measure.ts";
import { calendar } from "#demo/setting.ts";
import type { Database } from "#server/db/client.ts";
import { piece, stay } from "#server/db/schema/index.ts";
import { flowLines, questionOf } from "#server/flow/queries.ts";
import { loadDocuments, revisionsOf } from "#server/piece/documents.ts";
import { piecesByStop } from "#server/pieces/by-stop.ts";
import type { Viewer } from "#server/viewer.ts";
import { medianTime, medianTimes, type Row } from "./measure.ts";

const HOUR = 3_600_000;
const [PIECES, RUNS, STOPS, TAKES] = [300, 2_000, 5, 40];

/** The forecast of 300 pieces in 2,000 runs, beside a bare loop that draws the same numbers. */
export async function foreseeing(now: number): Promise<Row> {
  const some = chance(3);
  const stops = Array.from({ length: STOPS }, (_, i) => ({
    state: `s${i}`,
    takes: Array.from({ length: TAKES }, () => 60 + some(2_000)),
    ...(i % 2 === 1 && { capacity: 6 }),
  }));
  const states = [...stops, { state: "live", takes: [] }];
  const pieces = Array.from({ length: PIECES }, (_, i) => ({
    id: `p${i}`,
    at: `s${i % STOPS}`,
    since: now - some(900) * HOUR,
    publishAt: now + 120 * HOUR,
  }));
  const takes = stops.map((one) => Float64Array.from(one.takes));
  let sum = 0;
  const bare = () => {
    const draw = chance(7);
    for (let run = 0; run < RUNS; run++)
      for (let piece = 0; piece < PIECES; piece++)
        for (let stop = piece % STOPS; stop < STOPS; stop++) sum += (takes[stop] as Float64Array)[draw(TAKES)] ?? 0;
  };
  const whole = () => forecast(calendar, { now, runs: RUNS, seed: 7, states, pieces });
  const [took = 0, beside = 0] = await medianTimes([whole, bare], 5);
  return {
    what: `${PIECES} pieces foreseen in ${RUNS} runs`,
    measured: `${took.toFixed(0)} ms`,
    beside: `${beside.toFixed(0)} ms drawing the same${sum > 0 ? "" : " nothing"}`,
    ratio: took / beside,
    aim: "≤ 2 s and ≤ 3",
  };
}

/** The pieces of the busiest line queueing at its stops, beside the same counted and ranked by the database alone. */
export async function queueing(db: Database, viewer: Viewer): Promise<Row> {
  const [line] = await flowLines(db, viewer);
  if (!line) throw new Error("there is no line to queue on");
  const ofLine = sql`${piece.workflowRevisionId} IN ${revisionsOf(db, line.key)} AND ${piece.inFlight} = TRUE`;
  const raw = () =>
    db.execute(
      sql`SELECT * FROM (SELECT ${piece.id}, ${piece.title}, ${piece.stateKey}, ROW_NUMBER() OVER (PARTITION BY ${piece.stateKey} ORDER BY ${piece.since}) AS place, COUNT(*) OVER (PARTITION BY ${piece.stateKey}) AS there FROM ${piece} WHERE ${ofLine}) AS ranked WHERE place <= 12`,
    );
  const whole = () => piecesByStop(db, viewer, { line: line.key });
  const [took = 0, beside = 0] = await medianTimes([whole, raw], 9);
  return {
    what: `${await db.$count(piece, ofLine)} pieces queueing at the stops of a line`,
    measured: `${took.toFixed(0)} ms`,
    beside: `${beside.toFixed(0)} ms raw SQL`,
    ratio: took / beside,
    aim: "≤ 3",
  };
}

/** A year of a line's stays read and measured, beside what the database takes to read them through. */
export async function measuring(db: Database, viewer: Viewer): Promise<Row> {
  const [line] = await flowLines(db, viewer);
  const document = line && (await loadDocuments(db, [line.current])).get(line.current);
  if (!document) throw new Error("there is no line to measure");
  const since = viewer.now - 365 * 24 * HOUR;
  let stays: readonly Stay[] = [];
  const whole = async () => {
    stays = (await questionOf(db, line.key, document, undefined, since)).question.stays;
    return measure(viewer.calendar, { from: since, until: viewer.now }, stays);
  };
  const within = or(isNull(stay.leftAt), gte(stay.leftAt, since));
  const raw = () =>
    db
      .select({ state: stay.stateKey, mean: sql`AVG(TIMESTAMPDIFF(MINUTE, ${stay.arrivedAt}, ${stay.leftAt}))` })
      .from(stay)
      .where(within)
      .groupBy(stay.stateKey);
  const took = await medianTime(whole, 5);
  const beside = await medianTime(raw, 5);
  return {
    what: `${stays.length} stays of a year measured`,
    measured: `${took.toFixed(0)} ms`,
    beside: `${beside.toFixed(0)} ms raw SQL`,
    ratio: took / beside,
    aim: "≤ 300 ms and ≤ 3",
  };
}
