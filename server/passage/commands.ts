import { and, desc, eq, gt, isNotNull, isNull, ne } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { pieceOverridden, pieceRecalled } from "#core/events/pieces.ts";
import { arrive } from "#core/passage/arrive.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { localDate } from "#core/time/local.ts";
import { OUTCOMES, type State, stateOf, type Transition, transitionOf } from "#core/workflow/document.ts";
import { judgeMove, type Move, moveAlong, moves } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import { notGranted } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { comment, decision, round, stay, thread, version } from "../db/schema/index.ts";
import { type PieceFacts, standingOf } from "../piece/facts.ts";
import { note, onPiece, text } from "../piece/input.ts";
import { type Opened, openPiece } from "../piece/open.ts";
import { asCandidates, loadTeam, sayPrincipals } from "../team/queries.ts";
import { type Act, type Change, write } from "../write.ts";
import { approve } from "./conclude.ts";
import { refusePast } from "./dates.ts";
import { flagOverridden, land, travel } from "./travel.ts";

const date = z.number().nullable().default(null);

export const sendInput = z.object({
  ...onPiece,
  transition: z.string().max(60),
  note,
  /** Epoch milliseconds, or null to let the state decide. */
  dueAt: date,
  publishAt: date,
  urgency: z.enum(["normal", "urgent"]).default("normal"),
  reviewers: z.array(z.uuid()).max(50).default([]),
  /** Where it ends and readers see it: whether they go on seeing it, and what they find instead. */
  readers: z.enum(["keep", "withdraw"]).nullable().default(null),
  notice: z.string().trim().max(500, "At most 500 characters fit.").default(""),
  /** What it corrects, for readers, where it reaches them anew; empty where that is not spoken of. */
  correction: z.string().trim().max(500, "At most 500 characters fit.").default(""),
});

/** Takes a piece one step along its workflow. */
export function sendPiece(act: Act, send: z.input<typeof sendInput>): Promise<Result<{ slug: string; state: string }>> {
  return write(act, async (change) => {
    const wanted = {
      note: "",
      dueAt: null,
      publishAt: null,
      reviewers: [],
      readers: null,
      notice: "",
      correction: "",
      ...send,
    };
    const opened = await openPiece(change, String(wanted.pieceId), Number(wanted.revision));
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const past = refusePast(wanted, change.now);
    if (past) return refuse(past);
    const move = judgeMove(facts.workflow, standingOf(facts, actor, change.now), wanted.transition, wanted);
    if ("code" in move) return refuse(move);
    const [blocked] = move.refusals;
    if (blocked) return refuse(await named(change, opened.value, blocked));
    const readers = await readersOf(change, opened.value, move, wanted);
    if (!readers.ok) return readers;
    const moved = await travel(change, facts, places, {
      transition: move.transition,
      note: wanted.note,
      dueAt: wanted.dueAt,
      chosen: wanted.reviewers,
      urgency: wanted.urgency ?? "normal",
      publishAt: wanted.publishAt,
      cause: actor,
      sent: true,
      withdraws: readers.value,
      correction: wanted.correction || null,
    });
    return moved.ok ? accept({ slug: facts.piece.slug, state: move.to.name }) : moved;
  });
}

/** A refusal's principals as names, for whoever reads it. */
async function named(change: Change, { facts, places }: Opened, refusal: Refusal): Promise<Refusal> {
  if (refusal.code === "may-not-release") {
    const { refusal: full } = await notGranted(change.tx, "piece.release", facts.target, change.now, refusal.sentence);
    return { ...full, code: refusal.code };
  }
  if (!refusal.who) return refusal;
  const team = await loadTeam(change.tx, localDate(change.now, places.calendar.timeZone));
  return { ...refusal, who: sayPrincipals(team, refusal.who, facts.target) };
}

/** Whether a step is one where it must be said what readers see from then on. */
export const endsBeforeReaders = (facts: Pick<PieceFacts, "piece">, to: Pick<State, "kind">) =>
  facts.piece.liveVersionId !== null && to.kind === "closed";

export const WITHDRAWN = "This page was withdrawn.";

/** What becomes of readers' page: taken away where the step or the sender says so, kept otherwise. */
async function readersOf(
  change: Change,
  { facts, actor }: Opened,
  { transition, to }: Move,
  { readers, notice }: { readers: "keep" | "withdraw" | null; notice: string },
): Promise<Result<{ notice: string } | null>> {
  const withdrawn = accept({ notice: notice || WITHDRAWN });
  if (facts.piece.liveVersionId === null) return accept(null);
  if (transition.withdraws) return withdrawn;
  if (!endsBeforeReaders(facts, to)) return accept(null);
  if (readers === null)
    return refuse({ code: "readers-unsaid", field: "readers", sentence: "Say what readers see from now on." });
  if (readers === "keep") return accept(null);
  if (can(actor, "piece.release", facts.target, change.now).allowed) return withdrawn;
  const sentence = "No role of yours lets you take pieces away from readers here.";
  return notGranted(change.tx, "piece.release", facts.target, change.now, sentence, { field: "readers" });
}

/** How a piece can be called back: where to, and whether that needs a reason, since somebody acted on it. */
export interface Recall {
  to: State;
  from: State;
  reasoned: boolean;
}

/** Whether a person may call a piece back from where it was sent: the one answer of the page and of the command. */
export async function recallOf(db: Queryable, facts: PieceFacts, person: Person, now: number): Promise<Result<Recall>> {
  const [here, before] = await db
    .select()
    .from(stay)
    .where(eq(stay.pieceId, facts.piece.id))
    .orderBy(desc(stay.arrivedAt), desc(stay.id))
    .limit(2);
  const to = before && facts.workflow.states.find((state) => state.key === before.stateKey);
  const recallable =
    to !== undefined &&
    here?.step != null &&
    here.workflowRevisionId === before?.workflowRevisionId &&
    to.kind !== "review" &&
    to.kind !== "live" &&
    facts.state.kind !== "live";
  if (!recallable)
    return refuse({
      code: "nothing-to-recall",
      sentence: `It was not sent to ${facts.state.name} by a step that can be taken back.`,
    });
  const routes = can(person, "piece.route", facts.target, now).allowed;
  const sent = here.byId === person.id;
  if (!sent && !routes) {
    const sentence = "Whoever sent it may call it back, and whoever passes pieces on here.";
    return refuse({ code: "not-granted", sentence });
  }
  const acted = await actedOn(db, facts.piece.id, here.arrivedAt, here.byId);
  if (acted && !routes) {
    const sentence = `${acted} since it was sent. Whoever passes pieces on here can still call it back.`;
    return refuse({ code: "not-granted", sentence });
  }
  return accept({ to, from: facts.state, reasoned: acted !== null || !sent });
}

/** What somebody else did to a piece since it was sent, in a few words; null where nobody did anything. */
async function actedOn(db: Queryable, pieceId: string, since: number, senderId: string | null): Promise<string | null> {
  const sender = senderId ?? "";
  const [[decided], [commented], [wrote]] = await Promise.all([
    db
      .select({ id: decision.id })
      .from(decision)
      .innerJoin(round, eq(round.id, decision.roundId))
      .where(and(eq(round.pieceId, pieceId), isNull(round.closedAt)))
      .limit(1),
    db
      .select({ id: comment.id })
      .from(comment)
      .innerJoin(thread, eq(thread.id, comment.threadId))
      .where(
        and(
          eq(comment.pieceId, pieceId),
          gt(comment.createdAt, since),
          ne(comment.authorId, sender),
          isNotNull(thread.sentAt),
        ),
      )
      .limit(1),
    db
      .select({ id: version.id })
      .from(version)
      .where(and(eq(version.pieceId, pieceId), gt(version.createdAt, since), ne(version.authorId, sender)))
      .limit(1),
  ]);
  return decided
    ? "Somebody decided on it"
    : commented
      ? "Somebody commented on it"
      : wrote
        ? "Somebody changed it"
        : null;
}

export const recallInput = z.object({ ...onPiece, note });

/** Calls a piece back to where it was sent from; an open review of it ends. */
export function recallPiece(act: Act, wanted: z.input<typeof recallInput>): Promise<Result<{ state: string }>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const recall = await recallOf(change.tx, facts, actor, change.now);
    if (!recall.ok && recall.refusal.code === "not-granted")
      return notGranted(change.tx, "piece.route", facts.target, change.now, recall.refusal.sentence);
    if (!recall.ok) return recall;
    const { to, from, reasoned } = recall.value;
    const said = wanted.note?.trim() ?? "";
    if (reasoned && said === "")
      return refuse({
        code: "note-missing",
        field: "note",
        sentence: "Say why it is called back: those who have it are told.",
      });
    const team = await loadTeam(change.tx, localDate(change.now, places.calendar.timeZone));
    const arrived = arrive(
      facts.workflow,
      {
        authorId: facts.piece.authorId,
        publishAt: facts.piece.publishAt,
        people: asCandidates(team, facts.target, change.now),
        calendar: places.calendar,
        now: change.now,
      },
      { to: to.key, notify: [], chosen: null },
    );
    if (!arrived.ok) return arrived;
    change.happened(
      pieceRecalled,
      { state: to.key, name: to.name, from: from.name, note: said },
      {
        pieceId: facts.piece.id,
        before: { state: from.key, name: from.name },
        tell: { released: facts.target.piece?.assigneeIds ?? [], author: [facts.piece.authorId] },
      },
    );
    const down = {
      step: "Called back",
      note: said,
      urgency: facts.piece.urgency,
      publishAt: facts.piece.publishAt,
      dueChosen: false,
      transition: null,
      forId: null,
      team,
    };
    await land([{ change, facts, arrival: arrived.value, down }]);
    return accept({ state: to.name });
  });
}

/** A step somebody could take past what the rules ask, and what it would pass by. */
export interface Past {
  transition: Transition;
  to: State;
  past: string[];
  choose: Move["choose"];
}

/** The steps that leave a piece's state and are closed to a person: those an override would open. */
export function closedSteps(facts: PieceFacts, person: Person, now: number): Past[] {
  const standing = standingOf(facts, person, now);
  const byHand = moves(facts.workflow, standing);
  const { review } = facts.state;
  return facts.workflow.transitions
    .filter((step) => step.from.includes(facts.piece.stateKey))
    .flatMap((transition) => {
      const move = byHand.find((one) => one.transition.key === transition.key);
      const outcome = OUTCOMES.find((one) => review?.[one] === transition.key);
      const along = moveAlong(facts.workflow, transition, { ...standing, mayRelease: true });
      const { refusals } = move ?? along;
      const unmet = outcome ? [`The review in ${facts.state.name} had not come to this.`] : [];
      const past = [...unmet, ...refusals.flatMap((one) => [one.sentence, ...(one.missing ?? [])])];
      return past.length === 0 || (move && move.refusals.length === 0)
        ? []
        : [{ transition, to: along.to, past, choose: along.choose }];
    });
}

export const overrideInput = z.object({
  ...onPiece,
  transition: z.string().max(60),
  note: text("Say why its rules are passed by: it stays on the piece and on record.", 4_000),
  reviewers: z.array(z.uuid()).max(50).default([]),
});

/**
 * Takes a piece along a step past what its rules ask: its requirements, whom it names, its review.
 * What brings it to readers passes the last look all the same. On record, and flagged on the piece.
 */
export function overrideStep(act: Act, wanted: z.input<typeof overrideInput>): Promise<Result<{ state: string }>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    if (!can(actor, "piece.override", facts.target, change.now).allowed) {
      const sentence = "No role of yours lets you move a piece past what its workflow asks.";
      return notGranted(change.tx, "piece.override", facts.target, change.now, sentence);
    }
    const step = closedSteps(facts, actor, change.now).find((one) => one.transition.key === wanted.transition);
    if (!step) {
      const known = transitionOf(facts.workflow, wanted.transition)?.from.includes(facts.piece.stateKey);
      return refuse(
        known
          ? { code: "open-step", sentence: "This step is open to you: take it." }
          : {
              code: "no-such-move",
              sentence: `From ${stateOf(facts.workflow, facts.piece.stateKey).name} there is no step of that name.`,
            },
      );
    }
    const said = wanted.note.trim();
    if (said === "")
      return refuse({ code: "note-missing", field: "note", sentence: "Say why its rules are passed by." });
    if (facts.state.review?.approve === step.transition.key) await approve(change, facts);
    await flagOverridden(change, facts.piece.id);
    change.happened(
      pieceOverridden,
      { what: step.transition.name, past: step.past, note: said },
      { pieceId: facts.piece.id, subjectId: facts.version.id, tell: { author: [facts.piece.authorId] } },
    );
    const moved = await travel(change, facts, places, {
      transition: step.transition,
      note: said,
      chosen: step.choose.length > 0 ? (wanted.reviewers ?? []) : null,
      cause: actor,
      sent: false,
      ...(facts.state.review && { outcome: "overridden" as const }),
      withdraws: step.transition.withdraws ? { notice: WITHDRAWN } : null,
    });
    return moved.ok ? accept({ state: moved.value.state.name }) : moved;
  });
}
