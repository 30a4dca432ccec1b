import { and, asc, desc, eq, inArray, ne } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import type { Refusal } from "#core/refusal.ts";
import { candidates } from "#core/review/seating.ts";
import { due } from "#core/time/due.ts";
import { localDate } from "#core/time/local.ts";
import { moves } from "#core/workflow/moves.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { comment, kind, ledger, person, piece, release, version } from "../db/schema/index.ts";
import { filesOf } from "../files/queries.ts";
import { sayAction } from "../ledger/words.ts";
import { loadFacts, type PieceFacts, standingOf } from "../piece/facts.ts";
import { departureStep } from "../release/commands.ts";
import { loadOpenRound } from "../review/rounds.ts";
import { asCandidates, loadTeam, sayPrincipals, type Team } from "../team/queries.ts";
import { holderOf } from "../text/holder.ts";
import { namesIn } from "../text/names.ts";
import { newestVersions } from "../text/queries.ts";
import { isRevised, mayAbandon } from "../text/revision.ts";
import type { Viewer } from "../viewer.ts";
import { completeRows, rowColumns } from "./rows.ts";

const PASSAGE = 200;
/** So many versions stand beside the text; the rest have a page of their own. */
const VERSIONS = 6;

/** A step as the piece page offers it: open, or closed with its reason. */
export interface Step {
  key: string;
  name: string;
  to: string;
  toKind: string;
  refusal: Refusal | null;
  asks: string[];
  proposedDue: number | null;
  /** The people a sender chooses among, for each seat they fill. */
  choose: { number: number; people: { id: string; name: string; load: number; away: boolean }[] } | null;
}

/** Everything the page of one piece shows a viewer; null when there is none for them. */
export async function piecePage(db: Queryable, viewer: Viewer, slug: string) {
  const facts = await loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)) as never);
  if (!facts) return null;
  const id = facts.piece.id;
  const [raw, round, team, comments, versions, entries, [plan], holder, [liveVersion], files] = await Promise.all([
    db
      .select(rowColumns)
      .from(piece)
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .innerJoin(person, eq(person.id, piece.authorId))
      .where(eq(piece.id, id)),
    loadOpenRound(db, id),
    loadTeam(db, localDate(viewer.now, viewer.zone)),
    db
      .select({
        id: comment.id,
        body: comment.body,
        at: comment.createdAt,
        settledAt: comment.settledAt,
        authorId: comment.authorId,
        author: person.name,
        version: version.number,
      })
      .from(comment)
      .innerJoin(person, eq(person.id, comment.authorId))
      .innerJoin(version, eq(version.id, comment.versionId))
      .where(eq(comment.pieceId, id))
      .orderBy(asc(comment.createdAt)),
    newestVersions(db, id, VERSIONS),
    db
      .select({
        seq: ledger.seq,
        at: ledger.at,
        action: ledger.action,
        after: ledger.after,
        actorId: ledger.actorId,
        forId: ledger.forId,
      })
      .from(ledger)
      .where(and(eq(ledger.pieceId, id), ne(ledger.action, "round.opened")))
      .orderBy(desc(ledger.seq))
      .limit(PASSAGE),
    db
      .select()
      .from(release)
      .where(and(eq(release.pieceId, id), inArray(release.status, ["planned", "held"]))),
    holderOf(db, id, viewer.now),
    db
      .select({ number: version.number })
      .from(version)
      .where(eq(version.id, facts.piece.liveVersionId ?? "")),
    filesOf(db, id),
  ]);
  const [row] = await completeRows(db, viewer, raw);
  if (!row) return null;
  const others = await namesBeside(db, team, [
    facts.version.authorId,
    ...entries.flatMap((one) => [one.actorId, one.forId]),
    ...(round?.seats ?? []).flatMap((one) => [one.personId, one.forPersonId]),
  ]);
  const name = (personId: string | null) =>
    personId ? (team.people.get(personId)?.name ?? others.get(personId) ?? "somebody who left") : null;
  const mySeat = round?.seats.find(
    (one) => one.personId === viewer.id && (one.status === "open" || one.status === "decided"),
  );
  const may = (permission: Parameters<typeof can>[1]) => can(viewer, permission, facts.target, viewer.now).allowed;
  return {
    row,
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
    steps: steps(facts, viewer, team),
    round: round && {
      rule: round.row.rule,
      count: round.row.count,
      note: round.row.note,
      sender: name(round.row.senderId),
      seats: round.seats.map((one) => {
        const said = round.decisions.findLast(
          (made) => made.seatId === one.id && made.versionId === round.row.versionId,
        );
        return {
          person: name(one.personId) ?? "",
          for: name(one.forPersonId),
          status: one.status,
          void: one.voidReason,
          flag: one.flag,
          verdict: said?.verdict ?? null,
          note: said?.note ?? "",
        };
      }),
    },
    decision:
      mySeat && facts.state.review
        ? { decided: mySeat.status === "decided", for: name(mySeat.forPersonId), words: outcomeWords(facts) }
        : null,
    editable: may("piece.edit"),
    holder: holder && { ...holder, self: holder.personId === viewer.id },
    revised: isRevised(facts),
    /** The number of the version readers see. */
    live: liveVersion?.number ?? null,
    abandonable: mayAbandon(viewer, facts, viewer.now),
    editors: sayPrincipals(team, facts.state.editors, facts.target),
    commentable: may("piece.comment"),
    invites: may("guest.invite"),
    schedulable:
      may("piece.schedule") &&
      facts.state.kind === "ready" &&
      departureStep(facts.workflow, facts.state.key) !== undefined,
    comments: comments.map((one) => ({
      ...one,
      settlable: one.authorId === viewer.id || facts.piece.authorId === viewer.id || may("piece.edit"),
    })),
    versions: versions.map((one) => ({
      ...one,
      approved: one.id === facts.piece.approvedVersionId,
      live: one.id === facts.piece.liveVersionId,
    })),
    passage: entries.map((one) => {
      const after = (one.after ?? {}) as { note?: string; holds?: { sentence: string }[]; at?: number };
      const note = after.note ?? after.holds?.map((hold) => hold.sentence).join(" ") ?? "";
      return {
        seq: one.seq,
        at: one.at,
        action: one.action,
        who: name(one.actorId),
        for: name(one.forId),
        words: sayAction(one.action, one.after),
        note,
      };
    }),
    plan: plan ? { at: plan.at, status: plan.status, holds: plan.holds } : null,
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

/** The words this team uses for approving, returning and declining here. */
function outcomeWords(facts: PieceFacts) {
  const review = facts.state.review;
  const word = (key: string | undefined) => facts.workflow.transitions.find((step) => step.key === key)?.name ?? null;
  return { approve: word(review?.approve), return: word(review?.return), decline: word(review?.decline) };
}

function steps(facts: PieceFacts, viewer: Viewer, team: Team): Step[] {
  return moves(facts.workflow, standingOf(facts, viewer, viewer.now)).map((move) => {
    const [refusal] = move.refusals;
    const review = move.to.review;
    const people = asCandidates(team, facts.target, viewer.now);
    const seats = move.choose.flatMap((rule) =>
      candidates(rule, people, facts.piece.authorId, review?.authorMayDecide ?? false),
    );
    return {
      key: move.transition.key,
      name: move.transition.name,
      to: move.to.name,
      toKind: move.to.kind,
      refusal: refusal ? { ...refusal, who: refusal.who && sayPrincipals(team, refusal.who, facts.target) } : null,
      asks: move.asks,
      proposedDue: move.to.take ? due(viewer.calendar, viewer.now, move.to.take) : null,
      choose:
        move.choose.length === 0
          ? null
          : {
              number: move.choose.reduce((sum, rule) => sum + (rule.number ?? 1), 0),
              people: seats.map(({ id, name, load, away }) => ({ id, name, load, away })),
            },
    };
  });
}
