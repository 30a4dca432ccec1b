import { and, countDistinct, eq, inArray } from "drizzle-orm";
import { SEEN_DAYS } from "#core/flow/line.ts";
import type { Stay } from "#core/flow/measure.ts";
import { visible } from "../access/visible.ts";
import { apart } from "../apart/pool.ts";
import { remembered } from "../apart/remembered.ts";
import { inTurn, orProblem } from "../apart/turns.ts";
import type { Queryable } from "../db/client.ts";
import { piece } from "../db/schema/index.ts";
import { evenedOut, type Item } from "../load/queries.ts";
import { revisionsOf } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { type FlowWanted, lineOf, narrowedBy, questionOf, stopsOf, titlesOf } from "./queries.ts";
import { returnsOf, type Unsettled } from "./returns.ts";

const DAY = 86_400_000;

/**
 * What would help at the stop of a line that holds the most, of the pieces a viewer may see; and what could be handed to
 * whom there; and why pieces came back. A sentence where it cannot be told.
 */
export async function helpPage(db: Queryable, viewer: Viewer, wanted: FlowWanted) {
  const found = await lineOf(db, viewer, wanted.line);
  if (!found) return null;
  const { line, document } = found;
  const { now, calendar } = viewer;
  const among = stopsOf(document).filter(({ kind }) => kind === "writing" || kind === "review");
  return orProblem(
    inTurn(`flow of ${viewer.id}`, async () => {
      const seen = narrowedBy(viewer, wanted);
      const [{ question }, evened, authors] = await Promise.all([
        questionOf(db, line.key, document, seen, now - Math.max(SEEN_DAYS, wanted.weeks * 7) * DAY),
        evenedOut(db, viewer, and(visible(viewer), eq(piece.inFlight, true))),
        writersAt(db, viewer, line.key),
      ]);
      const here = evened.items.filter(({ at }) => at.line === line.key);
      const to = new Map(evened.moves.map(({ item, to }) => [item, to]));
      const peopleAt = (stop: string, holder: (item: Item) => string) =>
        new Set(here.filter(({ at }) => at.stop === stop).map(holder)).size || (authors.get(stop) ?? 1);
      const counted = (holder: (item: Item) => string) =>
        Object.fromEntries(among.map(({ key }) => [key, peopleAt(key, holder)]));
      const returns = await returnsOf(db, viewer, document, within(question.stays, now - wanted.weeks * 7 * DAY));
      const asked = {
        ...question,
        calendar,
        among: among.map((one) => one.key),
        places: counted((item) => item.personId),
        spread: counted((item) => to.get(item) ?? item.personId),
        caught: Object.fromEntries(returns.map(({ stop, unsettled }) => [stop, unsettled?.caught ?? []])),
      };
      const help = await remembered(["help", asked], now, () =>
        apart("helpOf", { ...asked, now, from: now, until: now, drawn: 0 }, `flow of ${viewer.id}, apart`),
      ).catch((error: Error) => {
        if (error instanceof RangeError) return null;
        throw error;
      });
      const cameBack = returns.map(({ unsettled, ...one }) => ({ ...one, unsettled: unsettled && toldOf(unsettled) }));
      if (!help) return { returns: cameBack, help: null };
      const stop = among.find((one) => one.key === help.stop);
      const ways = help.ways.map((way) => ({ ...way, pieces: way.pieces.slice(0, TRIED) }));
      const ids = new Set(ways.flatMap((way) => way.pieces.map((one) => one.id)));
      const shown = {
        ...help,
        ways,
        line: line.key,
        name: stop?.name ?? help.stop,
        kind: stop?.kind ?? "review",
        settling: cameBack.find((one) => one.stop === help.stop)?.unsettled ?? null,
        moves: evened.moves.filter(({ item: { at } }) => at.line === line.key && at.stop === help.stop),
        pieces: await titlesOf(db, viewer, [...ids]),
      };
      return { returns: cameBack, help: shown };
    }),
  );
}

/** What is told of returns that would have been caught: not whose they are. */
const toldOf = ({ caught, ...one }: Unsettled) => ({ ...one, count: caught.length });

const within = (stays: readonly Stay[], from: number) =>
  stays.filter(({ leftAt = Number.POSITIVE_INFINITY }) => leftAt > from);

/** Of so many pieces it is shown what a change would do to them. */
const TRIED = 40;

/** How many write what is in writing on a line, by stop. */
async function writersAt(db: Queryable, viewer: Viewer, line: string): Promise<Map<string, number>> {
  const rows = await db
    .select({ stop: piece.stateKey, writers: countDistinct(piece.authorId) })
    .from(piece)
    .where(
      and(visible(viewer), eq(piece.stateKind, "writing"), inArray(piece.workflowRevisionId, revisionsOf(db, line))),
    )
    .groupBy(piece.stateKey);
  return new Map(rows.map(({ stop, writers }) => [stop, writers]));
}
