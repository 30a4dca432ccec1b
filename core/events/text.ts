import { z } from "zod";
import { counted } from "../words/say.ts";
import { event } from "./event.ts";
import { calledTelling } from "./review.ts";

export const versionSaved = event("version.saved", {
  words: true,
  payload: z.object({
    version: z.number(),
    hash: z.string(),
    name: z.string().optional(),
    /** The keys of the fields that are others than before. */
    fields: z.array(z.string()).optional(),
  }),
  says: ({ version }) => `saved version ${version}`,
});

export const versionNamed = event("version.named", {
  payload: z.object({ version: z.number(), name: z.string() }),
  says: ({ version, name }) => (name ? `called version ${version} “${name}”` : `took version ${version} its name`),
});

export const versionsThinned = event("versions.thinned", {
  payload: z.object({ count: z.number() }),
  says: ({ count }) => `thinned out ${counted(count, "old version")}`,
});

export const textTaken = event("text.taken", {
  payload: z.object({ person: z.string(), version: z.number() }),
  says: ({ person }) => `took over the text from ${person}`,
  tells: {
    holder: {
      asks: "look",
      says: ({ payload, actor, title }) =>
        `${actor} took over the text of “${title}”; what you had saved is version ${payload.version}`,
    },
  },
});

export const approvalsVoid = event("approvals.void", {
  payload: z.object({
    version: z.number(),
    seats: z.number(),
    name: z.string().optional(),
    dueAt: z.number().nullish(),
    note: z.string().optional(),
  }),
  says: ({ seats }) =>
    `the text changed, so ${counted(seats, "decision")} no longer ${seats === 1 ? "counts" : "count"}`,
  tells: {
    decided: {
      asks: "decision",
      says: ({ title }) => `The text of “${title}” changed after you decided; your decision no longer counts`,
    },
    called: calledTelling,
  },
});
