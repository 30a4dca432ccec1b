import { type Answer, type Grant, type Holder, type Miss, misses, type Target } from "./decide.ts";
import { extentOf, PERMISSIONS, type Permission } from "./permissions.ts";

/** How the things a grant speaks of are called. */
export interface Names {
  /** A scope, as it stands after "for": `Routes and all below`. */
  scope(grant: Grant): string;
  /** The day an instant falls in, as a person says it; of an end the last instant before it is asked. */
  at(instant: number): string;
  /** The piece's author, and its state; absent where no piece is asked about. */
  author?: string | undefined;
  state?: string | undefined;
}

/** A decision in words: whether, by which grant or why not, and what came nearest. */
export interface Explanation {
  allowed: boolean;
  /** `Noor Castellan may let a piece out to readers.` */
  sentence: string;
  /** What allows it, or what stands in the way, the nearest first. */
  because: string[];
}

/**
 * Puts an answer of `can` into words.
 *
 * @param answer what `can` said of this person, permission and target
 */
export function explain(
  answer: Answer,
  person: Holder & { name: string },
  permission: Permission,
  target: Target,
  names: Names,
  now: number,
): Explanation {
  const here = target.piece ? " here" : "";
  // On a piece "here" says where; the rest of a permission's sentence is for all of them.
  const does = target.piece ? PERMISSIONS[permission].replace(/ where .*/, "") : PERMISSIONS[permission];
  if (answer.allowed) {
    const own = answer.through !== "seat" && answer.through !== "authorship";
    const because = {
      seat: "They have a part in this piece: a seat in its review, or it is assigned to them.",
      authorship: "They wrote it.",
    };
    return {
      allowed: true,
      sentence: `${person.name} may ${does}${here}.`,
      because: [own ? `Through ${sayGrant(answer.through as Grant, names)}.` : because[answer.through as "seat"]],
    };
  }
  const sentence = `${person.name} may not ${does}${here}.`;
  if (!person.active) return { allowed: false, sentence, because: ["Their access has ended."] };
  if (target.piece?.private && target.piece.authorId !== person.id)
    return { allowed: false, sentence, because: ["Its author keeps it to themselves until it is sent."] };
  const near = misses(person, permission, target, now).map(({ miss, grant }) =>
    sayMiss(miss, grant, permission, names, now),
  );
  return { allowed: false, sentence, because: near.length > 0 ? near : [withoutGrant(person)] };
}

/** A grant in words: `Section lead for Routes and all below, until Fri 4 Dec`. */
export function sayGrant(grant: Grant, names: Names): string {
  const window = sayWindow(grant, names);
  return [
    `${grant.roleName} for ${names.scope(grant)}`,
    grant.group ? `through the group ${grant.group}` : "",
    grant.from !== null ? `from ${names.at(grant.from)}` : "",
    grant.until !== null ? `until ${names.at(grant.until - 1)}` : "",
    window && `for pieces that are to appear ${window}`,
  ]
    .filter(Boolean)
    .join(", ");
}

/** The publish dates a grant is limited to, in words; empty where it is not. */
export function sayWindow({ publishFrom, publishUntil }: Grant, names: Names): string {
  const from = publishFrom !== null ? `from ${names.at(publishFrom)}` : "";
  const until = publishUntil !== null ? `until ${names.at(publishUntil - 1)}` : "";
  return [from, until].filter(Boolean).join(" ");
}

function sayMiss(miss: Miss, grant: Grant, permission: Permission, names: Names, now: number): string {
  const held = sayGrant(grant, names);
  if (miss === "wrong-state")
    return `${held}: it would, but in ${names.state ?? "its state"} others ${permission === "piece.read" ? "read it" : "change the text"}.`;
  if (miss === "own-only")
    return `${held}: that is for their own pieces, and this one is ${names.author ?? "another"}’s.`;
  if (miss === "expired")
    return grant.from !== null && now < grant.from ? `${held}: it has not begun.` : `${held}: it is over.`;
  return `${held}: ${extentOf(grant.permissions, permission) === "own" ? "for their own pieces, and " : ""}this is not among them.`;
}

const withoutGrant = (person: Holder) =>
  person.grants.length === 0
    ? "They hold no role."
    : `None of their roles allows it: ${[...new Set(person.grants.map((grant) => grant.roleName))].join(", ")}.`;
