import { z } from "zod";
import { type Stuck, sayStuck } from "../review/round.ts";
import { type Flag, sayFlag, VOID_REASONS, type VoidReason } from "../review/seating.ts";
import { counted, list, uncapital } from "../words/say.ts";
import { event, type Telling } from "./event.ts";

/** What differs from the version that was last decided on there. */
const differing = z.object({ since: z.number(), added: z.number(), removed: z.number(), fields: z.array(z.string()) });

/** The same in a sentence: *Since version 2: 41 words more, 12 fewer, in Text and Title.* */
export function sayDiffers({ since, added, removed, fields }: z.infer<typeof differing>): string {
  if (fields.length === 0) return `It differs from version ${since}, on which was decided last.`;
  const words = [
    added > 0 ? `${counted(added, "word")} more` : "",
    removed > 0 ? `${counted(removed, "word")} fewer` : "",
  ];
  const count = words.filter(Boolean).join(", ");
  return `Since version ${since}, on which was decided last: ${count && `${count}, `}in ${list(fields)}.`;
}

/** What whoever is asked to decide is told, whatever made it their turn. */
interface Calling {
  name?: string | undefined;
  differs?: z.infer<typeof differing> | null | undefined;
  dueAt?: number | null | undefined;
  note?: string | undefined;
}

export const calledTelling: Telling<Calling> = {
  asks: "decision",
  says: ({ payload, params, title, when }) =>
    `${payload.name ?? "Review"}: “${title}” waits on you${params.for ? ` for ${params.for}` : ""}${payload.dueAt ? `, due ${when(payload.dueAt)}` : ""}`,
  note: ({ payload }) => payload.note ?? "",
  lines: ({ payload }) => (payload.differs ? [sayDiffers(payload.differs)] : []),
};

const seats = z.array(
  z.object({ person: z.string().optional(), for: z.string().nullish(), void: z.string().optional() }),
);

export const roundOpened = event("round.opened", {
  payload: z.object({
    state: z.string(),
    name: z.string().optional(),
    rule: z.string(),
    version: z.number().optional(),
    hash: z.string().optional(),
    dueAt: z.number().nullish(),
    note: z.string().optional(),
    seats: seats.optional(),
    differs: differing.nullish(),
  }),
  says: ({ version }) => `opened a review of version ${version}`,
  tells: { called: calledTelling },
});

const ROUND_ENDS = {
  passed: "passed",
  returned: "it came back",
  declined: "declined",
  overridden: "closed past its rule",
  withdrawn: "the piece left",
} as const;

export const roundClosed = event("round.closed", {
  payload: z.object({
    state: z.string(),
    outcome: z.enum(["passed", "returned", "declined", "overridden", "withdrawn"]),
  }),
  says: ({ state, outcome }) => `ended the review in ${state}: ${ROUND_ENDS[outcome]}`,
});

export const roundStuck = event("round.stuck", {
  payload: z.object({
    state: z.string(),
    stuck: z.enum(["nobody", "abstained", "too-few"]).nullable(),
    rule: z.enum(["any", "all", "count", "in-order"]),
    count: z.number(),
  }),
  says: ({ state, stuck, ...round }) =>
    stuck
      ? `left the review in ${state} stuck: ${uncapital(sayStuck(stuck as Stuck, round))}`
      : `let the review in ${state} go on`,
  tells: {
    owners: {
      asks: "mending",
      says: ({ payload, title }) =>
        payload.stuck
          ? `${payload.state}: the review of “${title}” is stuck`
          : `${payload.state}: “${title}” can go on`,
      note: ({ payload: { stuck, ...round } }) => (stuck ? sayStuck(stuck as Stuck, round) : ""),
    },
  },
});

const VERDICTS: Record<string, string> = {
  approve: "approved",
  return: "returned",
  decline: "declined",
  abstain: "abstained on",
};

export const reviewDecided = event("review.decided", {
  payload: z.object({
    verdict: z.enum(["approve", "return", "decline", "abstain"]),
    note: z.string(),
    state: z.string(),
    version: z.number(),
    hash: z.string(),
    dueAt: z.number().nullish(),
    /** In a sign-off: their name as they typed it. */
    signature: z.string().optional(),
  }),
  says: ({ verdict, version, state, signature }) =>
    `${signature === undefined ? VERDICTS[verdict] : "signed"} version ${version} in ${state}`,
  tells: {
    called: {
      asks: "decision",
      says: (occasion) => {
        const { state, dueAt } = occasion.payload;
        return calledTelling.says({ ...occasion, payload: { name: state, dueAt } });
      },
    },
  },
});

export const signaturesWithdrawn = event("signatures.withdrawn", {
  payload: z.object({ state: z.string(), signatures: z.number() }),
  says: ({ signatures, state }) =>
    `withdrew ${signatures === 1 ? "one signature" : `${signatures} signatures`} in ${state} by a refusal`,
  tells: {
    signers: {
      asks: "look",
      says: ({ actor, payload, title }) =>
        `${payload.state}: ${actor} did not sign “${title}”, and your signature is withdrawn`,
    },
  },
});

export const seatMoved = event("seat.moved", {
  payload: z.object({
    person: z.string().nullable(),
    for: z.string().nullable(),
    flag: z.string().nullable(),
    state: z.string().optional(),
  }),
  says: (payload) => {
    if (payload.flag === null) return `${payload.person} sits${payload.for ? ` for ${payload.for}` : ""}`;
    return `a seat waits: ${FLAGS.includes(payload.flag as Flag) ? sayFlag(payload.flag as Flag, payload.person ?? "its holder") : payload.flag}`;
  },
  tells: {
    called: {
      asks: "decision",
      says: ({ payload, title }) =>
        `${payload.state ?? "Review"}: “${title}” waits on you${payload.for ? ` for ${payload.for}` : ""}`,
    },
    author: {
      asks: "nothing",
      says: ({ payload, title }) => `${payload.person} reviews “${title}”${payload.for ? ` for ${payload.for}` : ""}`,
    },
  },
});

export const reviewReminded = event("review.reminded", {
  payload: z.object({ state: z.string(), dueAt: z.number(), late: z.boolean(), people: z.array(z.string()) }),
  says: ({ people, late }) => `reminded ${list(people)}${late ? ": it is late" : " before it is due"}`,
  tells: {
    called: {
      asks: "decision",
      says: ({ payload, params, title, when }) =>
        `${payload.state}: “${title}” still waits on you${params.for ? ` for ${params.for}` : ""}; it ${payload.late ? "was" : "is"} due ${when(payload.dueAt)}`,
    },
  },
});

export const reviewOverdue = event("review.overdue", {
  payload: z.object({
    state: z.string(),
    dueAt: z.number(),
    /** Who has not decided, and who sits in their place from now. */
    late: z.array(z.object({ person: z.string(), to: z.string().nullable() })),
  }),
  says: ({ late, state }) =>
    late.length === 0
      ? `found the review in ${state} late`
      : `found the review in ${state} late: ${list(late.map(({ person, to }) => `${person} has not decided${to ? `, ${to} sits now` : ""}`))}`,
  tells: {
    told: {
      asks: "mending",
      says: ({ payload, title, when }) =>
        `${payload.state}: “${title}” is late; it was due ${when(payload.dueAt)}${payload.late.length > 0 ? `, and ${list(payload.late.map((one) => one.person))} ${payload.late.length > 1 ? "have" : "has"} not decided` : ""}`,
      lines: ({ payload }) => payload.late.flatMap(({ person, to }) => (to ? [`${to} sits for ${person} now.`] : [])),
    },
    late: {
      asks: "decision",
      says: ({ payload, title, when }) =>
        `${payload.state}: “${title}” waits on you and is late; it was due ${when(payload.dueAt)}`,
    },
    relieved: {
      asks: "look",
      says: ({ payload, params, title }) =>
        `${payload.state}: ${params.to} sits on “${title}” in your place, since it is late`,
    },
  },
});

const FLAGS: readonly Flag[] = ["away", "left", "may-not-decide"];

export const seatVoid = event("seat.void", {
  payload: z.object({ why: z.string() }),
  says: ({ why }) => `a seat no longer counts: ${VOID_REASONS[why as VoidReason] ?? why}`,
});

export const seatAdded = event("seat.added", {
  payload: z.object({ person: z.string(), state: z.string(), note: z.string() }),
  says: ({ person }) => `added a seat for ${person}`,
  tells: {
    called: {
      asks: "decision",
      says: ({ payload, title }) => `${payload.state}: “${title}” waits on you`,
      note: ({ payload }) => payload.note,
    },
  },
});
