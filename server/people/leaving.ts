import { and, asc, eq, gt, inArray, isNull, notInArray, or } from "drizzle-orm";
import { can, type Target } from "#core/access/decide.ts";
import { accessEnded, accessRestored } from "#core/events/people.ts";
import { pieceAuthorChanged } from "#core/events/pieces.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { lineage } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import { changingAccess } from "../access/administer.ts";
import { accessChanged } from "../access/changed.ts";
import { loadHolder, type Person } from "../access/holders.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { accessGrant, accountLink, assignment, groupMember, person, piece, seat, session } from "../db/schema/index.ts";
import { loadPiece } from "../piece/facts.ts";
import { assignTo, passSeatOn } from "../review/seats.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { loadTeam } from "../team/queries.ts";
import type { Viewer } from "../viewer.ts";
import { type Break, whatBreaks } from "../workflows/breaks.ts";
import { loadPeople } from "../workflows/staff.ts";
import type { Act, Change } from "../write.ts";

/** Something that waits on a person: a decision, what is assigned to them, a text they are writing. */
export interface Waiting {
  sort: "seat" | "assignment" | "text";
  pieceId: string;
  slug: string;
  title: string;
}

/** Something that waits, with who could take it over: ids, the least busy first, those away last. */
export type Passing = Waiting & { able: string[]; proposed: string | null };

/** What ending somebody's access would leave behind. */
export interface Leaving {
  waiting: Passing[];
  /** Private drafts, which nobody else may know by name. */
  private: number;
  /** Whose stand-in they are. */
  standsInFor: string[];
  breaks: Break[];
}

/** What waits on a person, as far as the viewer may see it. */
export async function waitingOn(db: Queryable, viewer: Viewer, personId: string): Promise<Waiting[]> {
  const columns = { pieceId: piece.id, slug: piece.slug, title: piece.title };
  const open = inArray(seat.status, ["open", "waiting"]);
  const [seats, assigned, texts] = await Promise.all([
    db
      .select(columns)
      .from(seat)
      .innerJoin(piece, eq(piece.id, seat.pieceId))
      .where(and(eq(seat.personId, personId), open, visible(viewer)))
      .orderBy(asc(piece.title)),
    db
      .select(columns)
      .from(assignment)
      .innerJoin(piece, eq(piece.id, assignment.pieceId))
      .where(and(eq(assignment.personId, personId), notInArray(piece.stateKind, ["live", "closed"]), visible(viewer)))
      .orderBy(asc(piece.title)),
    db
      .select(columns)
      .from(piece)
      .where(and(eq(piece.authorId, personId), eq(piece.stateKind, "writing"), visible(viewer)))
      .orderBy(asc(piece.title)),
  ]);
  const sorted = (rows: Omit<Waiting, "sort">[], sort: Waiting["sort"]) => rows.map((row) => ({ ...row, sort }));
  return [...sorted(seats, "seat"), ...sorted(assigned, "assignment"), ...sorted(texts, "text")];
}

/** What ending somebody's access would leave behind, as far as the viewer may see it. */
export async function whatRemains(db: Queryable, viewer: Viewer, of: { id: string; key: string }): Promise<Leaving> {
  const [waiting, secret, dependents, people] = await Promise.all([
    waitingOn(db, viewer, of.id).then((rows) => whoCould(db, viewer, of.id, rows)),
    db
      .select({ id: piece.id })
      .from(piece)
      .where(and(eq(piece.authorId, of.id), eq(piece.private, true), isNull(piece.deletedAt))),
    db
      .select({ name: person.name })
      .from(person)
      .where(and(eq(person.standInId, of.id), eq(person.active, true))),
    loadPeople(db, viewer.now),
  ]);
  const without = people.people.map((one) => (one.key === of.key ? { ...one, active: false } : one));
  return {
    waiting,
    private: secret.length,
    standsInFor: dependents.map((row) => row.name),
    breaks: await whatBreaks(db, people, { ...people, people: without }),
  };
}

const NEEDS = { seat: "review.decide", assignment: "piece.read", text: "piece.edit" } as const;

/** For each thing that waits, who could take it over; a decision is proposed to the stand-in, or to the least busy. */
async function whoCould(
  db: Queryable,
  viewer: Viewer,
  leaver: string,
  waiting: readonly Waiting[],
): Promise<Passing[]> {
  const ids = [...new Set(waiting.map((one) => one.pieceId))];
  if (ids.length === 0) return [];
  const [team, pieces, seats] = await Promise.all([
    loadTeam(db, localDate(viewer.now, viewer.calendar.timeZone)),
    db.select().from(piece).where(inArray(piece.id, ids)),
    db
      .select({ pieceId: seat.pieceId, personId: seat.personId })
      .from(seat)
      .where(and(inArray(seat.pieceId, ids), inArray(seat.status, ["open", "waiting", "decided"]))),
  ]);
  const isAway = (id: string) => team.away.has(id);
  const standIn = team.standIns.get(leaver);
  return waiting.flatMap((one) => {
    const row = pieces.find((candidate) => candidate.id === one.pieceId);
    if (!row) return [];
    const seated = seats.filter((place) => place.pieceId === one.pieceId).map((place) => place.personId);
    const barred = one.sort === "seat" ? [leaver, row.authorId, ...seated] : [leaver];
    const able = [...team.people.values()]
      .filter((who) => !barred.includes(who.id) && mayTakeOver(who, one.sort, row, viewer.places, viewer.now))
      .map((who) => who.id)
      .sort((a, b) => Number(isAway(a)) - Number(isAway(b)) || team.load(a) - team.load(b));
    const present = able.filter((id) => !isAway(id));
    const proposed = present.find((id) => id === standIn) ?? present[0] ?? null;
    return { ...one, able, proposed: one.sort === "seat" ? proposed : null };
  });
}

/** Whether somebody's roles let them take over a thing, whatever the piece's state says of who acts in it now. */
function mayTakeOver(
  who: Person,
  sort: Waiting["sort"],
  row: typeof piece.$inferSelect,
  places: Places,
  now: number,
): boolean {
  const target: Target = {
    sectionIds: lineage(places, row.sectionId).map((one) => one.id),
    kindId: row.kindId,
    piece: {
      id: row.id,
      authorId: sort === "text" ? who.id : row.authorId,
      private: row.private,
      publishAt: row.publishAt,
      assigneeIds: [],
      seatedIds: [],
      viewers: ["anyone"],
      editors: ["anyone"],
    },
  };
  return can(who, NEEDS[sort], target, now).allowed;
}

/** Who takes over one thing that waited; one nobody is named for stays, and waits. */
export interface Handover {
  sort: Waiting["sort"];
  pieceId: string;
  to: string;
}

/**
 * Ends a person's access: their sessions and links end at once, what they hold ends, and what waits
 * on them goes to those named, all or nothing.
 */
export function endAccess(
  act: Act,
  wanted: { personId: string; handovers: readonly Handover[] },
): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const { tx, actor, now } = change;
    const [leaver] = await tx.select().from(person).where(eq(person.id, wanted.personId)).for("update");
    if (!leaver || leaver.guest || !leaver.active)
      return refuse({ code: "not-found", sentence: "Nobody of that name works here." });
    if (leaver.id === actor.id)
      return refuse({ code: "self", sentence: "You cannot end your own access; somebody else who gives roles can." });
    for (const handover of wanted.handovers) {
      const done = await handOver(change, leaver.id, handover);
      if (!done.ok) return done;
    }
    const left = and(eq(seat.personId, leaver.id), inArray(seat.status, ["open", "waiting"]));
    await tx.update(seat).set({ flag: "left" }).where(left);
    const held = and(eq(seat.forPersonId, leaver.id), inArray(seat.status, ["open", "waiting"]));
    await tx.update(seat).set({ forPersonId: null }).where(held);
    await tx.delete(session).where(eq(session.personId, leaver.id));
    await tx.update(session).set({ seeingAsId: null }).where(eq(session.seeingAsId, leaver.id));
    await tx
      .update(accountLink)
      .set({ usedAt: now })
      .where(and(eq(accountLink.personId, leaver.id), isNull(accountLink.usedAt)));
    await tx.update(person).set({ standInId: null }).where(eq(person.standInId, leaver.id));
    await tx
      .update(accessGrant)
      .set({ until: now })
      .where(and(eq(accessGrant.personId, leaver.id), or(isNull(accessGrant.until), gt(accessGrant.until, now))));
    await tx.delete(groupMember).where(eq(groupMember.personId, leaver.id));
    await tx.delete(assignment).where(eq(assignment.personId, leaver.id));
    await tx.update(person).set({ active: false, endedAt: now }).where(eq(person.id, leaver.id));
    await accessChanged(change, [leaver.id]);
    change.happened(accessEnded, {}, { subjectId: leaver.id, before: { name: leaver.name, email: leaver.email } });
    return accept(null);
  });
}

/** Lets somebody whose access ended work here again; they hold nothing until they are given it. */
export function restoreAccess(act: Act, personId: string): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const [row] = await change.tx.select().from(person).where(eq(person.id, personId)).for("update");
    if (!row || row.guest) return refuse({ code: "not-found", sentence: "There is no such person." });
    if (row.active) return accept(null);
    await change.tx.update(person).set({ active: true, endedAt: null }).where(eq(person.id, personId));
    change.happened(accessRestored, { name: row.name }, { subjectId: personId });
    return accept(null);
  });
}

async function handOver(change: Change, from: string, { sort, pieceId, to }: Handover): Promise<Result<null>> {
  const { tx, now, actor } = change;
  const receiver = await loadHolder(tx, to);
  if (!receiver?.active || receiver.guest || receiver.id === from)
    return refuse({ code: "unknown-person", sentence: "Somebody you chose does not work here." });
  const places = await loadPlaces(tx);
  const facts = await loadPiece(tx, places, eq(piece.id, pieceId), true);
  if (!facts || !actor || !can(actor, "piece.read", facts.target, now).allowed)
    return refuse({ code: "unknown-piece", sentence: "A piece in this list is gone." });
  const { title } = facts.piece;
  if (!mayTakeOver(receiver, sort, facts.piece, places, now))
    return refuse({ code: "unable", sentence: `${receiver.name} holds no role that lets them take over “${title}”.` });
  if (sort === "seat") return passSeatOn(change, pieceId, from, receiver);
  // What is no longer theirs by now needs nobody to take it over.
  const theirs = sort === "text" ? facts.piece.authorId === from : facts.target.piece?.assigneeIds.includes(from);
  if (!theirs) return accept(null);
  if (sort !== "text") {
    await assignTo(change, facts, from, { personId: to, forPersonId: null }, [receiver]);
    return accept(null);
  }
  await tx
    .update(piece)
    .set({ authorId: to, revision: facts.piece.revision + 1 })
    .where(eq(piece.id, pieceId));
  change.happened(
    pieceAuthorChanged,
    { person: receiver.name, personId: to },
    { pieceId, before: { personId: from }, tell: { author: [to] } },
  );
  return accept(null);
}
