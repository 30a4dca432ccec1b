import { and, asc, count, desc, eq, gt, gte, isNotNull, lt, sql } from "drizzle-orm";
import { type WeekLetter, weekTold } from "#core/events/flow.ts";
import { accept, type Result } from "#core/refusal.ts";
import { howTold, ROUTES } from "#core/telling/choices.ts";
import { sayDate } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import { visible } from "../access/visible.ts";
import type { Database, Queryable } from "../db/client.ts";
import { ledger, likely, person, piece, publication } from "../db/schema/index.ts";
import { countTurn } from "../pieces/turn.ts";
import { loadPlaces } from "../sections/places.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";
import { targetsSeen } from "./targets.ts";

const WEEK = 7 * 86_400_000;
/** So many titles are named of what left and of what is likely late. */
const NAMED = 8;
/** So many of each are counted. */
const READ = 500;

/** Who wants a letter of the week, by whichever route. */
async function readersOf(db: Queryable): Promise<string[]> {
  const { telling } = await loadPlaces(db);
  const rows = await db
    .select({ id: person.id, own: person.telling })
    .from(person)
    .where(and(eq(person.active, true), eq(person.guest, false)));
  return rows
    .filter(({ own }) => ROUTES.some((route) => howTold("week", route, own, telling) !== "never"))
    .map(({ id }) => id);
}

/** The week up to now as somebody may see it: what left, what waits, what is likely late, how targets stand. */
export async function weekLetter(db: Queryable, viewer: Viewer): Promise<WeekLetter> {
  const { now, zone } = viewer;
  const [left, turn, [flight], late, targets] = await Promise.all([
    db
      .select({ title: piece.title, at: piece.firstLiveAt })
      .from(piece)
      .where(and(visible(viewer), gte(piece.firstLiveAt, now - WEEK), lt(piece.firstLiveAt, now)))
      .orderBy(desc(piece.firstLiveAt))
      .limit(READ),
    countTurn(db, viewer),
    db
      .select({ all: count(), late: sql<number>`COALESCE(SUM(${lt(piece.dueAt, now)}), 0)`.mapWith(Number) })
      .from(piece)
      .where(and(visible(viewer), eq(piece.inFlight, true))),
    db
      .select({ title: piece.title, p50: likely.p50, publishAt: piece.publishAt })
      .from(piece)
      .innerJoin(likely, eq(likely.pieceId, piece.id))
      .where(and(visible(viewer), isNotNull(piece.publishAt), gt(likely.p50, piece.publishAt)))
      .orderBy(asc(piece.publishAt))
      .limit(READ),
    targetsSeen(db, viewer),
  ]);
  const day = (at: number | null) => (at === null ? "" : sayDate(at, zone, now));
  const named = <T>(rows: readonly T[], say: (row: T) => string) => [
    ...rows.slice(0, NAMED).map((row) => `· ${say(row)}`),
    ...(rows.length > NAMED ? [`· and ${rows.length - NAMED} more`] : []),
  ];
  const open = targets.filter((one) => one.gone > 0 && one.gone < 1);
  return {
    headline: `The week: ${left.length || "none"} left, ${flight?.all === 1 ? "one is" : `${flight?.all || "none"} are`} on the way${late.length > 0 ? `, ${late.length} likely too late` : ""}`,
    lines: [
      `Left for readers: ${left.length || "none"}`,
      ...named(left, (one) => `${one.title}, ${day(one.at)}`),
      `Waiting: ${counted(turn.waiting, "piece")} on you, ${turn.late || "none"} late; ${counted(flight?.all ?? 0, "piece")} in all, ${flight?.late || "none"} late`,
      `Likely too late: ${late.length || "none"}`,
      ...named(late, (one) => `${one.title}: wished for ${day(one.publishAt)}, likely ${day(one.p50)}`),
      ...(open.length > 0 ? ["Targets"] : []),
      ...open.map(
        (one) =>
          `· ${one.name}: ${one.done} of ${one.of ?? one.wanted}${one.of === null ? "" : " in time"}, ${OUTCOMES[one.outcome]}`,
      ),
    ],
  };
}

const OUTCOMES = {
  reached: "reached",
  missed: "missed",
  ahead: "not begun",
  likely: "likely to be reached",
  "at risk": "at risk",
} as const;

/**
 * Tells whoever wants it of the week, once: as a notice, which goes by the routes they chose and in the words the team
 * has for it.
 *
 * @param db where it is read, before the write
 */
export async function tellWeek(db: Database, act: Act): Promise<Result<number>> {
  const { now } = act;
  const letters: { to: string; params: WeekLetter }[] = [];
  for (const id of await readersOf(db)) {
    const viewer = await loadViewer(db, id, now);
    if (viewer) letters.push({ to: id, params: await weekLetter(db, viewer) });
  }
  if (letters.length === 0) return accept(0);
  return write(act, async ({ tx, happened }) => {
    // Two nodes that tell of one week come one after the other here.
    await tx.select({ id: publication.id }).from(publication).for("update");
    const told = await tx.$count(ledger, and(eq(ledger.action, weekTold.name), gt(ledger.at, now - WEEK / 2)));
    if (told > 0) return accept(0);
    happened(
      weekTold,
      { from: now - WEEK, until: now },
      { tell: { reader: letters.map(({ to, params }) => ({ to, params: { ...params } })) } },
    );
    return accept(letters.length);
  });
}
