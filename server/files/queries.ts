import { and, asc, eq, inArray, type SQL } from "drizzle-orm";
import type { Field } from "#core/text/field.ts";
import type { Content, FieldProblem } from "#core/text/fields.ts";
import { fileProblems, fileUses, type KnownFile } from "#core/text/files.ts";
import { groupBy } from "#core/words/group.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { attachment, file, person, piece } from "../db/schema/index.ts";
import { readReleased } from "../reader/queries.ts";
import type { Viewer } from "../viewer.ts";
import { stateOfFile } from "./store.ts";

/** A file as it belongs to a piece. */
export interface PieceFile {
  pieceId: string;
  id: string;
  name: string;
  mediaType: string;
  bytes: number;
  /** In pixels; null for what is no picture. */
  width: number | null;
  height: number | null;
  description: string;
  credit: string;
  licence: string;
  addedBy: string;
  addedAt: number;
  /** When it was taken out; null while it is there. */
  removedAt: number | null;
}

const columns = {
  pieceId: attachment.pieceId,
  id: file.id,
  name: attachment.name,
  mediaType: file.mediaType,
  bytes: file.bytes,
  width: file.width,
  height: file.height,
  description: attachment.description,
  credit: attachment.credit,
  licence: attachment.licence,
  addedBy: person.name,
  addedAt: attachment.addedAt,
  removedAt: attachment.removedAt,
};

const filesWhere = (db: Queryable, condition: SQL | undefined) =>
  db
    .select(columns)
    .from(attachment)
    .innerJoin(file, eq(file.id, attachment.fileId))
    .innerJoin(person, eq(person.id, attachment.addedBy))
    .innerJoin(piece, eq(piece.id, attachment.pieceId))
    .where(condition)
    .orderBy(asc(attachment.addedAt), asc(attachment.name));

/** The files of a piece, also those taken out, the oldest first. Whoever asks has been shown the piece. */
export const filesOf = (db: Queryable, pieceId: string): Promise<PieceFile[]> =>
  filesWhere(db, eq(attachment.pieceId, pieceId));

/** The files of several pieces, by piece, each as {@link filesOf} gives them. */
export async function filesOfAll(db: Queryable, pieceIds: readonly string[]): Promise<Map<string, PieceFile[]>> {
  const rows = await filesWhere(db, inArray(attachment.pieceId, [...pieceIds]));
  return groupBy(rows, (row) => row.pieceId);
}

/** A file the viewer may see, since it belongs to a piece they see; null for any other. */
export async function fileSeen(db: Queryable, viewer: Viewer, id: string): Promise<PieceFile | null> {
  const [row] = await filesWhere(db, and(eq(attachment.fileId, id), visible(viewer))).limit(1);
  return row ?? null;
}

/** Those of some files that the viewer may see. */
export async function filesSeen(db: Queryable, viewer: Viewer, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set();
  const rows = await filesWhere(db, and(inArray(attachment.fileId, [...ids]), visible(viewer)));
  return new Set(rows.map((row) => row.id));
}

/** A file that the released version of a piece shows or hands out; null for any other. */
export async function fileReleased(db: Queryable, slug: string, id: string): Promise<PieceFile | null> {
  const released = await readReleased(db, slug);
  const uses = released ? fileUses(released.fields, released.content) : [];
  if (!released || !uses.some((use) => use.file === id)) return null;
  const [row] = await filesWhere(db, and(eq(attachment.pieceId, released.id), eq(attachment.fileId, id)));
  return row ?? null;
}

/**
 * What stands between a content's files and its readers; see `core/text/files`.
 *
 * @param folder where files are kept
 * @param files those of the piece
 * @param everyByte whether the files are read and compared with what was brought, as before a release
 */
export async function problemsOfFiles(
  folder: string,
  files: readonly PieceFile[],
  { fields, content }: { fields: readonly Field[]; content: Content },
  everyByte: boolean,
): Promise<FieldProblem[]> {
  const used = new Set(fileUses(fields, content).map((use) => use.file));
  const rows = files.filter((file) => used.has(file.id));
  const states = await Promise.all(rows.map((row) => stateOfFile(folder, row, everyByte)));
  const known = rows.map((row, i): [string, KnownFile] => [row.id, { ...row, state: states[i] ?? "missing" }]);
  return fileProblems(fields, content, new Map(known));
}
