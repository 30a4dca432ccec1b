import { z } from "zod";
import { event } from "./event.ts";

export const commentMade = event("comment.made", {
  words: true,
  payload: z.object({ body: z.string(), version: z.number() }),
  says: () => "commented",
  tells: {
    concerned: {
      asks: "look",
      says: ({ actor, title }) => `${actor} commented on “${title}”`,
      note: ({ payload }) => payload.body,
    },
  },
});

const nothing = z.object({});
export const commentSettled = event("comment.settled", { payload: nothing, says: () => "settled a comment" });
export const commentReopened = event("comment.reopened", { payload: nothing, says: () => "opened a comment again" });
