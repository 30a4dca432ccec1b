import { z } from "zod";
import { SETTLEMENT_WORDS, SETTLEMENTS } from "../remarks/thread.ts";
import { event, type Telling } from "./event.ts";

interface Made {
  body: string;
  quote?: string | undefined;
  proposes?: boolean | undefined;
  reply?: boolean | undefined;
}

const looking = (verb: string): Telling<Made> => ({
  asks: "look",
  says: ({ actor, title }) => `${actor} ${verb} “${title}”`,
  note: ({ payload }) => payload.body,
  lines: ({ payload }) => (payload.quote ? [`On “${payload.quote}”`] : []),
});

export const commentMade = event("comment.made", {
  words: true,
  remark: true,
  leads: "remark",
  payload: z.object({
    body: z.string(),
    version: z.number(),
    kind: z.string().optional(),
    quote: z.string().optional(),
    proposes: z.boolean().optional(),
    reply: z.boolean().optional(),
  }),
  says: ({ proposes, reply }) => (proposes ? "proposed other wording" : reply ? "answered a remark" : "commented"),
  tells: {
    concerned: {
      ...looking("commented on"),
      says: ({ actor, payload, title }) =>
        `${actor} ${payload.proposes ? "proposed wording for" : payload.reply ? "answered a remark on" : "commented on"} “${title}”`,
    },
    mentioned: looking("mentions you on"),
  },
});

const nothing = z.object({});
export const commentKept = event("comment.kept", { payload: nothing, says: () => "wrote a remark and keeps it back" });
export const commentChanged = event("comment.changed", {
  words: true,
  payload: z.object({ body: z.string() }),
  says: () => "changed the words of a comment",
});
export const commentTakenBack = event("comment.taken-back", {
  words: true,
  payload: nothing,
  says: () => "took a comment back",
});
export const commentSettled = event("comment.settled", {
  payload: z.object({ outcome: z.enum(SETTLEMENTS).optional() }),
  says: ({ outcome }) => `settled a comment${outcome ? `: ${SETTLEMENT_WORDS[outcome]}` : ""}`,
});
export const commentReopened = event("comment.reopened", { payload: nothing, says: () => "opened a comment again" });
export const commentPinned = event("comment.pinned", {
  payload: z.object({ pinned: z.boolean() }),
  says: ({ pinned }) => (pinned ? "pinned a comment to the top" : "took a comment from the top"),
});

export const opinionAsked = event("opinion.asked", {
  remark: true,
  payload: z.object({ person: z.string(), note: z.string() }),
  says: ({ person }) => `asked ${person} for an opinion`,
  tells: {
    asked: {
      asks: "look",
      says: ({ actor, title }) => `${actor} asks for your opinion on “${title}”`,
      note: ({ payload }) => payload.note,
    },
  },
});

const proposed = z.object({ by: z.array(z.string()), version: z.number(), count: z.number() });
const wordings = (count: number) => (count === 1 ? "wording" : `${count} wordings`);

export const proposalAccepted = event("proposal.accepted", {
  remark: true,
  payload: proposed,
  says: ({ by, count, version }) => `accepted ${wordings(count)} proposed by ${by.join(", ")}: version ${version}`,
  tells: {
    proposer: {
      asks: "nothing",
      says: ({ actor, title }) => `${actor} accepted your wording in “${title}”`,
    },
  },
});
export const proposalSetAside = event("proposal.set-aside", {
  remark: true,
  payload: proposed.omit({ version: true }),
  says: ({ by, count }) => `set aside ${wordings(count)} proposed by ${by.join(", ")}`,
  tells: {
    proposer: { asks: "nothing", says: ({ actor, title }) => `${actor} set your wording in “${title}” aside` },
  },
});
