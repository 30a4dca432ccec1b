import { and, eq, isNull, sql } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { GUEST_ROLE } from "#core/access/permissions.ts";
import { guestInvited, guestNamed, guestRevoked } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { notGranted } from "../access/who.ts";
import { newId } from "../db/schema/columns.ts";
import { accessGrant, guestLink, person, piece, role, seat } from "../db/schema/index.ts";
import { voidLateSeats } from "../passage/relief.ts";
import { refuseOften } from "../people/attempts.ts";
import { newSecret, secretId } from "../people/secrets.ts";
import { text } from "../piece/input.ts";
import { openBare } from "../piece/open.ts";
import { callOpenSeats, loadOpenRound } from "../review/rounds.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { type Act, write } from "../write.ts";

const DAY = 86_400_000;
const LONGEST = 90 * DAY;

/** A link for one guest to one piece. */
export const guestInput = z.object({
  pieceId: z.uuid(),
  /** Whom it is for, in the words of who makes it. */
  label: text("Whom it is for.", 100),
  /** Epoch milliseconds. */
  until: z.number(),
  /** Whether the guest gets a seat in the review that is open. */
  decides: z.boolean(),
});
type Invite = z.infer<typeof guestInput>;

export const revokeInput = z.object({ pieceId: z.uuid(), guestId: z.uuid() });

/**
 * Lets a guest in to one piece: to read, comment and, where asked, decide in its open review.
 *
 * @returns the link, which is told this once
 */
export async function inviteGuest(act: Act, wanted: Invite): Promise<Result<{ link: string }>> {
  const often = await refuseOften(act, "guest");
  if (often) return refuse(often);
  return write<{ link: string }>(act, async (change) => {
    const { tx, now } = change;
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "guest.invite", facts.target, now).allowed)
      return notGranted(tx, "guest.invite", facts.target, now, "No role of yours lets you let guests in here.");
    if (facts.piece.private)
      return refuse({ code: "private", sentence: "Only its author sees this piece until it is sent." });
    if (wanted.until <= now || wanted.until > now + LONGEST)
      return refuse({ code: "bad-end", field: "until", sentence: "A link ends after now, and within 90 days." });
    const round = await loadOpenRound(tx, facts.piece.id);
    if (wanted.decides && !round)
      return refuse({ code: "round-closed", field: "decides", sentence: "No review of this piece is open." });
    const [guests] = await tx.select().from(role).where(eq(role.key, GUEST_ROLE));
    const secret = newSecret();
    const guestId = newId();
    const name = wanted.label.trim();
    await tx.insert(person).values({
      id: guestId,
      key: `guest-${guestId}`,
      name: `${name} (guest)`,
      email: `${guestId}@guest.invalid`,
      guest: true,
    });
    await tx.insert(accessGrant).values({
      id: newId(),
      personId: guestId,
      roleId: guests?.id ?? "",
      scope: "piece",
      scopeId: facts.piece.id,
      until: wanted.until,
    });
    await tx.insert(guestLink).values({
      id: secretId(secret),
      pieceId: facts.piece.id,
      guestId,
      madeBy: actor.id,
      label: name,
      expiresAt: wanted.until,
    });
    change.happened(
      guestInvited,
      { name, until: wanted.until, decides: wanted.decides },
      { pieceId: facts.piece.id, subjectId: guestId },
    );
    await schedule(tx, { kind: "guest", subject: guestId, dueAt: wanted.until });
    if (wanted.decides && round) {
      const place = {
        id: newId(),
        roundId: round.row.id,
        pieceId: facts.piece.id,
        position: round.seats.length,
        personId: guestId,
        forPersonId: null,
        status: "waiting" as const,
        voidReason: null,
        flag: null,
      };
      await tx.insert(seat).values(place);
      const seats = [...round.seats, { ...place, name, forName: null }];
      await callOpenSeats(change, facts, { ...round, seats });
      await tx
        .update(piece)
        .set({ revision: sql`${piece.revision} + 1` })
        .where(eq(piece.id, facts.piece.id));
    }
    return accept({ link: `${act.baseUrl}/guest/${secret}` });
  });
}

/** Takes a guest's link back; it opens nothing from then on, and their seat no longer counts. */
export function revokeGuest(act: Act, wanted: z.infer<typeof revokeInput>): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const { tx, now } = change;
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "guest.invite", facts.target, now).allowed)
      return notGranted(
        tx,
        "guest.invite",
        facts.target,
        now,
        "No role of yours lets you take a guest’s link back here.",
      );
    const at = and(eq(guestLink.guestId, wanted.guestId), eq(guestLink.pieceId, facts.piece.id));
    const [row] = await tx
      .select()
      .from(guestLink)
      .where(and(at, isNull(guestLink.revokedAt)));
    if (!row) return accept(null);
    await tx.update(guestLink).set({ revokedAt: now }).where(at);
    await tx.update(person).set({ active: false, endedAt: now }).where(eq(person.id, row.guestId));
    await cancel(tx, "guest", [row.guestId]);
    await tx.update(accessGrant).set({ until: now }).where(eq(accessGrant.personId, row.guestId));
    change.happened(guestRevoked, {}, { pieceId: facts.piece.id, subjectId: row.guestId, before: { name: row.label } });
    const left = await voidLateSeats(change, facts.piece.id);
    return left.ok ? accept(null) : left;
  });
}

/** A guest says who they are; from then on what they write bears that name. */
export function nameGuest(act: Act, name: string): Promise<Result<null>> {
  return write(act, async (change) => {
    const { tx, actor, now } = change;
    if (!actor?.guest) return refuse({ code: "not-found", sentence: "There is no such guest." });
    await tx
      .update(person)
      .set({ name: `${name} (guest)` })
      .where(eq(person.id, actor.id));
    await tx
      .update(guestLink)
      .set({ openedAt: now })
      .where(and(eq(guestLink.guestId, actor.id), isNull(guestLink.openedAt)));
    const [row] = await tx.select().from(guestLink).where(eq(guestLink.guestId, actor.id));
    change.happened(guestNamed, { name }, { subjectId: actor.id, ...(row && { pieceId: row.pieceId }) });
    return accept(null);
  });
}
