import type { Principal } from "../people/principals.ts";
import { type Held, ownOnly, type Permission } from "./permissions.ts";

/** What a grant covers. */
export type Scope =
  | { kind: "publication" }
  | { kind: "section"; id: string }
  | { kind: "kind"; id: string }
  | { kind: "piece"; id: string };

/** A role held by a person over a scope, perhaps for a time, perhaps for certain publish dates. Instants are epoch milliseconds; null is open. */
export interface Grant {
  id: string;
  /** The group it is held through; null when it is the person's own. */
  group: string | null;
  roleKey: string;
  roleName: string;
  permissions: readonly Held[];
  scope: Scope;
  from: number | null;
  until: number | null;
  publishFrom: number | null;
  publishUntil: number | null;
}

/** A person with everything they hold. */
export interface Holder {
  id: string;
  key: string;
  active: boolean;
  grants: readonly Grant[];
  /** Who looks through this person's eyes: they see what both may, and nothing either wants to be alone with. */
  seenBy?: Holder | undefined;
}

/** What opens screens: through another's eyes one sees only what one might see with one's own. */
const OPENING: ReadonlySet<Permission> = new Set<Permission>([
  "piece.read",
  "workflow.edit",
  "section.edit",
  "publication.edit",
  "access.edit",
  "ledger.read",
]);

/** What is asked about: a piece, or (with `piece` null) a place where one might be. */
export interface Target {
  /** The section and every section above it. */
  sectionIds: readonly string[];
  kindId: string | null;
  piece: {
    id: string;
    authorId: string;
    /** Not yet sent, and its writer wants to be alone with it. */
    private: boolean;
    publishAt: number | null;
    assigneeIds: readonly string[];
    /** People with a seat in a round of this piece. */
    seatedIds: readonly string[];
    viewers: readonly Principal[];
    editors: readonly Principal[];
  } | null;
}

/** Why a grant did not help, from the farthest miss to the nearest. */
export const MISSES = ["not-granted", "elsewhere", "expired", "own-only", "wrong-state"] as const;
export type Miss = (typeof MISSES)[number];

export type Answer =
  | { allowed: true; through: Grant | "seat" | "authorship" }
  | { allowed: false; miss: Miss; nearest: Grant | null };

/** The publication as a whole, for permissions that concern no piece. */
export const PUBLICATION: Target = { sectionIds: [], kindId: null, piece: null };

/**
 * Whether a person may do something, by the grant that allows it or the nearest miss.
 *
 * A grant helps when its role has the permission, it covers the target, is in force, and its
 * own-only and date conditions hold; then the piece's state must let the person. Two ways lead in
 * without a wide grant: a seat in a round lets one read the piece and comment on it, and authors read their own.
 * The SQL condition of `server/access/visible.ts` says the same of `piece.read`, and a test holds them together.
 *
 * @param now epoch milliseconds
 */
export function can(person: Holder, permission: Permission, target: Target, now: number): Answer {
  const refusal = (miss: Miss, nearest: Grant | null = null): Answer => ({ allowed: false, miss, nearest });
  const piece = target.piece;
  if (!person.active) return refusal("expired");
  if (person.seenBy && OPENING.has(permission) && !can(person.seenBy, permission, target, now).allowed)
    return refusal("not-granted");
  if (piece?.private && piece.authorId !== person.id) return refusal("not-granted");
  if (piece && permission === "piece.read" && piece.authorId === person.id)
    return { allowed: true, through: "authorship" };
  const seated = piece?.seatedIds.includes(person.id) || piece?.assigneeIds.includes(person.id);
  if (seated && (permission === "piece.read" || permission === "piece.comment"))
    return { allowed: true, through: "seat" };

  let nearest: { miss: Miss; grant: Grant | null } = { miss: "not-granted", grant: null };
  for (const grant of holding(person.grants, permission)) {
    const miss = missOf(grant, person, permission, target, now);
    if (miss === null) return { allowed: true, through: grant };
    if (MISSES.indexOf(miss) > MISSES.indexOf(nearest.miss)) nearest = { miss, grant };
  }
  return refusal(nearest.miss, nearest.grant);
}

/** Every grant of a person that has the permission and still does not help, the nearest miss first. */
export function misses(
  person: Holder,
  permission: Permission,
  target: Target,
  now: number,
): { miss: Miss; grant: Grant }[] {
  return holding(person.grants, permission)
    .map((grant) => ({ grant, miss: missOf(grant, person, permission, target, now) }))
    .filter((one): one is { miss: Miss; grant: Grant } => one.miss !== null)
    .sort((a, b) => MISSES.indexOf(b.miss) - MISSES.indexOf(a.miss));
}

/**
 * Whether somebody is left who can give roles: a person at work with the permission for the whole
 * publication, in force and without an end. Nothing may be done after which nobody is.
 */
export function someoneKeepsAccess(people: Iterable<Holder>, now: number): boolean {
  for (const person of people) {
    const lasting = person.grants.filter((grant) => grant.until === null);
    if (can({ ...person, grants: lasting }, "access.edit", PUBLICATION, now).allowed) return true;
  }
  return false;
}

/** Every principal a person answers to on a target: `author`, `assignee`, `person:KEY`, and a `role:KEY` for each grant in force there. */
export function principalsOf(person: Holder, target: Target, now: number): Set<Principal> {
  const principals = new Set<Principal>([`person:${person.key}`]);
  if (target.piece?.authorId === person.id) principals.add("author");
  if (target.piece?.assigneeIds.includes(person.id)) principals.add("assignee");
  for (const grant of person.grants) {
    if (covers(grant, target) && inForce(grant, now) && inWindow(grant, target))
      principals.add(`role:${grant.roleKey}`);
  }
  return principals;
}

/** Whether a grant is in force at an instant; `until` is exclusive. */
export function inForce(grant: Grant, now: number): boolean {
  return (grant.from === null || grant.from <= now) && (grant.until === null || now < grant.until);
}

const held = new WeakMap<readonly Grant[], Map<Permission, readonly Grant[]>>();

/** Those of somebody's grants that have a permission, if only for their own pieces. Sorted out once: grants do not change. */
function holding(grants: readonly Grant[], permission: Permission): readonly Grant[] {
  const sorted = held.get(grants) ?? new Map<Permission, readonly Grant[]>();
  held.set(grants, sorted);
  let having = sorted.get(permission);
  if (!having) {
    const own = ownOnly(permission);
    having = grants.filter(({ permissions }) => permissions.includes(permission) || permissions.includes(own));
    sorted.set(permission, having);
  }
  return having;
}

function missOf(grant: Grant, person: Holder, permission: Permission, target: Target, now: number): Miss | null {
  if (!covers(grant, target) || !inWindow(grant, target)) return "elsewhere";
  if (!inForce(grant, now)) return "expired";
  const foreign = target.piece !== null && target.piece.authorId !== person.id;
  if (foreign && !grant.permissions.includes(permission)) return "own-only";
  return stateAdmits(person, permission, target, now) ? null : "wrong-state";
}

/** Whether a grant's scope takes a target in. */
export function covers({ scope }: Grant, target: Target): boolean {
  if (scope.kind === "publication") return true;
  if (scope.kind === "section") return target.sectionIds.includes(scope.id);
  if (scope.kind === "kind") return target.kindId === scope.id;
  return target.piece?.id === scope.id;
}

/** Whether the target's publish date lies in the grant's window; a target without a piece always does. */
function inWindow(grant: Grant, target: Target): boolean {
  if ((grant.publishFrom === null && grant.publishUntil === null) || !target.piece) return true;
  const at = target.piece.publishAt;
  return at !== null && (grant.publishFrom ?? -Infinity) <= at && at < (grant.publishUntil ?? Infinity);
}

function stateAdmits(person: Holder, permission: Permission, target: Target, now: number): boolean {
  const list =
    permission === "piece.read"
      ? target.piece?.viewers
      : permission === "piece.edit"
        ? target.piece?.editors
        : undefined;
  if (!list || list.includes("anyone")) return true;
  const principals = principalsOf(person, target, now);
  return list.some((principal) => principals.has(principal));
}
