import { and, eq } from "drizzle-orm";
import { can, PUBLICATION, type Target } from "#core/access/decide.ts";
import { type Explanation, explain } from "#core/access/explain.ts";
import { PERMISSIONS, type Permission } from "#core/access/permissions.ts";
import { seatToDecideFrom } from "#core/review/deciding.ts";
import { list } from "#core/words/say.ts";
import { moves } from "#core/workflow/moves.ts";
import { loadEverybody, loadHolder, type Person } from "../access/holders.ts";
import { namesFor } from "../access/names.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { person, piece } from "../db/schema/index.ts";
import { loadFacts, type PieceFacts, standingOf } from "../piece/facts.ts";
import { loadOpenRound } from "../review/rounds.ts";
import { tableOf } from "../review/table.ts";
import type { Viewer } from "../viewer.ts";

const NAMED = 12;

/** A question: may this person do this, to this piece or, without one, anywhere? */
export interface Question {
  /** The person's key. */
  person: string;
  /** A permission, `step:KEY` for a step of the piece's workflow, or `decide` for its review. */
  action: string;
  /** The piece's slug; null asks about the publication as a whole. */
  piece: string | null;
}

/** The answer, with who could and which actions can be asked about here. */
export interface Answered extends Explanation {
  /** Names of people who may, the one asked about left out. */
  who: { key: string; name: string }[];
  /** How many more may than are named. */
  more: number;
  title: string | null;
}

/** Whether a viewer may ask about somebody else than themselves. */
export const mayAskAbout = (viewer: Viewer, key: string) =>
  viewer.key === key || can(viewer, "access.edit", PUBLICATION, viewer.now).allowed;

/** The actions that can be asked about: every permission, and the steps a piece's state offers. */
export function actionsFor(facts: PieceFacts | null): { value: string; name: string }[] {
  const steps = facts?.workflow.transitions.filter(
    (step) => step.from.includes(facts.piece.stateKey) && step.by.length > 0,
  );
  return [
    ...(steps ?? []).map((step) => ({ value: `step:${step.key}`, name: step.name })),
    ...Object.entries(PERMISSIONS).map(([value, name]) => ({ value, name })),
  ];
}

/** A piece as the viewer may see it, by its slug; null where there is none for them. */
export const pieceAsked = (db: Queryable, viewer: Viewer, slug: string) =>
  loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)));

/**
 * Answers whether a person may do something and why, by the decisions the commands themselves make.
 *
 * @returns null where the viewer may not ask, or there is no such person, piece or action for them
 */
export async function why(db: Queryable, viewer: Viewer, question: Question): Promise<Answered | null> {
  if (!mayAskAbout(viewer, question.person)) return null;
  const [row] = await db
    .select({ id: person.id })
    .from(person)
    .where(and(eq(person.key, question.person), eq(person.guest, false)));
  const who = row && (await loadHolder(db, row.id));
  const facts = question.piece ? await pieceAsked(db, viewer, question.piece) : null;
  if (!who || (question.piece && !facts)) return null;
  const everybody = [...(await loadEverybody(db)).values()].filter((one) => one.id !== who.id);
  const judge = await judging(db, viewer, question.action, facts, [who, ...everybody]);
  if (!judge) return null;
  const able = everybody.filter((one) => judge.allows(one));
  return {
    ...judge.explain(who),
    who: able.slice(0, NAMED).map(({ key, name }) => ({ key, name })),
    more: Math.max(0, able.length - NAMED),
    title: facts?.piece.title ?? null,
  };
}

interface Judging {
  allows(one: Person): boolean;
  explain(one: Person): Explanation;
}

async function judging(
  db: Queryable,
  viewer: Viewer,
  action: string,
  facts: PieceFacts | null,
  people: readonly Person[],
): Promise<Judging | null> {
  const { now } = viewer;
  const target: Target = facts?.target ?? PUBLICATION;
  const names = await namesFor(db, viewer, people[0]?.grants ?? []);
  const author = people.find((one) => one.id === facts?.piece.authorId)?.name;
  const known = { ...names, author, state: facts?.state.name };
  const permitted = (permission: Permission): Judging => ({
    allows: (one) => can(one, permission, target, now).allowed,
    explain: (one) => explain(can(one, permission, target, now), one, permission, target, known, now),
  });
  if (action === "review.decide" && facts) return deciding(db, facts, permitted("review.decide"), people, now);
  if (Object.hasOwn(PERMISSIONS, action)) return permitted(action as Permission);
  const key = action.startsWith("step:") ? action.slice("step:".length) : null;
  if (!facts || key === null) return null;
  const move = (one: Person) =>
    moves(facts.workflow, standingOf(facts, one, now)).find((each) => each.transition.key === key);
  const step = people[0] && move(people[0])?.transition;
  if (!step) return null;
  return {
    allows: (one) => move(one)?.refusals.length === 0,
    explain: (one) => {
      const refusals = move(one)?.refusals ?? [];
      const allowed = refusals.length === 0;
      const granted = permitted("piece.send").explain(one).because;
      const closed = refusals.flatMap((refusal) => [refusal.sentence, ...(refusal.missing ?? [])]);
      const grants =
        refusals.some((refusal) => refusal.code === "not-granted" || refusal.code === "may-not-release") || allowed
          ? granted
          : [];
      return {
        allowed,
        sentence: `${one.name} ${allowed ? "may" : "cannot"} take “${step.name}” ${allowed ? "here" : "here now"}.`,
        because: [...closed, ...grants],
      };
    },
  };
}

/** In a review it takes a seat besides the permission: the answer of the command, with what grants it. */
async function deciding(
  db: Queryable,
  facts: PieceFacts,
  permitted: Judging,
  people: readonly Person[],
  now: number,
): Promise<Judging> {
  const round = await loadOpenRound(db, facts.piece.id);
  const table = await tableOf(db, facts, round, people, now);
  return {
    allows: (one) => seatToDecideFrom(table, one.id).ok,
    explain: (one) => {
      const seat = seatToDecideFrom(table, one.id);
      if (seat.ok) {
        const why = permitted.allows(one) ? permitted.explain(one).because : ["They stand in for somebody who may."];
        const because = ["They have a seat in the open review.", ...why];
        return { allowed: true, sentence: `${one.name} may decide here.`, because };
      }
      const { code, sentence, who } = seat.refusal;
      const because = [
        ofThem(sentence),
        ...(who?.length ? [`Asked to decide: ${list(who)}.`] : []),
        ...(code === "round-closed" || permitted.allows(one) ? [] : permitted.explain(one).because),
      ];
      return { allowed: false, sentence: `${one.name} may not decide here.`, because };
    },
  };
}

/** A refusal speaks to whoever asks; here somebody is spoken of. */
const ofThem = (sentence: string) =>
  sentence
    .replace(/^You have/, "They have")
    .replace(/\byours\b/, "theirs")
    .replace(/\bYour\b/, "Their")
    .replace(/\byour\b/, "their")
    .replace(/lets you/, "lets them");
