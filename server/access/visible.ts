import { and, eq, exists, gte, inArray, isNull, lt, or, type SQL, sql } from "drizzle-orm";
import type { AnyMySqlColumn } from "drizzle-orm/mysql-core";
import { type Grant, type Holder, inForce } from "#core/access/decide.ts";
import { ownOnly, type Permission } from "#core/access/permissions.ts";
import { assignment, piece, pieceViewer, seat } from "../db/schema/index.ts";
import { below, type Places } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";

const nobody = sql`FALSE`;

/**
 * The SQL condition under which a row of `piece` is visible to a viewer: what `can(…, "piece.read", …)`
 * says, for lists, counts and single reads alike.
 */
export function visible(viewer: Viewer): SQL {
  const { places, now } = viewer;
  const grants = viewer.grants.filter((grant) => inForce(grant, now));
  const readable = grants.filter((grant) => grant.permissions.includes("piece.read"));
  // A role is a principal wherever its grant reaches: the grants of one role are asked together.
  const roles = [...new Set(grants.map((grant) => grant.roleKey))];
  const admitted = any([
    eq(piece.restricted, false),
    shows([`person:${viewer.key}`, "anyone"]),
    ...roles.map((role) => {
      const held = grants.filter((grant) => grant.roleKey === role);
      return all([reach(held, places), shows([`role:${role}`])]);
    }),
  ]);
  const mine = (table: typeof seat | typeof assignment) =>
    exists(sql`(SELECT 1 FROM ${table} WHERE ${table.pieceId} = ${piece.id} AND ${table.personId} = ${viewer.id})`);
  // Cheapest first: for most viewers and pieces the first of these decides, without a look at another table.
  const open = any([all([reach(readable, places), admitted]), mine(seat), mine(assignment)]);
  return all([isNull(piece.deletedAt), any([all([eq(piece.private, false), open]), eq(piece.authorId, viewer.id)])]);
}

/**
 * The SQL condition for the pieces a person's grants of a permission reach, whatever the pieces'
 * states say: for counting what a change of roles would touch.
 */
export function inReach(holder: Holder, permission: Permission, places: Places, now: number): SQL {
  const grants = holder.grants.filter((grant) => inForce(grant, now));
  const whole = grants.filter((grant) => grant.permissions.includes(permission));
  const own = grants.filter((grant) => grant.permissions.includes(ownOnly(permission)));
  return any([reach(whole, places), all([eq(piece.authorId, holder.id), reach(own, places)])]);
}

/** What some grants cover together; those without a window of dates are gathered into one list a column. */
function reach(grants: readonly Grant[], places: Places): SQL {
  const plain = grants.filter((grant) => grant.publishFrom === null && grant.publishUntil === null);
  if (plain.some((grant) => grant.scope.kind === "publication")) return sql`TRUE`;
  const ids = (kind: "section" | "kind" | "piece") =>
    plain.flatMap(({ scope }) => (scope.kind === kind ? [scope.id] : []));
  const sections = [...new Set(ids("section").flatMap((id) => below(places, id)))];
  const windowed = grants.filter((grant) => !plain.includes(grant));
  return any([
    ...within(piece.sectionId, sections),
    ...within(piece.kindId, ids("kind")),
    ...within(piece.id, ids("piece")),
    ...windowed.map((grant) => covers(grant, places)),
  ]);
}

const within = (column: AnyMySqlColumn, ids: string[]) => (ids.length > 0 ? [inArray(column, ids)] : []);

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
