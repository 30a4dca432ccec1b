import { and, eq, inArray } from "drizzle-orm";
import { type Checked, type Checks, checkEdition } from "#core/release/edition.ts";
import { isOfRight } from "#core/release/preflight.ts";
import { lineage } from "#core/sections/tree.ts";
import { alike } from "#core/text/alike.ts";
import type { Block } from "#core/text/block.ts";
import type { Field } from "#core/text/field.ts";
import { type Content, forReaders, isManuscript } from "#core/text/fields.ts";
import { linksOf } from "#core/text/links.ts";
import { textOf } from "#core/text/plain.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, version } from "../db/schema/index.ts";
import { loadAllFacts, type PieceFacts } from "../piece/facts.ts";
import { waysAhead } from "../pieces/ahead.ts";
import { drawRows, rowColumns } from "../pieces/rows.ts";
import { lastLooks } from "../release/last-look.ts";
import type { Viewer } from "../viewer.ts";
import { type ItemRow, isSigned, itemsOf, type OpenedEdition } from "./open.ts";
import { answeringFor, leavingWith } from "./signing.ts";

/** A piece of an edition as it goes out with it, in the order of the edition. */
export interface Bound {
  pieceId: string;
  slug: string;
  part: string;
  author: string;
  fields: readonly Field[];
  content: Content;
  words: number;
  /** Whether readers of the site see the piece; only then its pictures have an address of their own. */
  live: boolean;
}

/** What of an edition is looked at. */
type Of = Pick<OpenedEdition, "row" | "channel" | "items" | "signatures">;

/** How many words a version has for readers, by what was counted when it was saved. */
export const wordsOf = (fields: readonly Field[], counted: Readonly<Record<string, number>>): number =>
  forReaders(fields)
    .filter((field) => field.type === "manuscript")
    .reduce((sum, field) => sum + (counted[field.key] ?? 0), 0);

/** The texts of a content for readers, as plain text. */
const textIn = (fields: readonly Field[], content: Content): string =>
  forReaders(fields)
    .map((field) => content.fields[field.key])
    .filter(isManuscript)
    .map((text) => textOf(text as Block))
    .join("\n");

/** Slugs of pieces an address of the reader site leads to. */
const slugIn = (address: string, baseUrl: string): string | null =>
  /^\/read\/([a-z0-9-]+)\/?(?:[?#].*)?$/.exec(
    address.startsWith(baseUrl) ? address.slice(baseUrl.length) : address,
  )?.[1] ?? null;

/**
 * What is in an edition that is under way, as far as a viewer may see it: each piece on its way, what stands in its
 * way, and what all of it amounts to.
 */
export async function editionContents(
  db: Queryable,
  viewer: Viewer,
  { row, channel, items, signatures }: Of,
  { files, baseUrl }: { files: string; baseUrl: string },
) {
  const ids = items.map((item) => item.pieceId);
  if (ids.length === 0)
    return { items: [], hidden: 0, checks: checkEdition([], channel.editions.target, [], new Set()) };
  const seen = and(visible(viewer), inArray(piece.id, ids));
  const [facts, raw] = await Promise.all([
    loadAllFacts(db, viewer.places, seen),
    db
      .select(rowColumns)
      .from(piece)
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .innerJoin(person, eq(person.id, piece.authorId))
      .where(seen),
  ]);
  const answering = await answeringFor(db, signatures);
  const whole = isSigned(channel, signatures);
  const looking = { tx: db, files, now: viewer.now };
  const wishes = raw
    .filter((one) => one.stateKind !== "ready" && one.stateKind !== "live")
    .map((one) => ({ ...one, pieceId: one.id, revisionId: one.workflowRevisionId, at: row.at }));
  const [rows, ways, holds, live] = await Promise.all([
    drawRows(
      db,
      viewer,
      raw.map((one) => ({ ...one, publishAt: row.at })),
    ),
    waysAhead(db, viewer, wishes),
    lastLooks(
      looking,
      facts.map((one) => {
        const signed = items.find((item) => item.pieceId === one.piece.id)?.versionId;
        const leaving = leavingWith(one, answering, row.channel, signed ?? one.version.id);
        return { facts: one, leaving: { ...leaving, thorough: false } };
      }),
    ),
    liveAmong(
      db,
      facts.flatMap((one) => slugsIn(one, baseUrl)),
    ),
  ]);
  const shown = items.flatMap((item) => {
    const i = facts.findIndex((one) => one.piece.id === item.pieceId);
    const [one, drawn] = [facts[i], rows.find((known) => known.id === item.pieceId)];
    if (!one || !drawn) return [];
    const expected = ways.get(item.pieceId)?.expected ?? null;
    const words = wordsOf(one.kind.fields, one.version.words);
    return [
      {
        item,
        row: drawn,
        words,
        holds: (holds[i] ?? []).filter((hold) => whole || !isOfRight(hold)),
        expected,
        facts: one,
      },
    ];
  });
  const checked = shown.map(
    ({ item, words, holds: some, expected, facts: one }): Checked => ({
      pieceId: item.pieceId,
      part: item.part,
      slug: one.piece.slug,
      words,
      holds: some,
      expected,
      links: slugsIn(one, baseUrl),
    }),
  );
  const said = shown.map(({ item, facts: one }) => ({
    id: item.pieceId,
    title: one.piece.title,
    text: textIn(one.kind.fields, one.version.content),
  }));
  return {
    items: shown.map(({ facts: _, ...rest }) => rest),
    /** What is in it that the viewer may not see. */
    hidden: items.length - shown.length,
    checks: checkEdition(checked, channel.editions.target, alike(said), live) satisfies Checks,
  };
}

const slugsIn = ({ version: shown }: PieceFacts, baseUrl: string): string[] =>
  linksOf(shown.content).flatMap((address) => slugIn(address, baseUrl) ?? []);

/** Which of some slugs readers of the site see. */
async function liveAmong(db: Queryable, slugs: readonly string[]): Promise<Set<string>> {
  if (slugs.length === 0) return new Set();
  const rows = await db
    .select({ slug: piece.slug, live: piece.liveVersionId })
    .from(piece)
    .where(inArray(piece.slug, [...new Set(slugs)]));
  return new Set(rows.flatMap(({ slug, live }) => (live === null ? [] : slug)));
}

/**
 * The pieces of an edition with their words: those that were signed, or the present ones before. As far as the
 * viewer may see them; what went out with one is seen by whoever may see its piece today.
 *
 * @param only whether a piece comes along; all where it is left out
 */
export async function boundPieces(
  db: Queryable,
  viewer: Viewer,
  editionId: string,
  only: (item: ItemRow) => boolean = () => true,
): Promise<Bound[]> {
  const items = (await itemsOf(db, [editionId])).filter(only);
  if (items.length === 0) return [];
  const rows = await db
    .select({
      id: piece.id,
      slug: piece.slug,
      author: person.name,
      fields: kind.fields,
      current: piece.currentVersionId,
      live: piece.liveVersionId,
    })
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .where(
      and(
        visible(viewer),
        inArray(
          piece.id,
          items.map((item) => item.pieceId),
        ),
      ),
    );
  const byPiece = new Map(rows.map((one) => [one.id, one]));
  const wanted = items.flatMap((item) => item.versionId ?? byPiece.get(item.pieceId)?.current ?? []);
  const versions = await db
    .select({ id: version.id, content: version.content, words: version.words })
    .from(version)
    .where(inArray(version.id, wanted));
  const contents = new Map(versions.map((one) => [one.id, one]));
  return items.flatMap((item): Bound[] => {
    const of = byPiece.get(item.pieceId);
    const shown = of && contents.get(item.versionId ?? of.current);
    if (!of || !shown) return [];
    return [
      {
        pieceId: item.pieceId,
        slug: of.slug,
        part: item.part,
        author: of.author,
        fields: forReaders(of.fields),
        content: shown.content,
        words: wordsOf(of.fields, shown.words),
        live: of.live !== null,
      },
    ];
  });
}

/** The section and all above it, as the rules of a channel ask. */
export const sectionsOf = (viewer: Viewer, sectionId: string) => lineage(viewer.places, sectionId).map((one) => one.id);
