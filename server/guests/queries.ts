import { and, eq, gt, inArray, isNull } from "drizzle-orm";
import type { Queryable } from "../db/client.ts";
import { guestLink, person, piece, seat } from "../db/schema/index.ts";
import { secretId } from "../people/secrets.ts";
import { piecePage } from "../pieces/page.ts";
import { threadsOf } from "../remarks/queries.ts";
import type { Viewer } from "../viewer.ts";

/** Whom a guest's link lets in, and where; null when it is unknown, over or taken back. */
export async function guestOf(db: Queryable, secret: string, now: number) {
  const [row] = await db
    .select({
      guestId: guestLink.guestId,
      pieceId: guestLink.pieceId,
      slug: piece.slug,
      label: guestLink.label,
      named: guestLink.openedAt,
      until: guestLink.expiresAt,
    })
    .from(guestLink)
    .innerJoin(piece, eq(piece.id, guestLink.pieceId))
    .where(and(eq(guestLink.id, secretId(secret)), isNull(guestLink.revokedAt), gt(guestLink.expiresAt, now)));
  return row ?? null;
}

/** Whether a secret once let somebody in whom it lets in no more. */
export async function isOver(db: Queryable, secret: string): Promise<boolean> {
  const [row] = await db
    .select({ id: guestLink.id })
    .from(guestLink)
    .where(eq(guestLink.id, secretId(secret)));
  return row !== undefined;
}

/** The link of a guest, over or not; null where there is none. */
export async function guestLinkOf(db: Queryable, guestId: string) {
  const [row] = await db.select().from(guestLink).where(eq(guestLink.guestId, guestId));
  return row ?? null;
}

/** A guest as the piece's page lists them. */
export interface Guest {
  id: string;
  name: string;
  until: number;
  opened: boolean;
  decides: boolean;
}

/** The guests a piece is open to now. */
export async function guestsOf(db: Queryable, pieceId: string, { now }: Viewer): Promise<Guest[]> {
  const rows = await db
    .select({ id: guestLink.guestId, name: person.name, until: guestLink.expiresAt, openedAt: guestLink.openedAt })
    .from(guestLink)
    .innerJoin(person, eq(person.id, guestLink.guestId))
    .where(and(eq(guestLink.pieceId, pieceId), isNull(guestLink.revokedAt), gt(guestLink.expiresAt, now)));
  const ids = rows.map((row) => row.id);
  const seated =
    ids.length === 0
      ? []
      : await db
          .select({ id: seat.personId })
          .from(seat)
          .where(and(inArray(seat.personId, ids), inArray(seat.status, ["open", "waiting", "decided"])));
  return rows.map(({ openedAt, ...row }) => ({
    ...row,
    opened: openedAt !== null,
    decides: seated.some((one) => one.id === row.id),
  }));
}

/** What a guest is shown of the one piece: its text, their own remarks, what they are asked. Nobody else's words. */
export async function guestPage(db: Queryable, viewer: Viewer, link: { slug: string; pieceId: string; until: number }) {
  const page = await piecePage(db, viewer, link.slug, true);
  if (!page) return null;
  const { row, kind, content, version, decision, round } = page;
  const threads = await threadsOf(db, link.pieceId, viewer);
  return {
    id: link.pieceId,
    name: viewer.name.replace(/ \(guest\)$/, ""),
    until: link.until,
    kind: row.kind,
    fields: kind.fields,
    content,
    version,
    decision,
    note: decision ? (round?.note ?? "") : "",
    comments: threads
      .filter((one) => one.authorId === viewer.id)
      .map(({ id, comments: [said], at, field, anchor, settledAt }) => ({
        id,
        body: said?.body ?? "",
        at,
        /** The words it is on, as they stand now; null where it is on the whole or its words are gone. */
        on:
          field && anchor && !anchor.gone ? { field, start: anchor.start, end: anchor.end, exact: anchor.exact } : null,
        settled: settledAt !== null,
      })),
  };
}

export type GuestPageData = NonNullable<Awaited<ReturnType<typeof guestPage>>>;
