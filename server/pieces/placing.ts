import { and, eq } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { pieceAuthorChanged, piecePlaced } from "#core/events/pieces.ts";
import { seatVoid } from "#core/events/review.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { appliedWorkflow, lineage, pathName } from "#core/sections/tree.ts";
import type { Field } from "#core/text/field.ts";
import { type Content, fieldProblems } from "#core/text/fields.ts";
import { localDate } from "#core/time/local.ts";
import { loadEverybody } from "../access/holders.ts";
import { visible } from "../access/visible.ts";
import { notGranted, notHere } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, seat } from "../db/schema/index.ts";
import { loadFacts, type PieceFacts } from "../piece/facts.ts";
import { onPiece, text } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import { foresee } from "../release/foresee.ts";
import { callOpenSeats, loadOpenRound } from "../review/rounds.ts";
import type { Places } from "../sections/places.ts";
import { keepText } from "../text/commands.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, write } from "../write.ts";

const place = { sectionId: z.uuid(), kindId: z.uuid(), authorId: z.uuid() };
type Place = z.infer<z.ZodObject<typeof place>>;
type Kind = typeof kind.$inferSelect;

/** What putting a piece elsewhere would change, in words; nothing is written. */
export interface PlacePreview {
  /** Who would read it from then on and does not now, and the other way round. */
  gains: string[];
  loses: string[];
  /** The workflow new pieces begin on there, where it is another than the piece travels on. */
  workflow: string | null;
  /** Fields whose words the other kind has no place for. */
  lost: string[];
  /** What the other kind asks besides. */
  missing: string[];
}

/** Works out what another section, kind or author of a piece would change; null where there is none for the viewer. */
export async function previewPlace(
  db: Queryable,
  viewer: Viewer,
  slug: string,
  wanted: Place,
): Promise<PlacePreview | null> {
  const facts = await loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)));
  const next = await kindOf(db, wanted.kindId);
  if (!facts || !next || !viewer.places.sections.has(wanted.sectionId)) return null;
  const then = placed(facts, viewer.places, wanted);
  const everybody = [...(await loadEverybody(db)).values()];
  const reading = (target: PieceFacts["target"]) =>
    everybody.filter((one) => can(one, "piece.read", target, viewer.now).allowed).map((one) => one.name);
  const [now, later] = [reading(facts.target), reading(then)];
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const applied = appliedWorkflow(viewer.places, wanted.sectionId, wanted.kindId, today)?.binding.workflow ?? null;
  const content = fitted(facts.version.content, facts.kind.fields, next.fields);
  return {
    gains: later.filter((name) => !now.includes(name)),
    loses: now.filter((name) => !later.includes(name)),
    workflow: applied === facts.workflow.name ? null : applied,
    lost: lostIn(facts, next),
    missing: next.id === facts.kind.id ? [] : fieldProblems(next.fields, content, {}).map((one) => one.sentence),
  };
}

/** Where a piece may belong, and to whom, with where it belongs now. */
export async function placeChoices(db: Queryable, viewer: Viewer, pieceId: string) {
  const [[row], kinds, everybody] = await Promise.all([
    db
      .select({ sectionId: piece.sectionId, kindId: piece.kindId, authorId: piece.authorId })
      .from(piece)
      .where(and(visible(viewer), eq(piece.id, pieceId))),
    db.select({ id: kind.id, name: kind.name }).from(kind).orderBy(kind.name),
    loadEverybody(db),
  ]);
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  const sections = [...viewer.places.sections.keys()].map((id) => ({ id, name: pathName(viewer.places, id) }));
  const people = [...everybody.values()].map(({ id, name }) => ({ id, name }));
  return row ? { now: row, kinds, sections: sections.sort(byName), people: people.sort(byName) } : null;
}

/** The piece's target, were it there. */
function placed(facts: PieceFacts, places: Places, { sectionId, kindId, authorId }: Place): PieceFacts["target"] {
  const { target } = facts;
  return {
    sectionIds: lineage(places, sectionId).map((one) => one.id),
    kindId,
    piece: target.piece && { ...target.piece, authorId },
  };
}

async function kindOf(db: Queryable, id: string): Promise<Kind | null> {
  const [row] = await db.select().from(kind).where(eq(kind.id, id));
  return row ?? null;
}

/** What of a content another kind has fields for: those of the same key and type. */
function fitted(content: Content, from: readonly Field[], to: readonly Field[]): Content {
  const fits = (key: string) =>
    to.some((field) => field.key === key && from.some((one) => one.key === key && one.type === field.type));
  return { ...content, fields: Object.fromEntries(Object.entries(content.fields).filter(([key]) => fits(key))) };
}

function lostIn(facts: PieceFacts, next: Kind): string[] {
  const kept = fitted(facts.version.content, facts.kind.fields, next.fields).fields;
  return facts.kind.fields
    .filter(({ key }) => facts.version.content.fields[key] !== undefined && kept[key] === undefined)
    .map((field) => field.name);
}

export const placeInput = z.object({ ...onPiece, ...place, note: text("Say why it belongs elsewhere.", 4_000) });

/**
 * Gives a piece another section, kind or author. It stays where it is on its line; another kind makes
 * a new version with the fields that kind has; an author who sits in its review decides no more.
 */
export function placePiece(act: Act, wanted: z.input<typeof placeInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const { tx, now } = change;
    const next = await kindOf(tx, wanted.kindId);
    const [author] = await tx
      .select()
      .from(person)
      .where(and(eq(person.id, wanted.authorId), eq(person.active, true), eq(person.guest, false)));
    const unknown = refuseUnknown(places, wanted, next, author);
    if (unknown || !next || !author) return refuse(unknown as Refusal);
    const then = placed(facts, places, wanted);
    for (const target of [facts.target, then])
      if (!can(actor, "piece.route", target, now).allowed)
        return notGranted(tx, "piece.route", target, now, "No role of yours lets you say where this piece belongs.");
    const [before] = await tx.select({ name: person.name }).from(person).where(eq(person.id, facts.piece.authorId));
    const changes = [
      ...(wanted.sectionId === facts.piece.sectionId
        ? []
        : [`section ${pathName(places, facts.piece.sectionId)} → ${pathName(places, wanted.sectionId)}`]),
      ...(next.id === facts.kind.id ? [] : [`kind ${facts.kind.name} → ${next.name}`]),
      ...(author.id === facts.piece.authorId ? [] : [`author ${before?.name} → ${author.name}`]),
    ];
    if (changes.length === 0) return accept(null);
    const { sectionId, kindId, authorId } = wanted;
    const revision = facts.piece.revision + 1;
    await tx.update(piece).set({ sectionId, kindId, authorId, revision }).where(eq(piece.id, facts.piece.id));
    change.happened(
      piecePlaced,
      { changes, note: wanted.note },
      {
        pieceId: facts.piece.id,
        before: { sectionId: facts.piece.sectionId, kindId: facts.kind.id, authorId: facts.piece.authorId },
        tell: { author: [facts.piece.authorId] },
      },
    );
    const row = { ...facts.piece, sectionId, kindId, authorId, revision };
    const there = { ...facts, piece: row, kind: next, target: then };
    if (next.id !== facts.kind.id) {
      const content = fitted(facts.version.content, facts.kind.fields, next.fields);
      const kept = await keepText(change, { facts: there, actor, places }, content, `as a ${next.name.toLowerCase()}`);
      if (!kept.ok) return kept;
    }
    if (author.id !== facts.piece.authorId) await passToAuthor(change, there, author);
    await foresee(change, there);
    return accept(null);
  });
}

function refuseUnknown(
  places: Places,
  wanted: Place,
  next: Kind | null,
  author: typeof person.$inferSelect | undefined,
): Refusal | null {
  if (!places.sections.has(wanted.sectionId))
    return { code: "unknown-section", field: "sectionId", sentence: "There is no such section." };
  if (!next) return { code: "unknown-kind", field: "kindId", sentence: "There is no such kind of piece." };
  if (!author) return notHere("authorId");
  return null;
}

/** Tells the new author, and takes a seat of theirs in the open review out of the count. */
async function passToAuthor(change: Change, facts: PieceFacts, author: { id: string; name: string }): Promise<void> {
  const pieceId = facts.piece.id;
  change.happened(
    pieceAuthorChanged,
    { person: author.name, personId: author.id },
    { pieceId, tell: { author: [author.id] } },
  );
  const current = await loadOpenRound(change.tx, pieceId);
  if (!current || facts.state.review?.authorMayDecide) return;
  const theirs = current.seats.filter((one) => one.personId === author.id && one.status !== "void");
  const gone = { status: "void" as const, voidReason: "author" as const };
  for (const taken of theirs) {
    await change.tx.update(seat).set(gone).where(eq(seat.id, taken.id));
    Object.assign(taken, gone);
    change.happened(seatVoid, { why: gone.voidReason }, { pieceId, subjectId: taken.id });
  }
  await callOpenSeats(change, facts, current);
}
