import { z } from "zod";
import { event } from "./event.ts";

export const targetSet = event("target.set", {
  payload: z.object({
    name: z.string(),
    wanted: z.number(),
    /** Whether so many of a hundred in time are wanted. */
    share: z.boolean().default(false),
    from: z.string(),
    until: z.string(),
  }),
  says: ({ name, wanted, share, from, until }) =>
    `set the target “${name}”: ${wanted}${share ? " of 100 in time" : ""} from ${from} to ${until}`,
});

export const targetDropped = event("target.dropped", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `did away with the target “${name}”`,
});

/** What one person's letter of the week says, in lines. */
export interface WeekLetter {
  headline: string;
  lines: string[];
}

export const weekTold = event("week.told", {
  payload: z.object({ from: z.number(), until: z.number() }),
  says: () => "told of the week",
  leads: "flow",
  tells: {
    reader: {
      asks: "week",
      says: ({ params }) => String(params.headline ?? "The week: what left, and what waits"),
      lines: ({ params }) => (Array.isArray(params.lines) ? params.lines.map(String) : []),
    },
  },
});
