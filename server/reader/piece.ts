import { sayBytes } from "#core/text/files.ts";
import type { AddressOf } from "#core/text/html.ts";
import { isFact, referredTo, sayValue } from "#core/text/values.ts";
import type { Queryable } from "../db/client.ts";
import { filesOf } from "../files/queries.ts";
import { correctionsOf, releasedAmong } from "./queries.ts";
import { bodyHtml, type Shown, type Teased, teased } from "./shown.ts";

/** A piece as its readers see it, released or not yet. */
export interface ReaderPiece extends Teased {
  /** The plain fields, in words; those that lead somewhere with their address. */
  facts: { name: string; value: string; href: string | null }[];
  html: string;
  author: string;
  /** What was corrected since readers see it, the latest first. */
  corrections: { words: string; at: number }[];
}

/**
 * A version as readers see it, with the files it hands out and the pieces it refers to, of which
 * they hear once these are released. Whoever asks may see it.
 */
export async function readersPiece(
  db: Queryable,
  one: Shown & { id: string; author: string },
  addressOf: AddressOf,
): Promise<ReaderPiece> {
  const { id, content, author, firstLiveAt } = one;
  const [files, related, corrections] = await Promise.all([
    filesOf(db, id),
    releasedAmong(db, referredTo(one.fields, content)),
    firstLiveAt === null ? [] : correctionsOf(db, id),
  ]);
  const facts = one.fields.flatMap((field) => {
    const { name, key, type } = field;
    const value = String(content.fields[key]);
    const file = type === "file" ? files.find((known) => known.id === value) : undefined;
    if (file) return [{ name, value: `${file.name}, ${sayBytes(file.bytes)}`, href: addressOf(file.id) }];
    const other = type === "piece" ? related.get(value) : undefined;
    if (other) return [{ name, value: other.title, href: `/read/${other.slug}` }];
    if (!isFact(field) || key === "standfirst") return [];
    const said = sayValue(field, content);
    return said ? [{ name, value: said, href: type === "link" ? said : null }] : [];
  });
  return { ...teased(one, addressOf), facts, html: bodyHtml(one, addressOf), author, corrections };
}
