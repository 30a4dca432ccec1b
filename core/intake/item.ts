/** What comes in: asked for from outside, thought of here, said by a reader, or brought by a feed. */
export const SORTS = ["request", "idea", "report", "material"] as const;
export type Sort = (typeof SORTS)[number];

/**
 * How something that came in stands: its sender's address is not confirmed yet; it waits to be judged; something
 * was asked back; it became a piece, belongs to one there was, was declined, taken back, or answered.
 */
export const STANDINGS = [
  "unconfirmed",
  "waiting",
  "asked",
  "taken",
  "joined",
  "declined",
  "withdrawn",
  "answered",
] as const;
export type Standing = (typeof STANDINGS)[number];

/** What is still to be judged. */
export const OPEN: readonly Standing[] = ["waiting", "asked"];

/** What is done to something that came in. */
export type IntakeAct =
  | "take"
  | "join"
  | "decline"
  | "ask"
  | "answer"
  | "correct"
  | "give"
  | "amend"
  | "reopen"
  | "outline"
  | "judge"
  | "amend-own"
  | "answer-own"
  | "withdraw-own";

interface Rule {
  sorts: readonly Sort[];
  from: readonly Standing[];
}

const EVERY: Rule = { sorts: SORTS, from: OPEN };
const RULES: Record<IntakeAct, Rule> = {
  take: { sorts: ["request", "idea", "material"], from: OPEN },
  join: EVERY,
  decline: EVERY,
  ask: { sorts: ["request", "report"], from: OPEN },
  answer: { sorts: ["report"], from: OPEN },
  correct: { sorts: ["report"], from: OPEN },
  give: EVERY,
  amend: { sorts: ["request", "idea", "material"], from: OPEN },
  reopen: { sorts: SORTS, from: ["declined"] },
  outline: { sorts: ["idea"], from: OPEN },
  judge: { sorts: ["idea"], from: OPEN },
  "amend-own": { sorts: ["request"], from: ["unconfirmed", "waiting", "asked"] },
  "answer-own": { sorts: ["request", "report"], from: ["asked"] },
  "withdraw-own": { sorts: ["request", "report"], from: ["unconfirmed", "waiting", "asked"] },
};

/** What became of something, as the end of a sentence about it. */
export const BECAME: Record<Standing, string> = {
  unconfirmed: "its address is not confirmed yet",
  waiting: "waits to be judged",
  asked: "waits for an answer",
  taken: "became a piece",
  joined: "belongs to a piece there was",
  declined: "was declined",
  withdrawn: "was taken back",
  answered: "was answered",
};

const CALLED: Record<Sort, string> = {
  request: "a request",
  idea: "an idea",
  report: "what a reader said",
  material: "material from a feed",
};

/** Why an act cannot be done to something that came in, as a sentence; null where it can. */
export function whyNot(act: IntakeAct, { sort, standing }: { sort: Sort; standing: Standing }): string | null {
  const { sorts, from } = RULES[act];
  if (!sorts.includes(sort)) return `This is not done with ${CALLED[sort]}.`;
  return from.includes(standing) ? null : `This ${BECAME[standing]} meanwhile.`;
}
