import { and, eq, getTableColumns, isNotNull, isNull } from "drizzle-orm";
import type { Block } from "#core/text/block.ts";
import type { Field } from "#core/text/field.ts";
import { type Content, isManuscript } from "#core/text/fields.ts";
import { textOf } from "#core/text/plain.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import type { Database } from "../db/client.ts";
import { attachment, comment, kind, piece, type Source, searchEntry, thread, version } from "../db/schema/index.ts";

type Entry = typeof searchEntry.$inferInsert;

/**
 * Makes what can be found in a piece what stands in it now: its title and text, its comments, what is said of its
 * files. Doing it twice changes nothing. Of an erased piece nothing is found.
 */
export async function indexPiece(db: Database, pieceId: string): Promise<void> {
  await db.transaction(async (tx) => {
    const present = await tx.select().from(searchEntry).where(eq(searchEntry.pieceId, pieceId)).for("update");
    const wanted = await entriesOf(tx as unknown as Database, pieceId);
    const key = (one: { source: Source; sourceId: string }) => `${one.source} ${one.sourceId}`;
    const before = new Map(present.map((one) => [key(one), one]));
    const after = new Set(wanted.map(key));
    for (const gone of present.filter((one) => !after.has(key(one))))
      await tx
        .delete(searchEntry)
        .where(
          and(
            eq(searchEntry.pieceId, pieceId),
            eq(searchEntry.source, gone.source),
            eq(searchEntry.sourceId, gone.sourceId),
          ),
        );
    for (const one of wanted) {
      if (before.get(key(one))?.words === one.words) continue;
      await tx
        .insert(searchEntry)
        .values(one)
        .onDuplicateKeyUpdate({ set: { words: one.words, personId: one.personId, at: one.at } });
    }
  });
}

async function entriesOf(db: Database, pieceId: string): Promise<Entry[]> {
  const [found] = await db
    .select({ title: piece.title, fields: kind.fields, version })
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(and(eq(piece.id, pieceId), isNull(piece.erasedAt)));
  if (!found) return [];
  const [comments, files] = await Promise.all([
    db
      .select(getTableColumns(comment))
      .from(comment)
      .innerJoin(thread, eq(thread.id, comment.threadId))
      .where(and(eq(comment.pieceId, pieceId), isNull(comment.takenBackAt), isNotNull(thread.sentAt))),
    db
      .select()
      .from(attachment)
      .where(and(eq(attachment.pieceId, pieceId), isNull(attachment.removedAt))),
  ]);
  const { authorId, createdAt, content } = found.version;
  const own = { pieceId, sourceId: pieceId, personId: authorId, at: createdAt };
  return [
    { ...own, source: "title", words: found.title },
    { ...own, source: "text", words: wordsOf(found.fields, content) },
    ...comments.map(
      (one): Entry => ({
        pieceId,
        source: "comment",
        sourceId: one.id,
        personId: one.authorId,
        at: one.createdAt,
        words: one.body,
      }),
    ),
    ...files.map(
      (one): Entry => ({
        pieceId,
        source: "file",
        sourceId: one.fileId,
        personId: one.addedBy,
        at: one.addedAt,
        words: [one.name, one.description, one.credit].filter(Boolean).join(". "),
      }),
    ),
  ];
}

/** Everything in a content that is words: lines, texts with their notes, what pictures show. */
function wordsOf(fields: readonly Field[], content: Content): string {
  return fields
    .map((field) => {
      const value = content.fields[field.key];
      if (isManuscript(value)) return [textOf(value as Block), ...aside(value as Block)].join("\n");
      if (field.type === "image" && value && typeof value === "object") return pictured(value);
      return isFact(field) ? sayValue(field, content) : "";
    })
    .filter(Boolean)
    .join("\n");
}

/** What of a text does not stand in its lines. */
function aside(block: Block): string[] {
  if (block.type === "note") return [String(block.attrs?.text ?? "")];
  if (block.type === "image") return [pictured(block.attrs ?? {})];
  return (block.content ?? []).flatMap(aside);
}

const pictured = (picture: object) =>
  ["alt", "caption", "credit"]
    .map((key) => (picture as Record<string, unknown>)[key])
    .filter(Boolean)
    .join(". ");
