import { z } from "zod";
import { ERRAND_KEYS, ERRANDS } from "../assist/errand.ts";
import { event } from "./event.ts";

const asked = { errand: z.enum(ERRAND_KEYS), name: z.string() };
const what = ({ errand }: { errand: keyof typeof ERRANDS }) => ERRANDS[errand].name.toLowerCase();

export const assistantNamed = event("assistant.named", {
  payload: z.object({ name: z.string(), url: z.string(), on: z.boolean() }),
  says: ({ name, url, on }) => `has ${name} (${url}) ${on ? "asked as an assistant" : "asked no more"}`,
});

/** An assistant is sent for something; what it is sent is kept with it. */
export const assistantAsked = event("assistant.asked", {
  payload: z.object({ ...asked, words: z.number() }),
  says: (payload) => `asked ${payload.name} for ${what(payload)}`,
});

export const assistantAnswered = event("assistant.answered", {
  payload: z.object({ ...asked, cost: z.string().nullable() }),
  says: (payload) => `took in ${what(payload)} from ${payload.name}${payload.cost ? `, for ${payload.cost}` : ""}`,
  tells: {
    asker: {
      asks: "look",
      says: ({ payload, title }) => `${payload.name} brought ${what(payload)} for “${title}”`,
    },
  },
  leads: "assistant",
});

export const assistantFailed = event("assistant.failed", {
  payload: z.object({ ...asked, problem: z.string(), cost: z.string().nullable() }),
  says: (payload) => `asked ${payload.name} for ${what(payload)} in vain: ${payload.problem}`,
  tells: {
    asker: {
      asks: "look",
      says: ({ payload, title }) => `${payload.name} was asked for ${what(payload)} for “${title}” in vain`,
      note: ({ payload }) => payload.problem,
    },
  },
  leads: "assistant",
});

/** Somebody took what an assistant brought into the text; from then on it is theirs. */
export const assistantTaken = event("assistant.taken", {
  payload: z.object({ ...asked, version: z.number() }),
  says: (payload) => `took ${what(payload)} of ${payload.name} into version ${payload.version}`,
});

export const assistantLeft = event("assistant.left", {
  payload: z.object({ ...asked, reason: z.string() }),
  says: (payload) => `left ${what(payload)} of ${payload.name}${payload.reason ? `: ${payload.reason}` : ""}`,
});
