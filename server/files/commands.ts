import { and, eq, inArray } from "drizzle-orm";
import { z } from "zod";
import { fileAttached, fileDescribed, fileRemoved, fileReturned } from "#core/events/files.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { fileUses } from "#core/text/files.ts";
import { visible } from "../access/visible.ts";
import { inTurn, orProblem } from "../apart/turns.ts";
import { attachment, file, piece } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { foresee } from "../release/foresee.ts";
import type { Places } from "../sections/places.ts";
import { openText } from "../text/open.ts";
import { type Act, type Change, write } from "../write.ts";
import { type Sniffed, sniff } from "./sniff.ts";
import { idOf, keepFile } from "./store.ts";

const words = (most: number) => z.string().trim().max(most, `At most ${most} characters fit.`).default("");
const said = {
  name: words(200).refine((name) => name !== "", "A file needs a name."),
  description: words(1000),
  credit: words(200).refine((credit) => credit !== "", "Whom it is by."),
  licence: words(200).refine((licence) => licence !== "", "By what right it may be shown."),
};
const ofPiece = { pieceId: z.uuid() };
const fileId = z.string().regex(/^[0-9a-f]{64}$/);

const properties = z.object(said);
/** What is said of a file where it belongs to a piece. */
export type Properties = z.output<typeof properties>;

/** A file somebody brought, and what it is. */
export interface BroughtFile extends Properties, Sniffed {
  bytes: Buffer;
}

export const attachInput = z.object({ ...said, ...ofPiece });

/** Adds a file to a piece, or says anew what one that it has is; what is no file one can keep is refused. */
export async function attachFile(
  act: Act,
  { pieceId, ...brought }: z.output<typeof attachInput> & { bytes: Buffer },
): Promise<Result<{ id: string }>> {
  const sniffed = await orProblem(inTurn(act.personId ?? "", () => sniff(brought.name, brought.bytes)));
  return write(act, async (change) => {
    const opened = await openText(change, pieceId);
    if (!opened.ok) return opened;
    if ("problem" in sniffed) return refuse({ code: "bad-file", field: "file", sentence: sniffed.problem });
    const id = await attach(change, pieceId, { ...brought, ...sniffed });
    await foresee(change, opened.value.facts);
    return accept({ id });
  });
}

/** Keeps a file and makes it a piece's. Whether the actor may was decided before. */
export async function attach(
  change: Change,
  pieceId: string,
  { bytes, mediaType, width, height, ...said }: BroughtFile,
): Promise<string> {
  const id = await keep(change, { bytes, mediaType, width, height });
  await attachKept(change, pieceId, id, said);
  return id;
}

/** Keeps a file. @returns its id */
export async function keep(
  change: Change,
  { bytes, mediaType, width, height }: Sniffed & { bytes: Buffer },
): Promise<string> {
  const id = idOf(bytes);
  await keepFile(change.files, bytes);
  await change.tx
    .insert(file)
    .values({ id, bytes: bytes.length, mediaType, width, height, createdAt: change.now })
    .onDuplicateKeyUpdate({ set: { bytes: bytes.length } });
  return id;
}

/** Makes a file that is kept a piece's. Whether the actor may was decided before. */
export async function attachKept(change: Change, pieceId: string, fileId: string, said: Properties): Promise<void> {
  const added = { ...said, addedBy: change.actor?.id ?? "", addedAt: change.now, removedAt: null };
  await change.tx
    .insert(attachment)
    .values({ pieceId, fileId, ...added })
    .onDuplicateKeyUpdate({ set: added });
  change.happened(fileAttached, { file: fileId, ...said }, { pieceId });
}

export const describeInput = z.object({ ...said, ...ofPiece, fileId });

/** Changes what is said of a piece's file. */
export function describeFile(
  act: Act,
  { pieceId, fileId, ...said }: z.output<typeof describeInput>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const found = await openAttachment(change, pieceId, fileId);
    if (!found.ok) return found;
    const { name, description, credit, licence } = found.value;
    await change.tx.update(attachment).set(said).where(attached(pieceId, fileId));
    change.happened(
      fileDescribed,
      { file: fileId, ...said },
      { pieceId, before: { name, description, credit, licence } },
    );
    await foresee(change, found.value.facts);
    return accept(null);
  });
}

export const removeInput = z.object({ ...ofPiece, fileId, removed: z.stringbool() });

/** Takes a file out of a piece that does not show it at present, or puts one back. */
export function removeFile(
  act: Act,
  { pieceId, fileId, removed }: z.output<typeof removeInput>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const found = await openAttachment(change, pieceId, fileId);
    if (!found.ok) return found;
    const { name, fields, content } = found.value;
    const use = removed && fileUses(fields, content).find((one) => one.file === fileId);
    if (use) {
      const where = fields.find((field) => field.key === use.key)?.name ?? use.key;
      return refuse({
        code: "in-use",
        field: "file",
        sentence: `“${name}” stands in ${where}; take it out there first.`,
      });
    }
    await change.tx
      .update(attachment)
      .set({ removedAt: removed ? change.now : null })
      .where(attached(pieceId, fileId));
    change.happened(removed ? fileRemoved : fileReturned, { file: fileId, name }, { pieceId });
    await foresee(change, found.value.facts);
    return accept(null);
  });
}

/**
 * Makes sure that every file of a content belongs to its piece. One that came along from another
 * piece the actor may see is attached with what is said of it there; any other is refused, so that
 * nobody reads a file by naming it.
 */
export async function claimFiles(
  change: Change,
  places: Places,
  pieceId: string,
  fields: readonly Field[],
  content: Content,
): Promise<Refusal | null> {
  const { tx, actor, now } = change;
  const uses = fileUses(fields, content);
  const ids = [...new Set(uses.map((use) => use.file))];
  if (ids.length === 0 || !actor) return null;
  const rows = await tx
    .select({ attachment })
    .from(attachment)
    .innerJoin(piece, eq(piece.id, attachment.pieceId))
    .where(and(inArray(attachment.fileId, ids), visible({ ...actor, places, now })));
  const all = rows.map((row) => row.attachment);
  for (const id of ids) {
    if (all.some((one) => one.fileId === id && one.pieceId === pieceId && one.removedAt === null)) continue;
    const known =
      all.find((one) => one.fileId === id && one.pieceId === pieceId) ?? all.find((one) => one.fileId === id);
    if (!known) {
      const use = uses.find((one) => one.file === id);
      const name = fields.find((field) => field.key === use?.key)?.name;
      return {
        code: "content",
        field: use?.key,
        sentence: `${name}: a ${use?.as} is not among the piece’s files. Take it out, and add it here.`,
      };
    }
    const { name, description, credit, licence } = known;
    await attachKept(change, pieceId, id, { name, description, credit, licence });
  }
  return null;
}

const attached = (pieceId: string, fileId: string) =>
  and(eq(attachment.pieceId, pieceId), eq(attachment.fileId, fileId));

async function openAttachment(
  change: Change,
  pieceId: string,
  fileId: string,
): Promise<Result<typeof attachment.$inferSelect & { fields: Field[]; content: Content; facts: PieceFacts }>> {
  const opened = await openText(change, pieceId);
  if (!opened.ok) return opened;
  const [row] = await change.tx.select().from(attachment).where(attached(pieceId, fileId));
  if (!row) return refuse({ code: "not-found", sentence: "There is no such file." });
  const { facts } = opened.value;
  return accept({ ...row, fields: facts.kind.fields, content: facts.version.content, facts });
}
