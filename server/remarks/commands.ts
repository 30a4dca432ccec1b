import { and, asc, count, eq, inArray, isNull } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { commentChanged, commentKept, commentMade, commentTakenBack } from "#core/events/remarks.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { COMMENT_LIMIT } from "#core/remarks/thread.ts";
import { type Anchor, anchorAt, find, RUN_MOST } from "#core/text/anchor.ts";
import type { Block } from "#core/text/block.ts";
import { isFile } from "#core/text/manuscript.ts";
import { readWording, runOf } from "#core/text/proposal.ts";
import { rangeSchema } from "#core/text/range-format.ts";
import { loadEverybody } from "../access/holders.ts";
import { newId } from "../db/schema/columns.ts";
import { comment, thread } from "../db/schema/index.ts";
import { refuseOften } from "../people/attempts.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { inJson } from "../piece/input.ts";
import { type Opened, openBare, openPiece } from "../piece/open.ts";
import { foresee } from "../release/foresee.ts";
import { loadOpenRound } from "../review/rounds.ts";
import { fieldValue } from "../text/anchors.ts";
import { type Act, type Change, write } from "../write.ts";
import { mentioned } from "./mentions.ts";

/** So many remarks a piece holds at most. */
const THREADS = 5_000;
/** So many replies a remark has at most. */
const REPLIES = 500;

const context = z.string().max(200);

/** What a remark is on: a field, a picture in it, or a run of its words with what was read there. */
const placeSchema = z.strictObject({
  field: z.string().max(80),
  picture: z.string().refine(isFile).optional(),
  range: rangeSchema.optional(),
  quote: z.strictObject({ exact: z.string().max(2 * RUN_MOST), prefix: context, suffix: context }).optional(),
});

export type Place = z.infer<typeof placeSchema>;

export const remarkInput = z.object({
  pieceId: z.uuid(),
  body: z.string().default(""),
  kind: z.string().max(40).optional(),
  place: z.union([z.literal("").transform(() => undefined), inJson(placeSchema)]).optional(),
  /** Other wording for the run, as a line of a manuscript. */
  wording: inJson(z.unknown()).optional(),
  keep: z.stringbool().default(false),
});

type Wanted = z.output<typeof remarkInput>;
type Remark = Pick<Wanted, "pieceId"> & Partial<Wanted>;

/** Says something of a piece: on words of it, a field, a picture, or the whole; kept back, or sent to whom it concerns. */
export async function remark(act: Act, wanted: Remark): Promise<Result<{ id: string }>> {
  const often = await refuseOften(act, "comment");
  if (often) return refuse(often);
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    if (!can(actor, "piece.comment", facts.target, change.now).allowed) return refuse(NOT_GRANTED);
    const proposed = wanted.wording === undefined ? null : readWording(wanted.wording);
    if (proposed && "problem" in proposed)
      return refuse({ code: "content", field: "wording", sentence: proposed.problem });
    const body = (wanted.body ?? "").trim();
    const unsaid = bodyProblem(body, proposed !== null);
    if (unsaid) return refuse(unsaid);
    const kind = wanted.kind || null;
    if (kind !== null && !places.remarkKinds.some((one) => one.key === kind))
      return refuse({ code: "no-kind", field: "kind", sentence: "There is no such sort of remark here." });
    const placed = whereOn(facts, wanted.place, proposed?.wording ?? null);
    if (!placed.ok) return placed;
    const [held] = await change.tx.select({ threads: count() }).from(thread).where(eq(thread.pieceId, facts.piece.id));
    if ((held?.threads ?? 0) >= THREADS)
      return refuse({
        code: "full",
        sentence: `A piece holds at most ${THREADS} remarks. Settle this with its author.`,
      });
    const mentions = await mentioned(change, opened.value, body);
    if ("refusal" in mentions) return refuse(mentions.refusal);
    const round = await loadOpenRound(change.tx, facts.piece.id);
    const { anchor } = placed.value;
    const row: typeof thread.$inferInsert = {
      id: newId(),
      pieceId: facts.piece.id,
      authorId: actor.id,
      kind,
      field: wanted.place?.field ?? null,
      picture: wanted.place?.picture ?? null,
      anchor,
      madeOn: anchor?.exact ?? null,
      proposal: proposed?.wording ?? null,
      version: facts.version.number,
      roundId: round?.row.id ?? null,
      createdAt: change.now,
      sentAt: null,
    };
    await change.tx.insert(thread).values(row);
    await say(change, row, actor.id, body);
    if (wanted.keep) change.happened(commentKept, {}, { pieceId: facts.piece.id, subjectId: row.id });
    else await send(change, opened.value, [row.id]);
    return accept({ id: row.id });
  });
}

export const NOT_GRANTED: Refusal = { code: "not-granted", sentence: "No grant of yours lets you comment here." };
/** One that is not there, or is somebody else's alone. */
export const NO_THREAD: Refusal = { code: "no-remark", sentence: "There is no such remark here (any more)." };

function bodyProblem(body: string, mayBeEmpty: boolean): Refusal | null {
  if (body === "" && !mayBeEmpty) return { code: "empty", field: "body", sentence: "A comment needs words." };
  if (body.length <= COMMENT_LIMIT) return null;
  const sentence = `A comment holds at most ${COMMENT_LIMIT} characters; this one has ${body.length}.`;
  return { code: "too-long", field: "body", sentence };
}

/** Where in the present text a remark stands that was made on what its maker read. */
function whereOn(
  { kind, version }: PieceFacts,
  place: Place | undefined,
  wording: Block[] | null,
): Result<{ anchor: Anchor | null }> {
  if (place && place.field !== "title" && !kind.fields.some((field) => field.key === place.field))
    return refuse({ code: "no-field", field: "place", sentence: "There is no such field in this piece." });
  if (!place?.range) {
    if (wording)
      return refuse({ code: "no-run", field: "place", sentence: "Wording is proposed for words: select some." });
    return accept({ anchor: null });
  }
  const value = fieldValue(version.content, place.field);
  const at = anchorAt(value, place.range);
  const anchor = place.quote && at?.exact !== place.quote.exact ? find(value, place.quote) : at;
  if (!anchor)
    return refuse({
      code: "stale",
      field: "place",
      sentence: "The words you selected are no longer in the text. What you wrote is kept; select others.",
    });
  if (wording && !runOf(value, anchor))
    return refuse({
      code: "two-blocks",
      field: "place",
      sentence: "Wording is proposed for words of one paragraph, heading, item or cell. Select within one, or comment.",
    });
  return accept({ anchor });
}

const say = (change: Change, row: { id?: string | undefined; pieceId: string }, authorId: string, body: string) =>
  change.tx.insert(comment).values({
    id: newId(),
    pieceId: row.pieceId,
    threadId: row.id ?? "",
    authorId,
    body,
    createdAt: change.now,
  });

/** Sends remarks of the person who acts that were kept back; whom they concern is told. @returns how many */
export async function send(change: Change, opened: Opened, ids: readonly string[] | null): Promise<number> {
  const { tx, now } = change;
  const { facts, actor } = opened;
  const mine = and(eq(thread.pieceId, facts.piece.id), eq(thread.authorId, actor.id), isNull(thread.sentAt));
  const rows = await tx
    .select({ thread, body: comment.body })
    .from(thread)
    .innerJoin(comment, eq(comment.threadId, thread.id))
    .where(ids ? and(mine, inArray(thread.id, [...ids])) : mine)
    .orderBy(asc(thread.createdAt), asc(thread.id));
  if (rows.length === 0) return 0;
  await tx
    .update(thread)
    .set({ sentAt: now })
    .where(
      inArray(
        thread.id,
        rows.map((one) => one.thread.id),
      ),
    );
  const round = await loadOpenRound(tx, facts.piece.id);
  const seated = round?.seats.filter((one) => one.status !== "void").map((one) => one.personId) ?? [];
  let everybody: ReturnType<typeof loadEverybody> | undefined;
  const people = () => (everybody ??= loadEverybody(tx));
  for (const { thread: row, body } of rows) {
    const mentions = await mentioned(change, opened, body, people);
    change.happened(
      commentMade,
      {
        body,
        version: row.version,
        ...(row.kind && { kind: row.kind }),
        ...(row.madeOn && { quote: row.madeOn.slice(0, 300) }),
        ...(row.proposal && { proposes: true }),
      },
      {
        pieceId: facts.piece.id,
        subjectId: row.id,
        tell: { mentioned: "ids" in mentions ? mentions.ids : [], concerned: [facts.piece.authorId, ...seated] },
      },
    );
  }
  await foresee(change, facts);
  return rows.length;
}

export const sendRemarksInput = z.object({ pieceId: z.uuid(), threadId: z.uuid().optional() });

/** Sends what one kept back: one remark, or all of them. */
export function sendRemarks(act: Act, wanted: z.output<typeof sendRemarksInput>): Promise<Result<{ sent: number }>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "piece.comment", facts.target, change.now).allowed) return refuse(NOT_GRANTED);
    return accept({ sent: await send(change, opened.value, wanted.threadId ? [wanted.threadId] : null) });
  });
}

export const replyInput = z.object({ pieceId: z.uuid(), threadId: z.uuid(), body: z.string() });

/** Answers a remark; whoever spoke in its thread is told. */
export async function reply(act: Act, wanted: z.output<typeof replyInput>): Promise<Result<{ id: string }>> {
  const often = await refuseOften(act, "comment");
  if (often) return refuse(often);
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "piece.comment", facts.target, change.now).allowed) return refuse(NOT_GRANTED);
    const row = await threadOf(change, facts.piece.id, wanted.threadId);
    if (!row || (row.sentAt === null && row.authorId !== actor.id)) return refuse(NO_THREAD);
    const body = wanted.body.trim();
    const unsaid = bodyProblem(body, false);
    if (unsaid) return refuse(unsaid);
    const spoken = await change.tx
      .select({ authorId: comment.authorId })
      .from(comment)
      .where(eq(comment.threadId, row.id));
    if (spoken.length > REPLIES)
      return refuse({ code: "full", sentence: `A remark has at most ${REPLIES} replies. Begin another.` });
    const mentions = await mentioned(change, opened.value, body);
    if ("refusal" in mentions) return refuse(mentions.refusal);
    await say(change, row, actor.id, body);
    const concerned = [facts.piece.authorId, ...new Set(spoken.map((one) => one.authorId))];
    change.happened(
      commentMade,
      { body, version: row.version, reply: true },
      { pieceId: facts.piece.id, subjectId: row.id, tell: { mentioned: mentions.ids, concerned } },
    );
    return accept({ id: row.id });
  });
}

/** A thread of a piece; null where it has none of that id. */
export async function threadOf({ tx }: Change, pieceId: string, id: string) {
  const [row] = await tx
    .select()
    .from(thread)
    .where(and(eq(thread.pieceId, pieceId), eq(thread.id, id)));
  return row ?? null;
}

const onComment = { pieceId: z.uuid(), commentId: z.uuid() };
export const rewordInput = z.object({ ...onComment, body: z.string() });
export const takeBackInput = z.object(onComment);

/** Says one's own comment in other words; it is marked as changed. */
export function rewordComment(act: Act, wanted: z.output<typeof rewordInput>): Promise<Result<null>> {
  return onOwn(act, wanted, async (change, opened, said) => {
    const body = wanted.body.trim();
    const unsaid = bodyProblem(body, false);
    if (unsaid) return refuse(unsaid);
    const mentions = await mentioned(change, opened, body);
    if ("refusal" in mentions) return refuse(mentions.refusal);
    if (body === said.body) return accept(null);
    await change.tx.update(comment).set({ body, editedAt: change.now }).where(eq(comment.id, said.id));
    // What nobody else has read is still only one's own.
    if (said.sent)
      change.happened(
        commentChanged,
        { body },
        { pieceId: wanted.pieceId, subjectId: said.id, before: { body: said.body } },
      );
    return accept(null);
  });
}

/** Takes one's own comment back: its words go, and that it was there stays. What was never sent goes altogether. */
export function takeBack(act: Act, wanted: z.output<typeof takeBackInput>): Promise<Result<null>> {
  return onOwn(act, wanted, async (change, _, said) => {
    if (!said.sent && said.first) {
      await change.tx.delete(comment).where(eq(comment.threadId, said.threadId));
      await change.tx.delete(thread).where(eq(thread.id, said.threadId));
      return accept(null);
    }
    await change.tx.update(comment).set({ body: "", takenBackAt: change.now }).where(eq(comment.id, said.id));
    if (said.first) {
      const settled = { settledAt: change.now, settledBy: change.actor?.id ?? null, outcome: "left" as const };
      await change.tx
        .update(thread)
        .set({ proposal: null, ...settled })
        .where(and(eq(thread.id, said.threadId), isNull(thread.settledAt)));
    }
    change.happened(commentTakenBack, {}, { pieceId: wanted.pieceId, subjectId: said.id });
    return accept(null);
  });
}

/** One's own comment, and whether it is the remark itself, and sent. */
interface Own {
  id: string;
  threadId: string;
  body: string;
  first: boolean;
  sent: boolean;
}

function onOwn(
  act: Act,
  wanted: { pieceId: string; commentId: string },
  work: (change: Change, opened: Opened, said: Own) => Promise<Result<null>>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const [row] = await change.tx
      .select({ comment, sentAt: thread.sentAt, begunAt: thread.createdAt, begunBy: thread.authorId })
      .from(comment)
      .innerJoin(thread, eq(thread.id, comment.threadId))
      .where(and(eq(comment.pieceId, facts.piece.id), eq(comment.id, wanted.commentId)));
    if (!row || (row.sentAt === null && row.begunBy !== actor.id)) return refuse(NO_THREAD);
    if (row.comment.authorId !== actor.id)
      return refuse({ code: "not-yours", sentence: "Only whoever wrote a comment changes it or takes it back." });
    if (!can(actor, "piece.comment", facts.target, change.now).allowed) return refuse(NOT_GRANTED);
    if (row.comment.takenBackAt !== null)
      return refuse({ code: "taken-back", sentence: "This comment was taken back already." });
    const { id, threadId, body, createdAt } = row.comment;
    const first = createdAt === row.begunAt && row.begunBy === actor.id;
    const done = await work(change, opened.value, { id, threadId, body, first, sent: row.sentAt !== null });
    if (done.ok) await foresee(change, facts);
    return done;
  });
}
