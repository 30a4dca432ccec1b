import { and, eq, isNotNull, isNull } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { releaseConfirmed, releasePlanned, releaseProposed } from "#core/events/release.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { SITE, usualEnd } from "#core/release/channel.ts";
import { sayHold } from "#core/release/preflight.ts";
import { sayInstant } from "#core/time/words.ts";
import { isNamedOn } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import { notGranted, whoMay } from "../access/who.ts";
import { newId } from "../db/schema/columns.ts";
import { piece, release } from "../db/schema/index.ts";
import { type PieceFacts, standingOf } from "../piece/facts.ts";
import { onPiece, text } from "../piece/input.ts";
import { type Opened, openPiece } from "../piece/open.ts";
import { schedule } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { changed } from "./changed.ts";
import { type Channel, leavesAt, letsOut, loadChannel } from "./channels.ts";
import { foresee } from "./foresee.ts";
import { departureStep } from "./last-look.ts";
import { endPlans, openPlan } from "./plans.ts";
import { shownNow, withdraw } from "./publish.ts";

/** Why nobody here may plan a release of a piece now, or null: the one answer of the page and of the command. */
export async function whyNotPlan(
  db: Change["tx"] | Act["db"],
  facts: PieceFacts,
  person: Person,
  now: number,
): Promise<Refusal | null> {
  // What is out through one channel can leave through another as it is.
  const out = facts.state.kind === "live";
  if (facts.state.kind !== "ready" && !out)
    return {
      code: "not-ready",
      sentence: `It is in ${facts.state.name}. A release is planned once the piece is approved.`,
    };
  if (!out && !departureStep(facts.workflow, facts.state.key))
    return { code: "no-such-move", sentence: `Its workflow has no step from ${facts.state.name} to readers.` };
  if (can(person, "piece.schedule", facts.target, now).allowed) return null;
  return (await notGranted(db, "piece.schedule", facts.target, now, "No role of yours lets you plan releases here."))
    .refusal;
}

/** Whether a person may let a piece out through a channel, by the step that leads from its state to readers: their plan then needs nobody else. */
export function mayLetOut(facts: PieceFacts, person: Person, channel: Pick<Channel, "people">, now: number): boolean {
  const step = departureStep(facts.workflow, facts.state.key);
  const standing = standingOf(facts, person, now);
  if (!standing.mayRelease || !letsOut(channel, person.id)) return false;
  if (facts.state.kind === "live") return true;
  if (!step || !isNamedOn(step, standing)) return false;
  return !(step.requires.includes("not-author") && facts.piece.authorId === person.id);
}

/** The channel something leaves through, by its key. */
const channelKey = z.string().max(20).default(SITE);

export const planInput = z.object({
  ...onPiece,
  channel: channelKey,
  at: z.number({ error: "This is no date and time." }),
  /** Whether a date far ahead is meant. */
  far: z.stringbool().default(false),
  /** Why it leaves outside the windows of its channel; empty where it keeps to them. */
  outside: z.string().trim().max(500, "At most 500 characters fit.").default(""),
  /** When readers see it no more, by itself; null for never, left out what the plan has or is usual in the channel. */
  endsAt: z.number().nullable().optional(),
  /** What it corrects, for readers; empty where that is not spoken of. */
  correction: z.string().trim().max(500, "At most 500 characters fit.").optional(),
});
type Plan = Pick<z.output<typeof planInput>, "pieceId" | "revision" | "at"> & Partial<z.output<typeof planInput>>;

/** What lies further ahead than this is asked about once, in milliseconds: a year mistyped looks like any other. */
const FAR = 400 * 86_400_000;

/** A channel something can leave through one by one, or why it cannot. */
async function channelFor(change: Change, key: string): Promise<Result<Channel>> {
  const channel = await loadChannel(change.tx, key);
  if (key !== SITE && (channel.revision === 0 || channel.retired))
    return refuse({ code: "not-found", field: "channel", sentence: "There is no such channel any more." });
  if (channel.editions)
    return refuse({
      code: "editions",
      field: "channel",
      sentence: `${channel.name} goes out in editions. Put the piece into one of them.`,
    });
  return accept(channel);
}

/**
 * Plans when a ready piece reaches readers of a channel; a plan it already has there, kept or held, is moved. Of
 * somebody who may not let it out it is a proposal, which waits until somebody who may confirms it.
 */
export function planRelease(act: Act, plan: Plan): Promise<Result<{ id: string; proposed: boolean; at: number }>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, plan.pieceId, plan.revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const closed = await whyNotPlan(change.tx, facts, actor, change.now);
    if (closed) return refuse(closed);
    if (plan.at <= change.now) return refuse({ code: "past", field: "at", sentence: "The release lies in the past." });
    if (plan.at > change.now + FAR && !plan.far)
      return refuse({ code: "far", field: "at", sentence: "That is more than a year ahead. Say that it is meant." });
    const through = await channelFor(change, plan.channel ?? SITE);
    if (!through.ok) return through;
    const channel = through.value;
    const proposed = !mayLetOut(facts, actor, channel, change.now);
    const earlier = await openPlan(change, facts.piece.id, channel.key);
    const found = await timeOf(change, opened.value, channel, plan, earlier?.id);
    if (!found.ok) return found;
    const at = found.value;
    const [shown] = await shownNow(change.tx, [facts.piece.id], channel.key);
    // A correction keeps the end of what it corrects, unless somebody says otherwise.
    const corrected = shown && (shown.endsAt === null || shown.endsAt > at);
    const usual = () => usualEnd(channel.usual, at, channel.windows.zone);
    const { endsAt = earlier ? earlier.endsAt : corrected ? shown.endsAt : usual() } = plan;
    const { correction = earlier?.correction ?? "" } = plan;
    if (endsAt !== null && endsAt <= at)
      return refuse({ code: "ends-first", field: "endsAt", sentence: "It would end before it begins." });
    const row = {
      channel: channel.key,
      at,
      wishedAt: plan.at,
      outside: plan.outside || null,
      endsAt,
      correction: correction || null,
      status: proposed ? ("proposed" as const) : ("planned" as const),
      holds: [],
      versionId: facts.version.id,
      plannedBy: actor.id,
      confirmedBy: proposed ? null : actor.id,
    };
    const id = earlier?.id ?? newId();
    const { tx } = change;
    if (earlier) await tx.update(release).set(row).where(eq(release.id, id));
    else await tx.insert(release).values({ id, pieceId: facts.piece.id, ...row });
    await changed(change, facts, publishDate(facts, channel.key, at));
    // A proposal has nothing to do at its time; what was planned before it no longer leaves by itself.
    if (!proposed) await schedule(tx, { kind: "release", subject: id, dueAt: at });
    const { number, hash } = facts.version;
    const about = {
      pieceId: facts.piece.id,
      subjectId: id,
      before: earlier ? { at: earlier.at, status: earlier.status } : null,
    };
    const kept = { at, version: number, hash, ...(channel.key !== SITE && { through: channel.name }) };
    if (proposed) {
      const able = await whoMay(tx, "piece.release", facts.target, change.now);
      const confirmers = able.filter((one) => mayLetOut(facts, one, channel, change.now)).map((one) => one.id);
      change.happened(releaseProposed, kept, { ...about, tell: { confirmers } });
    } else change.happened(releasePlanned, kept, { ...about, tell: { author: [facts.piece.authorId] } });
    await foresee(change, facts);
    return accept({ id, proposed, at });
  });
}

/** When a wish leaves, by embargo and window; or why it cannot. @param except the plan that is moved */
async function timeOf(
  change: Change,
  { facts, actor }: Opened,
  channel: Channel,
  { at: wish, outside = "" }: Plan,
  except?: string,
): Promise<Result<number>> {
  const { embargoUntil } = facts.piece;
  if (outside && !can(actor, "release.outside", facts.target, change.now).allowed) {
    const sentence = "No role of yours lets you release outside the windows.";
    return notGranted(change.tx, "release.outside", facts.target, change.now, sentence, { field: "outside" });
  }
  const at = outside ? wish : await leavesAt(change.tx, channel, wish, except);
  if (at === null)
    return refuse({ code: "never-open", field: "at", sentence: "No window opens in the year after that date." });
  if (embargoUntil !== null && at < embargoUntil) {
    const until = sayInstant(embargoUntil, channel.windows.zone, change.now);
    return refuse({ code: "embargo", field: "at", sentence: `It is under embargo until ${until}.` });
  }
  return accept(at);
}

/** When a piece is wished for, once a plan has a time: the reader site's, or another channel's where it has none. */
const publishDate = ({ piece: row }: PieceFacts, through: string, at: number) =>
  through === SITE ? at : (row.publishAt ?? at);

export const confirmInput = z.object({ ...onPiece, channel: channelKey });

/** Confirms a proposed date: from then on it leaves by itself, and who confirmed answers for it. */
export function confirmRelease(act: Act, order: z.input<typeof confirmInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, order.pieceId, Number(order.revision));
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const plan = await openPlan(change, facts.piece.id, order.channel ?? SITE);
    if (plan?.status !== "proposed")
      return refuse({ code: "no-plan", sentence: "No date is proposed for this piece." });
    const channel = await loadChannel(change.tx, plan.channel);
    if (!mayLetOut(facts, actor, channel, change.now)) return lettingOut(change, facts, channel, "confirm this date");
    if (plan.at <= change.now)
      return refuse({ code: "past", field: "at", sentence: "The proposed date has passed. Plan another." });
    const { tx } = change;
    await tx
      .update(release)
      .set({ status: "planned", confirmedBy: actor.id, holds: [] })
      .where(eq(release.id, plan.id));
    await schedule(tx, { kind: "release", subject: plan.id, dueAt: plan.at });
    await changed(change, facts, publishDate(facts, channel.key, plan.at));
    const { number, hash } = facts.version;
    change.happened(
      releaseConfirmed,
      { at: plan.at, version: number, hash },
      { pieceId: facts.piece.id, subjectId: plan.id, tell: { author: [facts.piece.authorId, plan.plannedBy] } },
    );
    await foresee(change, facts);
    return accept(null);
  });
}

/** Who could let a piece out, where the actor may not. */
async function lettingOut(change: Change, facts: PieceFacts, channel: Channel, what: string) {
  const able = (await whoMay(change.tx, "piece.release", facts.target, change.now)).filter((one) =>
    mayLetOut(facts, one, channel, change.now),
  );
  const sentence = `No role of yours lets you ${what}: that is for who may let it out to readers.`;
  return refuse({ code: "not-granted", sentence, who: able.map((one) => one.name) });
}

export const cancelInput = z.object({ ...onPiece, channel: channelKey });

/** Takes a plan back; the piece stays where it is. */
export function cancelRelease(act: Act, order: z.input<typeof cancelInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, order.pieceId, Number(order.revision));
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "piece.schedule", facts.target, change.now).allowed) {
      const sentence = "No role of yours lets you plan releases here.";
      return notGranted(change.tx, "piece.schedule", facts.target, change.now, sentence);
    }
    if ((await endPlans(change, [facts.piece.id], undefined, order.channel ?? SITE)).length === 0)
      return refuse({ code: "no-plan", sentence: "No release is planned for this piece." });
    await changed(change, facts, facts.piece.publishAt);
    return accept(null);
  });
}

export const withdrawInput = z.object({
  ...onPiece,
  note: text("Say why it is taken away from readers.", 4_000),
  notice: text("Say what readers find in its place.", 500),
  /** The slug of a piece readers are led to instead; empty for none. */
  instead: z.string().trim().max(120).default(""),
});

/** Takes a live piece away from readers: in its place they find a notice. The piece stays where it is. */
export function withdrawPiece(
  act: Act,
  order: Omit<z.output<typeof withdrawInput>, "instead"> & { instead?: string },
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, order.pieceId, Number(order.revision));
    if (!opened.ok) return opened;
    const closed = await whyNotWithdraw(change.tx, opened.value, change.now);
    if (closed) return refuse(closed);
    const { facts } = opened.value;
    const instead = await insteadOf(change, opened.value, order.instead ?? "");
    if (!instead.ok) return instead;
    await withdraw(change, facts, { note: order.note, notice: order.notice, insteadId: instead.value });
    await changed(change, facts, facts.piece.publishAt);
    return accept(null);
  });
}

/** The piece readers are led to instead, which they see now. */
async function insteadOf(change: Change, { facts }: Opened, slug: string): Promise<Result<string | null>> {
  if (slug === "") return accept(null);
  const [row] = await change.tx
    .select({ id: piece.id })
    .from(piece)
    .where(and(eq(piece.slug, slug), isNotNull(piece.liveVersionId), isNull(piece.deletedAt)));
  if (row && row.id !== facts.piece.id) return accept(row.id);
  return refuse({ code: "not-found", field: "instead", sentence: "Readers see no such piece. Name another, or none." });
}

/** Why a person may not take a piece away from readers, or null. */
export async function whyNotWithdraw(
  db: Change["tx"] | Act["db"],
  { facts, actor }: Pick<Opened, "facts" | "actor">,
  now: number,
): Promise<Refusal | null> {
  if (facts.piece.liveVersionId === null) return { code: "not-live", sentence: "Readers do not see this piece." };
  if (can(actor, "piece.release", facts.target, now).allowed) return null;
  const sentence = "No role of yours lets you take pieces away from readers here.";
  return (await notGranted(db, "piece.release", facts.target, now, sentence)).refusal;
}

/** What stands in the way of a plan, in sentences. */
export const holdSentences = (holds: readonly Parameters<typeof sayHold>[0][]) => holds.map(sayHold);
