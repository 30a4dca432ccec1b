import { and, eq, inArray } from "drizzle-orm";
import { approvalsVoid, versionNamed, versionSaved } from "#core/events/text.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { type Content, changedFields, type FieldProblem, fieldProblems } from "#core/text/fields.ts";
import { readContent } from "#core/text/reading.ts";
import { applyPatch, type Patch } from "#core/text/splice.ts";
import { THINNED_AFTER } from "#core/text/thinning.ts";
import { sayInstant } from "#core/time/words.ts";
import { person, piece, round, seat, textHolder, version } from "../db/schema/index.ts";
import { claimFiles } from "../files/commands.ts";
import { refuseOften } from "../people/attempts.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { heldByOther, hold } from "../piece/holder.ts";
import type { Opened } from "../piece/open.ts";
import { foresee } from "../release/foresee.ts";
import { callOpenSeats, loadOpenRound, type OpenRound, recipients } from "../review/rounds.ts";
import { scheduleBy } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { carryAnchors, type Lasted } from "./anchors.ts";
import { openText } from "./open.ts";
import { goesOn, versionRow } from "./versions.ts";

export interface Save {
  pieceId: string;
  /** The window that writes, by an id of its own. */
  window: string;
  /** The hash of the text the writer's words grew from. */
  base: string;
  patch: Patch;
  /** A name for the version, so that it stays one of its own. */
  name?: string | undefined;
}

export interface Saved {
  version: number;
  hash: string;
  revision: number;
}

/**
 * Keeps what somebody wrote: words in a row go on in one version, others begin the next (see
 * `goesOn`). Whoever saves holds the text; what grew from another text than the present is refused.
 */
export function savePiece(act: Act, save: Save): Promise<Result<Saved>> {
  return write<Saved>(act, async (change) => {
    const opened = await openText(change, save.pieceId);
    if (!opened.ok) return opened;
    const { facts, places } = opened.value;
    const zone = places.calendar.timeZone;
    const held = await hold(change, facts, { personId: opened.value.actor.id, window: save.window }, zone);
    if (held) return refuse(held);
    const patched = save.base === facts.version.hash ? applyPatch(facts.version.content, save.patch) : null;
    if (!patched) return refuse(await staleSave(change, facts, zone));
    return keepText(change, opened.value, patched, save.name);
  });
}

/** Holds a text for a window, before a word is written in it; or takes it over, and whoever held it is told. */
export function holdText(
  act: Act,
  { pieceId, window, takes }: { pieceId: string; window: string; takes: boolean },
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openText(change, pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const held = await hold(change, facts, { personId: actor.id, window }, places.calendar.timeZone, takes);
    return held ? refuse(held) : accept(null);
  });
}

/** Lets a text go that a window held. */
export function letGoOfText(act: Act, { pieceId, window }: { pieceId: string; window: string }): Promise<Result<null>> {
  return write(act, async (change) => {
    await change.tx
      .delete(textHolder)
      .where(
        and(
          eq(textHolder.pieceId, pieceId),
          eq(textHolder.personId, change.actor?.id ?? ""),
          eq(textHolder.window, window),
        ),
      );
    return accept(null);
  });
}

/** Gives a version a name, so that it is found again and never thinned out; without words the name goes. */
export async function nameVersion(
  act: Act,
  { pieceId, number, name }: { pieceId: string; number: number; name: string },
): Promise<Result<null>> {
  const often = await refuseOften(act, "version name");
  if (often) return refuse(often);
  return write(act, async (change) => {
    const opened = await openText(change, pieceId);
    if (!opened.ok) return opened;
    const found = await versionOf(change, pieceId, number);
    if (!found) return refuse(NO_VERSION);
    await change.tx
      .update(version)
      .set({ name: name || null })
      .where(eq(version.id, found.id));
    change.happened(
      versionNamed,
      { version: number, name },
      { pieceId, subjectId: found.id, before: { name: found.name } },
    );
    return accept(null);
  });
}

/** What of an earlier version comes back: all of it, or one field, or one block of a manuscript put in at a place. */
export type Wanted = { all: true } | { field: string; block?: { from: number; at: number } | undefined };

/** Brings an earlier version back, or a passage of it, as a new version; what is there now stays a version too. */
export function restoreVersion(
  act: Act,
  wanted: { pieceId: string; number: number; base: string; what: Wanted },
): Promise<Result<Saved>> {
  return write<Saved>(act, async (change) => {
    const opened = await openText(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const zone = places.calendar.timeZone;
    const held = await heldByOther(change, facts, actor.id, zone);
    if (held) return refuse(held);
    if (wanted.base !== facts.version.hash) return refuse(await staleSave(change, facts, zone));
    const earlier = await versionOf(change, wanted.pieceId, wanted.number);
    if (!earlier) return refuse(NO_VERSION);
    const content = broughtBack(facts.version.content, earlier.content, wanted.what);
    if (!content) return refuse({ code: "not-found", sentence: "There is no such passage in that version." });
    return keepText(change, opened.value, content, `from version ${wanted.number}`);
  });
}

const NO_VERSION: Refusal = { code: "not-found", sentence: "There is no such version." };

/** A refusal for content that cannot be kept. */
export function asRefusal(problems: readonly FieldProblem[]): Refusal {
  return {
    code: "content",
    field: problems[0]?.key,
    sentence: problems[0]?.sentence ?? "The text cannot be kept.",
    missing: problems.slice(1).map((problem) => problem.sentence),
  };
}

function broughtBack(now: Content, earlier: Content, what: Wanted): unknown {
  if ("all" in what) return earlier;
  const value = earlier.fields[what.field];
  if (value === undefined) return null;
  if (!what.block) return { ...now, fields: { ...now.fields, [what.field]: value } };
  const [from, to] = [value, now.fields[what.field]].map(
    (one) => (one as { content?: unknown[] } | undefined)?.content,
  );
  const block = from?.[what.block.from];
  if (!block || !to) return null;
  const content = to.toSpliced(what.block.at, 0, block);
  return { ...now, fields: { ...now.fields, [what.field]: { type: "doc", content } } };
}

/**
 * Makes content the piece's present text. Whether the actor may was decided before.
 *
 * @param lasted what lasted of fields whose change is known exactly; found by comparison for the others
 */
export async function keepText(
  change: Change,
  { facts, actor, places }: Opened,
  json: unknown,
  name: string | undefined,
  lasted?: Lasted,
): Promise<Result<Saved>> {
  const { tx, now } = change;
  const last = facts.version;
  const read = readContent(facts.kind.fields, json);
  if ("problems" in read) return refuse(asRefusal(read.problems));
  const next = {
    ...versionRow(facts.piece.id, last.number + 1, read.content, facts.kind.fields, {
      authorId: actor.id,
      createdAt: now,
    }),
    name: name ?? null,
  };
  if (next.hash === last.hash) return accept({ version: last.number, hash: last.hash, revision: facts.piece.revision });
  const claimed = await claimFiles(change, places, facts.piece.id, facts.kind.fields, read.content);
  if (claimed) return refuse(claimed);
  const going = { personId: actor.id, since: facts.piece.since, now };
  const same = name === undefined && (await goesOn(tx, last, going));
  const row = same ? { ...next, id: last.id, number: last.number } : next;
  if (same) await tx.update(version).set(row).where(eq(version.id, last.id));
  else await tx.insert(version).values(row);
  const revision = facts.piece.revision + 1;
  await tx
    .update(piece)
    .set({
      currentVersionId: row.id,
      title: read.content.title,
      revision,
    })
    .where(eq(piece.id, facts.piece.id));
  await carryAnchors(change, facts.piece.id, last.content, read.content, lasted);
  change.happened(
    versionSaved,
    {
      version: row.number,
      hash: row.hash,
      fields: changedFields(last.content, read.content),
      ...(name !== undefined && { name }),
    },
    { pieceId: facts.piece.id, subjectId: row.id, before: { version: last.number, hash: last.hash } },
  );
  await scheduleBy(tx, { kind: "thinning", subject: facts.piece.id, dueAt: now + THINNED_AFTER });
  const written = {
    ...facts,
    version: row,
    piece: { ...facts.piece, currentVersionId: row.id },
    fieldProblems: fieldProblems(facts.kind.fields, row.content, row.words),
  };
  if (row.boundHash !== last.boundHash) await askAgain(change, written);
  else await readAlong(change, written);
  await foresee(change, written);
  return accept({ version: row.number, hash: row.hash, revision });
}

async function versionOf({ tx }: Change, pieceId: string, number: number) {
  const [row] = await tx
    .select()
    .from(version)
    .where(and(eq(version.pieceId, pieceId), eq(version.number, number)));
  return row ?? null;
}

/** A new text in a review: what was decided on the old one no longer counts, and the seats are asked again. */
async function askAgain(change: Change, facts: PieceFacts): Promise<void> {
  const current = await readAlong(change, facts);
  if (!current) return;
  const decided = current.seats.filter((one) => one.status === "decided");
  if (decided.length === 0) return;
  const ids = decided.map((one) => one.id);
  await change.tx.update(seat).set({ status: "waiting" }).where(inArray(seat.id, ids));
  const seats = current.seats.map((one) => (one.status === "decided" ? { ...one, status: "waiting" as const } : one));
  const called = await callOpenSeats(change, facts, { ...current, seats });
  const told = decided.map((one) => one.personId);
  change.happened(
    approvalsVoid,
    { version: facts.version.number, seats: decided.length, name: facts.state.name, dueAt: current.row.dueAt },
    {
      pieceId: facts.piece.id,
      subjectId: current.row.id,
      tell: { decided: told, called: recipients(called.filter((one) => !told.includes(one.personId))) },
    },
  );
}

/** The open review of a piece is of its present version from now on; where only free fields changed, what was decided counts on. */
async function readAlong(change: Change, { piece: row, version: present }: PieceFacts): Promise<OpenRound | null> {
  const current = await loadOpenRound(change.tx, row.id);
  if (!current || current.row.versionId === present.id) return current && bound(current, present.boundHash);
  await change.tx.update(round).set({ versionId: present.id }).where(eq(round.id, current.row.id));
  return bound({ ...current, row: { ...current.row, versionId: present.id } }, present.boundHash);
}

const bound = (current: OpenRound, boundHash: string): OpenRound => ({
  ...current,
  row: { ...current.row, boundHash },
});

/** The words name whoever saved last; the number of their version stands in `missing`. */
async function staleSave(change: Change, facts: PieceFacts, zone: string): Promise<Refusal> {
  const [author] = await change.tx
    .select({ name: person.name })
    .from(person)
    .where(eq(person.id, facts.version.authorId));
  const when = sayInstant(facts.version.createdAt, zone, change.now);
  return {
    code: "stale",
    sentence: `${author?.name ?? "Somebody"} saved version ${facts.version.number} (${when}) while you were writing. Your text is kept here and not saved yet.`,
    missing: [String(facts.version.number)],
  };
}
