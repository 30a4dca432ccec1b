import { and, eq, exists, gte, inArray, isNull, lt, or, type SQL, sql } from "drizzle-orm";
import { type Grant, inForce } from "#core/access/decide.ts";
import { ownOnly } from "#core/access/permissions.ts";
import { assignment, piece, pieceViewer, seat } from "../db/schema/index.ts";
import { below, type Places } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";

const nobody = sql`FALSE`;

/**
 * The SQL condition under which a row of `piece` is visible to a viewer: what `can(…, "piece.read", …)`
 * says, for lists, counts and single reads alike.
 */
export function visible(viewer: Viewer): SQL {
  const grants = viewer.grants.filter((grant) => inForce(grant, viewer.now));
  const readable = grants.filter(
    (grant) => grant.permissions.includes("piece.read") || grant.permissions.includes(ownOnly("piece.read")),
  );
  const byGrant = any(
    readable.filter((grant) => grant.permissions.includes("piece.read")).map((grant) => covers(grant, viewer.places)),
  );
  const admitted = any([
    eq(piece.restricted, false),
    shows([`person:${viewer.key}`, "anyone"]),
    ...grants.map((grant) => all([covers(grant, viewer.places), shows([`role:${grant.roleKey}`])])),
  ]);
  const mine = (table: typeof seat | typeof assignment) =>
    exists(sql`(SELECT 1 FROM ${table} WHERE ${table.pieceId} = ${piece.id} AND ${table.personId} = ${viewer.id})`);
  // Cheapest first: for most viewers and pieces the first of these decides, without a look at another table.
  const open = any([all([byGrant, admitted]), mine(seat), mine(assignment)]);
  return all([isNull(piece.deletedAt), any([all([eq(piece.private, false), open]), eq(piece.authorId, viewer.id)])]);
}

function covers(grant: Grant, places: Places): SQL {
  const { scope } = grant;
  const place = {
    publication: () => sql`TRUE`,
    section: () => inArray(piece.sectionId, below(places, (scope as { id: string }).id)),
    kind: () => eq(piece.kindId, (scope as { id: string }).id),
    piece: () => eq(piece.id, (scope as { id: string }).id),
  }[scope.kind]();
  const window = [
    ...(grant.publishFrom !== null ? [gte(piece.publishAt, grant.publishFrom)] : []),
    ...(grant.publishUntil !== null ? [lt(piece.publishAt, grant.publishUntil)] : []),
  ];
  return all([place, ...window]);
}

function shows(principals: string[]): SQL {
  return exists(
    sql`(SELECT 1 FROM ${pieceViewer} WHERE ${pieceViewer.pieceId} = ${piece.id} AND ${inArray(pieceViewer.principal, principals)})`,
  );
}

const any = (conditions: SQL[]): SQL => or(...conditions) ?? nobody;
const all = (conditions: SQL[]): SQL => and(...conditions) as SQL;
