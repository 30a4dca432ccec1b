import { accept, type Refusal, type Result, refuse } from "../refusal.ts";
import type { Review, SeatRule } from "../workflow/document.ts";

/** A person as the seating sees them. */
export interface Candidate {
  id: string;
  key: string;
  name: string;
  active: boolean;
  roles: readonly string[];
  /** Open seats they hold elsewhere. */
  load: number;
  /** Whether they are away on the day of the seating. */
  away: boolean;
  standInId: string | null;
}

/** Who sits, and for whom; `flag` says what the managing editor should know. */
export interface Seating {
  personId: string;
  /** The absent person whose seat it is, when a stand-in sits. */
  forPersonId: string | null;
  /** Why the seat does not count, or null. */
  voidReason: string | null;
  flag: string | null;
}

/**
 * Seats a round by the seats its workflow names. The author's own seat is void unless the review
 * allows it; an absent person's seat goes to whoever stands in, followed through stand-ins who are
 * away too, never in a circle and never onto the author; with none it stays and is flagged.
 *
 * @param chosen ids of the people the sender picked, for seats with `pick: "sender"`
 * @returns the seats in order, or why the choice cannot stand
 */
export function seat(
  review: Review,
  people: readonly Candidate[],
  authorId: string,
  chosen: readonly string[],
): Result<Seating[]> {
  const refusal = refuseChoice(review, people, authorId, chosen);
  if (refusal) return refuse(refusal);
  const seats: Seating[] = [];
  for (const rule of review.seats) {
    for (const person of holders(rule, people, authorId, review.authorMayDecide, chosen)) {
      if (!seats.some((taken) => (taken.forPersonId ?? taken.personId) === person.id)) {
        seats.push(whoSits(person, people, authorId, review.authorMayDecide));
      }
    }
  }
  const counted = new Set<string>();
  for (const place of seats.filter((candidate) => !candidate.voidReason)) {
    if (counted.has(place.personId)) place.voidReason = "sits in this round already";
    counted.add(place.personId);
  }
  return accept(seats);
}

/**
 * Who sits for a person whose seat it is: they themselves, or while they are away whoever stands in,
 * followed through stand-ins who are away too. Nobody sits twice, so those in the round already are
 * passed by.
 *
 * @param seated ids of people who sit in the round already, for a round under way
 */
export function whoSits(
  person: Candidate,
  people: readonly Candidate[],
  authorId: string,
  authorMayDecide: boolean,
  seated: ReadonlySet<string> = new Set(),
): Seating {
  const plain = { personId: person.id, forPersonId: null, voidReason: null, flag: null };
  if (person.id === authorId && !authorMayDecide)
    return { ...plain, voidReason: "the author does not decide on their own piece" };
  if (!person.away) return plain;
  const met = new Set([person.id]);
  let next = people.find((candidate) => candidate.id === person.standInId);
  while (next?.active && !met.has(next.id)) {
    if (!next.away && next.id !== authorId && !seated.has(next.id))
      return { ...plain, personId: next.id, forPersonId: person.id };
    met.add(next.id);
    const following = next.standInId;
    next = people.find((candidate) => candidate.id === following);
  }
  return { ...plain, flag: `${person.name} is away and nobody stands in` };
}

/** Those a sender may choose from for a seat, the least busy first; the absent are last and marked. */
export function candidates(
  rule: SeatRule,
  people: readonly Candidate[],
  authorId: string,
  authorMayDecide: boolean,
): Candidate[] {
  return people
    .filter((person) => fills(rule, person) && (authorMayDecide || person.id !== authorId))
    .sort((a, b) => Number(a.away) - Number(b.away) || a.load - b.load || a.name.localeCompare(b.name));
}

function holders(
  rule: SeatRule,
  people: readonly Candidate[],
  authorId: string,
  authorMayDecide: boolean,
  chosen: readonly string[],
): Candidate[] {
  if ("person" in rule || rule.pick === "everyone") return people.filter((person) => fills(rule, person));
  const able = candidates(rule, people, authorId, authorMayDecide);
  if (rule.pick === "sender") return able.filter((person) => chosen.includes(person.id));
  return able.slice(0, rule.number ?? 1);
}

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
