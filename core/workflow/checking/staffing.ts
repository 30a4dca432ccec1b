import { creators, type People } from "../../people/document.ts";
import { meaningOf, type Principal } from "../../people/principals.ts";
import type { Review, SeatRule, Workflow } from "../document.ts";

/** Who there is to act, made ready for the questions below. Everybody is named by key. */
export interface Staff {
  active: ReadonlySet<string>;
  creators: ReadonlySet<string>;
  /** Active people by the key of a role they have. */
  byRole: ReadonlyMap<string, ReadonlySet<string>>;
  /** Active people who have an active stand-in. */
  stoodInFor: ReadonlySet<string>;
  /** Everybody a seat or an assignment of the workflow can yield. */
  assignable: ReadonlySet<string>;
}

/** Gathers who can act in a workflow. */
export function staffOf(workflow: Workflow, people: People): Staff {
  const atWork = people.people.filter((one) => one.active);
  const active = new Set(atWork.map((one) => one.key));
  const byRole = new Map<string, Set<string>>();
  for (const one of atWork) {
    for (const role of one.roles) {
      const having = byRole.get(role);
      if (having) having.add(one.key);
      else byRole.set(role, new Set([one.key]));
    }
  }
  const assignable = new Set<string>();
  const staff = {
    active,
    creators: new Set(creators(people)),
    byRole,
    stoodInFor: new Set(atWork.filter((one) => one.standIn && active.has(one.standIn)).map((one) => one.key)),
    assignable,
  };
  const assigned = new Set<ReadonlySet<string>>();
  for (const { arrival, review } of workflow.states) {
    for (const principal of arrival.assign) if (principal !== "assignee") assigned.add(resolve(staff, principal));
    for (const seat of review?.seats ?? []) assigned.add(holders(staff, seat));
  }
  for (const some of assigned) for (const one of some) assignable.add(one);
  return staff;
}

/** The active people a principal can mean: `author` any creator, `assignee` anybody a seat or an assignment yields. */
export function resolve(staff: Staff, principal: Principal): ReadonlySet<string> {
  const { sort, key } = meaningOf(principal);
  if (key === null) return { author: staff.creators, assignee: staff.assignable, anyone: staff.active }[sort];
  return sort === "person" ? alone(staff, key) : (staff.byRole.get(key) ?? NOBODY);
}

/** The active people who can hold a seat. */
export function holders(staff: Staff, seat: SeatRule): ReadonlySet<string> {
  return "person" in seat ? alone(staff, seat.person) : (staff.byRole.get(seat.role) ?? NOBODY);
}

/**
 * Whether somebody may take a transition of these principals.
 *
 * @param notAuthor whether the piece's own author is refused
 */
export function takeable(staff: Staff, by: readonly Principal[], notAuthor: boolean): boolean {
  return by.some((principal) => {
    if (notAuthor && principal === "author") return false;
    const meant = resolve(staff, principal);
    if (!notAuthor || staff.creators.size > 1) return meant.size > 0;
    return [...meant].some((person) => !staff.creators.has(person));
  });
}

/**
 * Whether a review's rule can be met on a piece of this author. The author's own seat is void
 * unless the review lets them decide; a void seat is not waited for.
 *
 * @param author a person's key, or null for an author who holds no seat
 */
export function canPass(staff: Staff, review: Review, author: string | null): boolean {
  const barred = review.authorMayDecide ? null : author;
  if (review.rule === "count") return mostApprovals(staff, review, barred) >= (review.count ?? 1);
  const seats = review.seats.map((seat) => ({ seat, able: holders(staff, seat) }));
  if (review.rule === "any") return seats.some(({ able }) => without(able, barred) > 0);
  const waitedFor = seats.filter(({ seat, able }) => !isVoid(seat, able, barred));
  return waitedFor.length > 0 && waitedFor.every(({ seat, able }) => without(able, barred) >= needed(seat));
}

/**
 * The authors whose pieces could never pass a review that can be passed in general. Most reviews
 * have people to spare: only where taking one person away could matter is anybody looked at.
 */
export function stuckAuthors(staff: Staff, review: Review): string[] {
  if (review.authorMayDecide) return [];
  const tight =
    review.rule === "count"
      ? mostApprovals(staff, review, null) - (review.count ?? 1) < 1
      : review.seats.some((seat) => holders(staff, seat).size <= needed(seat));
  if (!tight) return [];
  const seated = new Set(review.seats.flatMap((seat) => [...holders(staff, seat)]));
  return [...seated].filter((one) => staff.creators.has(one) && !canPass(staff, review, one)).sort();
}

/** The most people who can approve in a review, nobody counted twice. */
export function mostApprovals(staff: Staff, review: Review, barred: string | null): number {
  const free = new Set<string>();
  const places: ReadonlySet<string>[] = [];
  for (const seat of review.seats) {
    const able = holders(staff, seat);
    if ("role" in seat && seat.pick === "everyone") for (const one of able) free.add(one);
    else for (let i = 0; i < needed(seat); i++) places.push(able);
  }
  const barredSits = barred !== null && free.has(barred) ? 1 : 0;
  const taken = new Map<string, number>();
  const sit = (place: number, tried: Set<string>): boolean => {
    for (const person of places[place] as ReadonlySet<string>) {
      if (person === barred || free.has(person) || tried.has(person)) continue;
      tried.add(person);
      const holder = taken.get(person);
      if (holder !== undefined && !sit(holder, tried)) continue;
      taken.set(person, place);
      return true;
    }
    return false;
  };
  return free.size - barredSits + places.filter((_, place) => sit(place, new Set())).length;
}

const alone = (staff: Staff, person: string): ReadonlySet<string> =>
  staff.active.has(person) ? new Set([person]) : NOBODY;

const NOBODY: ReadonlySet<string> = new Set();

const needed = (seat: SeatRule) => ("role" in seat ? (seat.number ?? 1) : 1);

const without = (people: ReadonlySet<string>, barred: string | null) =>
  people.size - (barred !== null && people.has(barred) ? 1 : 0);

/** A seat that only the author holds counts for nothing; a seat picked from a role is picked among the others. */
function isVoid(seat: SeatRule, able: ReadonlySet<string>, barred: string | null): boolean {
  if (barred === null || !able.has(barred)) return false;
  if ("person" in seat) return true;
  return seat.pick === "everyone" && seat.number === undefined && able.size === 1;
}
