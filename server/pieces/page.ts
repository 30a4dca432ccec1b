import { and, eq, inArray } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { sayEvent } from "#core/events/catalogue.ts";
import { pieceMoved, pieceOverridden, pieceRecalled } from "#core/events/pieces.ts";
import { sayHolds } from "#core/events/release.ts";
import { reviewDecided } from "#core/events/review.ts";
import { SITE } from "#core/release/channel.ts";
import { sayStuck } from "#core/review/round.ts";
import { sayFlag, VOID_REASONS } from "#core/review/seating.ts";
import { localDate } from "#core/time/local.ts";
import { legsFrom } from "#core/workflow/legs.ts";
import { visible } from "../access/visible.ts";
import { assistanceFor } from "../assist/queries.ts";
import type { Queryable } from "../db/client.ts";
import { person, piece } from "../db/schema/index.ts";
import { filesOf } from "../files/queries.ts";
import { likelyOfPieces } from "../flow/likely.ts";
import { loadFacts, type PieceFacts } from "../piece/facts.ts";
import { holderOf } from "../piece/holder.ts";
import { type Channel, loadChannels } from "../release/channels.ts";
import { holdSentences, mayLetOut } from "../release/commands.ts";
import { mentionable } from "../remarks/mentions.ts";
import { type Told, threadsOf } from "../remarks/queries.ts";
import { loadOpenRound } from "../review/rounds.ts";
import { loadsSeen, NOTHING_WAITS, sayPrincipals, type Team, teamOf } from "../team/queries.ts";
import { namesIn } from "../text/names.ts";
import { newestVersions } from "../text/queries.ts";
import { isRevised, mayAbandon } from "../text/revision.ts";
import type { Viewer } from "../viewer.ts";
import { besideText } from "./beside.ts";
import { commissionOf } from "./commission.ts";
import { offersOf } from "./offers.ts";
import { drawRow, type RawRow } from "./rows.ts";
import { editionsWith, throughOf } from "./through.ts";

/** An entry of the piece's record. */
type Entry = Pick<Awaited<ReturnType<typeof besideText>>["entries"][number], "action" | "after" | "actorId">;

/** What brings a piece to another stop. */
const MOVES: readonly string[] = [pieceMoved.name, pieceRecalled.name, pieceOverridden.name];

/** So many versions stand beside the text; the rest have a page of their own. */
const VERSIONS = 6;

/** All remarks of a piece as its page shows them; null where there is none such for the viewer. */
export async function allRemarks(db: Queryable, viewer: Viewer, slug: string) {
  const facts = await loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)));
  return facts && shownTo(viewer, facts, await threadsOf(db, facts.piece.id, viewer));
}

/** Remarks with what their sorts are called, and whether the viewer may settle them. */
function shownTo(viewer: Viewer, facts: PieceFacts, threads: readonly Told[]) {
  const kinds = new Map<string | null, string>(viewer.places.remarkKinds.map(({ key, name }) => [key, name]));
  const all = facts.piece.authorId === viewer.id || can(viewer, "piece.edit", facts.target, viewer.now).allowed;
  return threads.map((one) =>
    Object.assign(one, { kind: kinds.get(one.kind) ?? one.kind, settlable: all || one.authorId === viewer.id }),
  );
}

/**
 * Everything the page of one piece shows a viewer; null when there is none for them.
 *
 * @param choosing whether the viewer is about to choose among people, who are then shown with their load
 */
export async function piecePage(db: Queryable, viewer: Viewer, slug: string, choosing = false) {
  const facts = await loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)));
  if (!facts) return null;
  const id = facts.piece.id;
  const ready = facts.state.kind === "ready";
  const [beside, round, load, versions, holder, files, channels, editions, commission, assisted, ahead] =
    await Promise.all([
      besideText(db, id, viewer),
      loadOpenRound(db, id),
      choosing ? loadsSeen(db, viewer) : NOTHING_WAITS,
      newestVersions(db, id, VERSIONS),
      holderOf(db, id, viewer.now),
      filesOf(db, id),
      loadChannels(db),
      editionsWith(db, id),
      commissionOf(db, id),
      assistanceFor(db, viewer, facts),
      likelyOfPieces(db, [id]),
    ]);
  const [site, ...others] = channels as [Channel, ...Channel[]];
  const { threads, entries, plan, plans, shown, assigned } = beside;
  const team = teamOf(viewer.roster, localDate(viewer.now, viewer.calendar.timeZone), load);
  const offers = await offersOf(db, facts, viewer, { team, round, site });
  const named = await namesBeside(db, team, [
    facts.version.authorId,
    ...entries.flatMap((one) => [one.actorId, one.forId]),
    round?.row.senderId ?? null,
    plan?.plannedBy ?? null,
  ]);
  const name = (personId: string | null) =>
    personId && (team.people.get(personId)?.name ?? named.get(personId) ?? "somebody who left");
  const may = (permission: Parameters<typeof can>[1]) => can(viewer, permission, facts.target, viewer.now).allowed;
  return {
    row: drawRow(viewer, facts.workflow, rawRow(facts, beside.author), {
      way: beside.way,
      seats: round?.seats ?? [],
      likely: ahead.get(id),
    }),
    files,
    names: await namesIn(db, viewer, facts.kind.fields, [facts.version.content], files),
    kind: { name: facts.kind.name, fields: facts.kind.fields },
    content: facts.version.content,
    words: facts.version.words,
    version: {
      number: facts.version.number,
      hash: facts.version.hash,
      at: facts.version.createdAt,
      author: name(facts.version.authorId),
    },
    fieldProblems: facts.fieldProblems,
    checklist: facts.checklist.map((point) => ({
      position: point.position,
      words: point.words,
      done: name(point.doneBy),
    })),
    assisted,
    ...offers,
    round: round && {
      number: round.row.number,
      rule: round.row.rule,
      count: round.row.count,
      note: round.row.note,
      sender: name(round.row.senderId),
      stuck: round.row.stuck && sayStuck(round.row.stuck, round.row),
      seats: round.seats.map((one) => {
        const said = round.decisions.findLast(
          (made) => made.seatId === one.id && made.boundHash === round.row.boundHash,
        );
        return {
          id: one.id,
          personId: one.personId,
          person: one.name,
          for: one.forName,
          status: one.status,
          void: one.voidReason && VOID_REASONS[one.voidReason],
          flag: one.flag && sayFlag(one.flag, one.name),
          verdict: said?.verdict ?? null,
          note: said?.note ?? "",
        };
      }),
    },
    /** In a sign-off the name to be typed; null where nothing is signed. */
    signs: facts.state.review?.signed ? viewer.name : null,
    editable: may("piece.edit"),
    holder: holder && { ...holder, self: holder.personId === viewer.id },
    revised: isRevised(facts),
    /** The number of the version readers see. */
    live: beside.live,
    abandonable: mayAbandon(viewer, facts, viewer.now),
    editors: sayPrincipals(team, facts.state.editors, facts.target),
    commentable: may("piece.comment"),
    invites: may("guest.invite"),
    threads: shownTo(viewer, facts, threads),
    /** Whether there may be more remarks than came with it. */
    further: beside.further,
    remarkKinds: viewer.places.remarkKinds,
    /** Whom a remark can mention. */
    mentionable: may("piece.comment")
      ? mentionable(viewer.roster.people.values(), facts, viewer.now).map(({ id, name }) => ({ id, name }))
      : [],
    versions: versions.map((one) => ({
      ...one,
      approved: one.id === facts.piece.approvedVersionId,
      live: one.id === facts.piece.liveVersionId,
    })),
    cameBack: facts.piece.inFlight ? whyBack(entries, name) : null,
    /** The version the viewer decided on last, where the text went on since. */
    decidedOn: decidedOn(entries, viewer.id, facts.version.number),
    passage: entries.map((one) => {
      const after = (one.after ?? {}) as { note?: string; holds?: Parameters<typeof sayHolds>[0] };
      const note = after.note ?? (after.holds ? sayHolds(after.holds) : "");
      return {
        seq: one.seq,
        at: one.at,
        action: one.action,
        who: name(one.actorId),
        for: name(one.forId),
        words: sayEvent(one.action, one.after),
        note,
      };
    }),
    plan: plan && {
      at: plan.at,
      status: plan.status,
      holds: holdSentences(plan.holds),
      by: name(plan.plannedBy),
      wishedAt: plan.wishedAt,
      outside: plan.outside,
      endsAt: plan.endsAt,
      correction: plan.correction,
      /** Whether the viewer may confirm what is proposed. */
      confirmable: plan.status === "proposed" && mayLetOut(facts, viewer, site, viewer.now),
    },
    /** When the reader site lets anything leave, where it keeps to windows; null for a piece that is not ready, too. */
    windows: ready && site.windowed ? site.windows : null,
    /** What holds of what leaves through the reader site, where nothing else is said. */
    usual: site.usual,
    /** The channels it can leave through beside the reader site, what is planned there, and the editions it is in. */
    through: throughOf(facts, viewer, { channels: others, plans, shown, editions, name }),
    /** Whether the viewer may let it out outside of them. */
    outside: may("release.outside"),
    /** The stops it has still to pass, the present one first; none where it has arrived. */
    ahead: facts.piece.inFlight ? legsFrom(facts.workflow, facts.state) : [],
    /** Whether the viewer may say when it is wished for. */
    wishes: facts.piece.inFlight === true && !plan && may("piece.schedule"),
    /** What it was asked for, and whether the viewer has yet to say whether they write it. */
    commission: commission && {
      ...commission,
      asks: commission.takenAt === null && facts.piece.authorId === viewer.id,
    },
    embargoUntil: facts.piece.embargoUntil,
    embargoes: may("piece.release") && facts.piece.liveVersionId === null,
    /** When readers see it no more, by itself. */
    endsAt: shown.find((one) => one.channel === SITE)?.endsAt ?? null,
    /** What readers find in its place, where it was withdrawn. */
    withdrawn: beside.withdrawn,
    overriddenAt: facts.piece.overriddenAt,
    /** By whom it was moved past its rules last, as far as the passage goes back. */
    overridden: lastOverride(entries, name),
    assigned: assigned.map((one) => ({ id: one.id, name: one.name, for: name(one.forId) })),
    workflow: facts.workflow.name,
    inFlight: facts.piece.inFlight === true,
  };
}

export type PiecePageData = NonNullable<Awaited<ReturnType<typeof piecePage>>>;

/** Names of those who are not in the team: guests, and people whose access has ended. */
async function namesBeside(db: Queryable, team: Team, ids: readonly (string | null)[]): Promise<Map<string, string>> {
  const unknown = [...new Set(ids.flatMap((id) => (id && !team.people.has(id) ? [id] : [])))];
  if (unknown.length === 0) return new Map();
  const rows = await db.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, unknown));
  return new Map(rows.map((row) => [row.id, row.name]));
}

/** A piece at hand as the lists read it. */
function rawRow({ piece: row, kind, openComments }: PieceFacts, author: string): RawRow {
  const { id, slug, title, sectionId, authorId, workflowRevisionId, stateKey, stateKind, since, dueAt, ...rest } = row;
  const { urgency, publishAt, private: own, revision, liveVersionId: live } = rest;
  const where = { sectionId, workflowRevisionId, stateKey, stateKind, since, dueAt, publishAt };
  return {
    id,
    slug,
    title,
    ...where,
    kind: kind.name,
    authorId,
    author,
    urgency,
    private: own,
    live,
    revision,
    openComments,
  };
}

/** What those said who sent the piece back to where it is now; null where it did not come back. */
function whyBack(entries: readonly Entry[], name: (id: string | null) => string | null) {
  const arrived = entries.findIndex((one) => MOVES.includes(one.action));
  const arrival = entries[arrived];
  if (arrival?.action !== pieceMoved.name) return null;
  const { outcome, from, note } = arrival.after as { outcome?: string; from?: string; note: string };
  if (outcome !== "returned" && outcome !== "declined") return null;
  const sent = entries.findIndex((one, i) => i > arrived && MOVES.includes(one.action));
  const said = entries.slice(0, sent < 0 ? undefined : sent).flatMap((one) => {
    if (one.action !== reviewDecided.name) return [];
    const made = one.after as { verdict: string; note: string };
    return made.verdict === "return" || made.verdict === "decline" ? [{ who: name(one.actorId), note: made.note }] : [];
  });
  return { from: from ?? "review", said: said.length > 0 ? said : [{ who: name(arrival.actorId), note }] };
}

function decidedOn(entries: readonly Entry[], viewerId: string, present: number): number | null {
  const last = entries.find((one) => one.action === reviewDecided.name && one.actorId === viewerId);
  const { version } = (last?.after ?? {}) as { version?: number };
  return version !== undefined && version < present ? version : null;
}

function lastOverride(entries: readonly Entry[], name: (id: string | null) => string | null) {
  const last = entries.find((one) => one.action === pieceOverridden.name);
  if (!last) return null;
  const { what, note } = last.after as { what: string; note: string };
  return { who: name(last.actorId), words: what, note };
}
