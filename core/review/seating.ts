import { type Replaceable, standInFor } from "../people/absence.ts";
import { leastBusyFirst } from "../people/principals.ts";
import { accept, type Refusal, type Result, refuse } from "../refusal.ts";
import type { Review, SeatRule } from "../workflow/document.ts";

/** A person as the seating sees them. */
export interface Candidate extends Replaceable {
  /** Whether a role lets them decide here. */
  decides: boolean;
}

/** Who sits, and for whom; `flag` says what the managing editor should know. */
export interface Seating {
  personId: string;
  /** The absent person whose seat it is, when a stand-in sits. */
  forPersonId: string | null;
  /** Why the seat does not count, or null. */
  voidReason: VoidReason | null;
  flag: Flag | null;
}

/** `seated` is no longer laid down: a round of an earlier version may hold it. */
export type VoidReason = "author" | "guest-over" | "seated";
export type Flag = "away" | "left" | "may-not-decide";

/** Why a seat does not count, as the end of a sentence. */
export const VOID_REASONS: Record<VoidReason, string> = {
  author: "the author does not decide on their own piece",
  "guest-over": "the guest’s link is over",
  seated: "its holder sits in this round already",
};

/** What is amiss with a seat, in a sentence. */
export function sayFlag(flag: Flag, name: string): string {
  if (flag === "away") return `${name} is away and nobody stands in`;
  return flag === "left" ? `${name} no longer works here` : `${name} may not decide here any more`;
}

/** Whether nobody can decide from a seat with this flag until it is given to somebody else. */
export const isVacant = (flag: Flag | null) => flag === "left" || flag === "may-not-decide";

/**
 * Seats a round by the seats its workflow names, spread so that nobody is picked for two where
 * another could hold one. The author's own seat is void unless the review allows it; an absent
 * person's seat goes to whoever stands in and does not sit yet, followed through stand-ins who are
 * away too, never in a circle and never onto the author; with none it stays and is flagged.
 *
 * @param chosen ids of the people the sender picked, for seats with `pick: "sender"`; null lets the
 *   least busy of those they could pick from sit
 * @returns the seats in order, or why the choice cannot stand
 */
export function seat(
  review: Review,
  people: readonly Candidate[],
  authorId: string,
  chosen: readonly string[] | null,
): Result<Seating[]> {
  const refusal = chosen && refuseChoice(review, people, authorId, chosen);
  if (refusal) return refuse(refusal);
  const owners = spread(review.seats.flatMap((rule) => placesOf(rule, review, people, authorId, chosen)));
  const isVoid = (one: Candidate) => one.id === authorId && !review.authorMayDecide;
  const seated = new Set(owners.filter((one) => !one.away && !isVoid(one)).map((one) => one.id));
  return accept(
    owners.map((owner) => {
      const place = whoSits(owner, people, authorId, review.authorMayDecide, seated);
      if (!place.voidReason) seated.add(place.personId);
      return place;
    }),
  );
}

/**
 * Who sits for a person whose seat it is: they themselves, or while they are away whoever stands in,
 * followed through stand-ins who are away too. Nobody sits twice, so those in the round already are
 * passed by.
 *
 * @param seated ids of people who sit in the round already
 */
export function whoSits(
  person: Candidate,
  people: readonly Candidate[],
  authorId: string,
  authorMayDecide: boolean,
  seated: ReadonlySet<string>,
): Seating {
  const plain = { personId: person.id, forPersonId: null, voidReason: null, flag: null };
  if (person.id === authorId && !authorMayDecide) return { ...plain, voidReason: "author" };
  if (person.active && !person.away) return person.decides ? plain : { ...plain, flag: "may-not-decide" };
  if (!person.active) return { ...plain, flag: "left" };
  const standIn = standInFor(person, people, (id) => id === authorId || seated.has(id));
  // A stand-in decides by the right of whom they stand in for, or by their own.
  if (standIn && (person.decides || standIn.decides)) return { ...plain, personId: standIn.id, forPersonId: person.id };
  return { ...plain, flag: person.decides ? "away" : "may-not-decide" };
}

/** Those who could be picked for a seat, the least busy first; the absent are last and marked. */
export function candidates(
  rule: SeatRule,
  people: readonly Candidate[],
  authorId: string,
  authorMayDecide: boolean,
): Candidate[] {
  return people
    .filter((person) => fills(rule, person) && person.decides && (authorMayDecide || person.id !== authorId))
    .sort(leastBusyFirst);
}

/** The places a rule of a review makes, each with those who may have it, the first choice first. */
function placesOf(
  rule: SeatRule,
  review: Review,
  people: readonly Candidate[],
  authorId: string,
  chosen: readonly string[] | null,
): Candidate[][] {
  if ("person" in rule || rule.pick === "everyone")
    return people.filter((person) => fills(rule, person)).map((person) => [person]);
  const able = candidates(rule, people, authorId, review.authorMayDecide);
  if (rule.pick === "sender" && chosen) return able.filter(({ id }) => chosen.includes(id)).map((person) => [person]);
  return Array.from({ length: rule.number ?? 1 }, () => able);
}

/**
 * Gives every place one of those who may have it, nobody two: a place whose first choice sits
 * already takes the next, or makes who sits there move on (augmenting paths, as in any bipartite
 * matching). A place for which nobody is left falls away.
 */
function spread(places: readonly Candidate[][]): Candidate[] {
  const holder = new Map<string, number>();
  const given = new Map<number, Candidate>();
  const take = (place: number, tried: Set<string>): boolean => {
    const untried = (places[place] as Candidate[]).filter((person) => !tried.has(person.id));
    const free = untried.find((person) => !holder.has(person.id));
    for (const person of free ? [free] : untried) {
      tried.add(person.id);
      const before = holder.get(person.id);
      if (before !== undefined && !take(before, tried)) continue;
      holder.set(person.id, place);
      given.set(place, person);
      return true;
    }
    return false;
  };
  const fixedFirst = [...places.keys()].sort((a, b) => Number(wide(places[a])) - Number(wide(places[b])) || a - b);
  for (const place of fixedFirst) take(place, new Set());
  return [...given].sort(([a], [b]) => a - b).map(([, person]) => person);
}

const wide = (able: readonly Candidate[] | undefined) => (able?.length ?? 0) > 1;

function fills(rule: SeatRule, person: Candidate): boolean {
  return person.active && ("person" in rule ? person.key === rule.person : person.roles.includes(rule.role));
}

function refuseChoice(
  review: Review,
  people: readonly Candidate[],
  authorId: string,
  chosen: readonly string[],
): Refusal | null {
  const rules = review.seats.filter((rule) => "role" in rule && rule.pick === "sender");
  for (const rule of rules) {
    const able = candidates(rule, people, authorId, review.authorMayDecide);
    const wanted = "role" in rule ? (rule.number ?? 1) : 1;
    const picked = able.filter((person) => chosen.includes(person.id));
    if (picked.length < wanted) {
      const sentence = wanted === 1 ? "Choose who reviews it." : `Choose ${wanted} people to review it.`;
      return { code: "reviewer-missing", field: "reviewers", sentence, who: able.map((person) => person.name) };
    }
  }
  const allowed = rules.flatMap((rule) =>
    candidates(rule, people, authorId, review.authorMayDecide).map((person) => person.id),
  );
  const stranger = chosen.find((id) => !allowed.includes(id));
  if (stranger === undefined) return null;
  const who = people.find((person) => person.id === stranger)?.name ?? "That person";
  return {
    code: "not-a-candidate",
    field: "reviewers",
    sentence: `${who} has no seat in this review.`,
    who: people.filter((person) => allowed.includes(person.id)).map((person) => person.name),
  };
}
