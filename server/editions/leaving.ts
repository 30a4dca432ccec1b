import { and, eq, inArray, ne } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import {
  editionDropped,
  editionForeseen,
  editionHeld,
  editionMoved,
  editionReleased,
  editionResumed,
} from "#core/events/editions.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { type Hold, isOfRight, sayHold } from "#core/release/preflight.ts";
import { isOpen, opens } from "#core/release/window.ts";
import { loadHolders } from "../access/holders.ts";
import { type EditionHold, edition, release } from "../db/schema/index.ts";
import { leave, outOf } from "../passage/carry-out.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { layAhead } from "../release/ahead.ts";
import { letsOut, loadChannel } from "../release/channels.ts";
import { lastLooks } from "../release/last-look.ts";
import { OPEN } from "../release/plans.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { concerned } from "./commands.ts";
import {
  goesOut,
  isGathering,
  isSigned,
  itemsOf,
  lockContents,
  named,
  type OpenedEdition,
  openEdition,
  signaturesOf,
} from "./open.ts";
import { answeringFor, contentsHash, hashesOf, leavingWith } from "./signing.ts";

/** What became of an edition whose time has come; `gone` when another node was faster, or its date is another. */
export type Left = "released" | "held" | "put off" | "dropped" | "gone";

/** An edition that is about to leave; nobody acts where its time has come by itself. */
type Leaving = Omit<OpenedEdition, "actor">;

/**
 * Lets an edition out whose time has come: all of it, in one transaction, or none of it with the reasons. Runs for
 * the job, with no actor. One that nobody filled is dropped.
 */
export function leaveEdition(act: Act, editionId: string): Promise<Result<Left>> {
  return write<Left>(act, async (change) => {
    const { tx, now } = change;
    const pieces = await lockContents(change, editionId);
    const due = and(eq(edition.id, editionId), inArray(edition.status, ["gathering", "signed"]));
    const [row] = await tx.select().from(edition).where(due).for("update");
    if (!row || row.at > now) return accept("gone");
    const [channel, places] = [await loadChannel(tx, row.channel), await loadPlaces(tx)];
    if (!isGathering(channel)) return accept("gone");
    const [items, signatures] = [await itemsOf(tx, [row.id]), await signaturesOf(tx, row.id)];
    const leaving: Leaving = { row, channel, items, signatures, places };
    // Somebody filled it while its pieces were being locked.
    if (items.length !== pieces.length) throw new Error("the edition changed while it was about to leave");
    await layAhead(change, channel, places.calendar);
    if (items.length === 0) return dropped(change, leaving);
    if (!isOpen(channel.windows, now)) {
      const next = opens(channel.windows, now);
      if (next !== null) return putOff(change, leaving, next);
    }
    return letOut(change, leaving, pieces);
  });
}

export const releaseInput = z.object({ editionId: z.uuid(), revision: z.coerce.number().int() });

/** Lets a signed or held edition out at once, by somebody who may: within the windows of its channel, after the same last look. */
export function releaseEdition(act: Act, wanted: z.input<typeof releaseInput>): Promise<Result<Left>> {
  return write<Left>(act, async (change) => {
    const pieces = await lockContents(change, wanted.editionId);
    const opened = await openEdition(change, wanted.editionId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { row, channel, actor, signatures } = opened.value;
    const { now } = change;
    if (row.status !== "signed" && row.status !== "held")
      return refuse({ code: "not-signed", sentence: "It is not signed off." });
    if (!isSigned(channel, signatures))
      return refuse({ code: "not-signed", sentence: sayHold({ code: "not-signed" }) });
    const unable = pieces.some((one) => !can(actor, "piece.release", one.target, now).allowed);
    if (!letsOut(channel, actor.id) || unable)
      return refuse({ code: "not-granted", sentence: "No role of yours lets you release everything in it." });
    if (!isOpen(channel.windows, now))
      return refuse({
        code: "window",
        sentence: "Nothing leaves now. Give it a date: it leaves when the next window opens.",
      });
    const left = await letOut(change, opened.value, pieces);
    if (left.ok && left.value === "held") {
      const [first] = (await holdsOf(change, opened.value, pieces)).flatMap((one) => one.holds);
      return refuse({ code: "held", sentence: first ? sayHold(first) : "Something stands in its way." });
    }
    if (left.ok) await cancel(change.tx, "edition", [row.id]);
    return left;
  });
}

/** All of an edition out, or none of it. */
async function letOut(change: Change, leaving: Leaving, pieces: readonly PieceFacts[]): Promise<Result<Left>> {
  const { tx, now } = change;
  const { row, channel, items } = leaving;
  const holds = await holdsOf(change, leaving, pieces);
  if (holds.length > 0) {
    await tx
      .update(edition)
      .set({ status: "held", holds, revision: row.revision + 1 })
      .where(eq(edition.id, row.id));
    await askAfterEmbargo(change, row.id, holds, pieces);
    await tellHolds(change, editionHeld, leaving, holds, pieces);
    return accept("held");
  }
  const planned = await plannedElsewhere(
    change,
    items.map((item) => item.pieceId),
    row.channel,
  );
  const order = new Map(items.map((item, i) => [item.pieceId, i]));
  const going = [...pieces]
    .sort((a, b) => (order.get(a.piece.id) ?? 0) - (order.get(b.piece.id) ?? 0))
    .map((facts) => ({ change: change.apart(), facts, ...outOf(facts, planned.has(facts.piece.id)) }));
  const left = await leave(change, leaving.places, going, channel);
  if (!left.ok) return left;
  await tx
    .update(edition)
    .set({ status: "released", releasedAt: now, holds: [], revision: row.revision + 1 })
    .where(eq(edition.id, row.id));
  change.happened(
    editionReleased,
    { ...named(leaving), pieces: items.length },
    { subjectId: row.id, tell: { people: concerned(leaving) } },
  );
  return accept("released");
}

/** Which of some pieces have something planned through another channel. */
async function plannedElsewhere({ tx }: Change, pieceIds: readonly string[], through: string): Promise<Set<string>> {
  const rows = await tx
    .select({ pieceId: release.pieceId })
    .from(release)
    .where(
      and(inArray(release.pieceId, [...pieceIds]), inArray(release.status, [...OPEN]), ne(release.channel, through)),
    );
  return new Set(rows.map((one) => one.pieceId));
}

/** What stands in the way of an edition as things are: of the whole, and of each of its pieces. */
export async function holdsOf(change: Change, leaving: Leaving, pieces: readonly PieceFacts[]): Promise<EditionHold[]> {
  const { row, channel, items, signatures } = leaving;
  const whole: Hold[] = [];
  if (items.length === 0) whole.push({ code: "empty" });
  const hash = contentsHash(leaving, items, hashesOf(pieces));
  if (
    !isSigned(
      channel,
      signatures.filter((one) => one.hash === hash),
    )
  )
    whole.push({ code: "not-signed" });
  const answering = await answeringFor(change.tx, signatures);
  const looks = await lastLooks(
    change,
    pieces.map((facts) => {
      const item = items.find((one) => one.pieceId === facts.piece.id);
      const planned = item?.versionId ?? facts.version.id;
      return { facts, leaving: leavingWith(facts, answering, row.channel, planned) };
    }),
  );
  return [
    ...(whole.length > 0 ? [{ pieceId: null, holds: whole }] : []),
    ...pieces.flatMap(({ piece }, i) => {
      // Nobody signed it, which is said of the whole.
      const holds = (looks[i] ?? []).filter((hold) => signatures.length > 0 || !isOfRight(hold));
      return holds.length > 0 ? [{ pieceId: piece.id, holds }] : [];
    }),
  ];
}

/** Says on record what stands in an edition's way; each of those concerned is told of the pieces they may see. */
export async function tellHolds(
  change: Change,
  event: typeof editionHeld,
  leaving: Leaving,
  holds: readonly EditionHold[],
  pieces: readonly PieceFacts[],
): Promise<void> {
  const facts = new Map(pieces.map((one) => [one.piece.id, one]));
  const ids = [...new Set(concerned(leaving))];
  const people = await loadHolders(change.tx, ids);
  const linesFor = (id: string) =>
    holds.flatMap(({ pieceId, holds: some }) => {
      const one = facts.get(pieceId ?? "");
      const person = people.get(id);
      if (one && !(person && can(person, "piece.read", one.target, change.now).allowed)) return [];
      const said = some.map(sayHold).join(" ");
      return [one ? `${one.piece.title}: ${said}` : said];
    });
  change.happened(
    event,
    { ...named(leaving), holds: [...holds] },
    {
      subjectId: leaving.row.id,
      tell: { people: ids.map((to) => ({ to, params: { lines: linesFor(to) } })) },
    },
  );
}

/**
 * Looks at a signed or held edition of which something was changed: what would hold it is told now, not at its time,
 * and a held one that nothing holds any more goes out when its channel next lets it.
 */
export function lookAhead(act: Act, editionId: string): Promise<Result<null>> {
  return write(act, async (change) => {
    const { tx } = change;
    const pieces = await lockContents(change, editionId);
    const looked = and(eq(edition.id, editionId), inArray(edition.status, ["signed", "held"]));
    const [row] = await tx.select().from(edition).where(looked).for("update");
    const channel = row && (await loadChannel(tx, row.channel));
    if (!row || !channel || !isGathering(channel)) return accept(null);
    const [items, signatures] = [await itemsOf(tx, [row.id]), await signaturesOf(tx, row.id)];
    const leaving: Leaving = { row, channel, items, signatures, places: await loadPlaces(tx) };
    const holds = await holdsOf(change, leaving, pieces);
    await askAfterEmbargo(change, row.id, holds, pieces);
    if (row.status === "held" && holds.length === 0) return resume(change, leaving);
    if (JSON.stringify(holds) === JSON.stringify(row.holds)) return accept(null);
    await tx.update(edition).set({ holds }).where(eq(edition.id, row.id));
    await tellHolds(change, editionForeseen, leaving, holds, pieces);
    return accept(null);
  });
}

/** Lets a held edition that nothing holds any more go out when its channel next lets it. */
async function resume(change: Change, leaving: Leaving): Promise<Result<null>> {
  const { row } = leaving;
  const at = goesOut(leaving, change.now);
  if (at === null) return accept(null);
  await change.tx
    .update(edition)
    .set({ status: "signed", at, holds: [], revision: row.revision + 1 })
    .where(eq(edition.id, row.id));
  await schedule(change.tx, { kind: "edition", subject: row.id, dueAt: at });
  change.happened(
    editionResumed,
    { ...named(leaving), at },
    { subjectId: row.id, before: { at: row.at }, tell: { people: concerned(leaving) } },
  );
  return accept(null);
}

/** An embargo runs out without anybody doing anything: the edition it holds is looked at again then. */
async function askAfterEmbargo(
  { tx }: Change,
  editionId: string,
  holds: readonly EditionHold[],
  pieces: readonly PieceFacts[],
): Promise<void> {
  const held = holds.filter((one) => one.holds.some((hold) => hold.code === "embargo")).map((one) => one.pieceId);
  const ends = pieces.flatMap(({ piece }) => (held.includes(piece.id) ? (piece.embargoUntil ?? []) : []));
  if (ends.length > 0) await schedule(tx, { kind: "edition-look", subject: editionId, dueAt: Math.min(...ends) });
}

async function putOff(change: Change, leaving: Leaving, at: number): Promise<Result<Left>> {
  const { row } = leaving;
  await change.tx
    .update(edition)
    .set({ at, revision: row.revision + 1 })
    .where(eq(edition.id, row.id));
  await schedule(change.tx, { kind: "edition", subject: row.id, dueAt: at });
  change.happened(
    editionMoved,
    { ...named(leaving), at },
    { subjectId: row.id, before: { at: row.at }, tell: { people: concerned(leaving) } },
  );
  return accept("put off");
}

async function dropped(change: Change, leaving: Leaving): Promise<Result<Left>> {
  const { row } = leaving;
  await change.tx
    .update(edition)
    .set({ status: "dropped", revision: row.revision + 1 })
    .where(eq(edition.id, row.id));
  change.happened(
    editionDropped,
    { ...named(leaving), note: "Nothing was in it when its time came." },
    { subjectId: row.id, tell: { people: concerned(leaving) } },
  );
  return accept("dropped");
}
