import { z } from "zod";
import { counted } from "../words/say.ts";
import { event } from "./event.ts";

/** An edition as its notices and the record name it: the channel's key, its number, and both in words. */
const ofEdition = { channel: z.string(), number: z.number(), edition: z.string() };
const dated = z.object({ ...ofEdition, at: z.number() });
const reasoned = z.object({ ...ofEdition, note: z.string() });
const hold = z.object({ code: z.string(), about: z.array(z.string()).optional() });
const held = z.object({
  ...ofEdition,
  /** Why: of the whole, and of each of its pieces. */
  holds: z.array(z.object({ pieceId: z.string().nullable(), holds: z.array(hold) })),
});

/** What stands in the way, a sentence each, as far as the reader may see the pieces. */
const linesOf = ({ params }: { params: Readonly<Record<string, unknown>> }): string[] =>
  Array.isArray(params.lines) ? params.lines.map(String) : [];

export const editionMade = event("edition.made", {
  payload: dated,
  says: ({ edition }) => `made ${edition}`,
  leads: "edition",
});

export const editionMoved = event("edition.moved", {
  payload: dated,
  says: ({ edition }) => `moved ${edition}`,
  leads: "edition",
  tells: {
    people: {
      asks: "look",
      says: ({ payload, actor, when }) => `${actor ?? "Elenco"} moved ${payload.edition} to ${when(payload.at)}`,
    },
  },
});

/** An edition that was held and is so no more, since what held it has changed. */
export const editionResumed = event("edition.resumed", {
  payload: dated,
  says: ({ edition }) => `nothing holds ${edition} any more`,
  leads: "edition",
  tells: {
    people: {
      asks: "look",
      says: ({ payload, when }) => `Nothing holds ${payload.edition} any more: it goes out ${when(payload.at)}`,
    },
  },
});

/** The same pieces in another order. */
export const editionOrdered = event("edition.ordered", {
  payload: z.object({ ...ofEdition, part: z.string() }),
  says: ({ edition, part }) => `put it elsewhere in ${edition}: ${part}`,
});

export const editionFilled = event("edition.filled", {
  payload: z.object({ ...ofEdition, at: z.number(), part: z.string(), late: z.string().nullable() }),
  says: ({ edition, late }) => `put it into ${edition}${late ? ", after it had closed" : ""}`,
  tells: {
    author: {
      asks: "nothing",
      says: ({ payload, title, when }) => `“${title}” is in ${payload.edition}, ${when(payload.at)}`,
      note: ({ payload }) => payload.late ?? "",
    },
  },
});

export const editionEmptied = event("edition.emptied", {
  payload: z.object({ ...ofEdition, why: z.string().optional() }),
  says: ({ edition, why }) => `took it out of ${edition}${why ? `: ${why}` : ""}`,
  tells: {
    author: { asks: "look", says: ({ payload, title }) => `“${title}” is not in ${payload.edition} any more` },
  },
});

export const editionDropped = event("edition.dropped", {
  payload: reasoned,
  says: ({ edition }) => `dropped ${edition}`,
  leads: "edition",
  tells: {
    people: {
      asks: "look",
      says: ({ payload, actor }) => `${actor ?? "Elenco"} dropped ${payload.edition}`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const editionSigned = event("edition.signed", {
  payload: z.object({ ...ofEdition, hash: z.string(), pieces: z.number(), whole: z.boolean() }),
  says: ({ edition, pieces }) => `signed ${edition}, ${counted(pieces, "piece")}`,
  leads: "edition",
  tells: {
    people: {
      asks: ({ whole }) => (whole ? "nothing" : "decision"),
      says: ({ payload, actor }) =>
        payload.whole
          ? `${payload.edition} is signed off by all who sign it`
          : `${actor} signed ${payload.edition}: it waits for you`,
    },
  },
});

/** What was signed is open again: signatures are taken back. */
export const editionReopened = event("edition.reopened", {
  payload: reasoned,
  says: ({ edition }) => `opened ${edition} again`,
  leads: "edition",
  tells: {
    people: {
      asks: "look",
      says: ({ payload, actor }) =>
        `${actor ?? "Elenco"} opened ${payload.edition} again: what was signed counts no more`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const editionReleased = event("edition.released", {
  payload: z.object({ ...ofEdition, pieces: z.number() }),
  says: ({ edition, pieces }) => `${edition} left, ${counted(pieces, "piece")}`,
  leads: "edition",
  tells: {
    people: { asks: "nothing", says: ({ payload }) => `${payload.edition} left; it can be handed over` },
  },
});

export const editionHeld = event("edition.held", {
  payload: held,
  says: ({ edition }) => `${edition} was held`,
  leads: "edition",
  tells: {
    people: {
      asks: "mending",
      says: ({ payload }) => `${payload.edition} is held`,
      lines: linesOf,
    },
  },
});

/** What was signed meets something that would hold it, or no longer does. */
export const editionForeseen = event("edition.foreseen", {
  payload: held,
  says: ({ edition, holds }) =>
    holds.length > 0 ? `something stands in the way of ${edition}` : `nothing stands in the way of ${edition}`,
  leads: "edition",
  tells: {
    people: {
      asks: "mending",
      says: ({ payload }) =>
        payload.holds.length > 0
          ? `${payload.edition} will be held`
          : `Nothing stands in the way of ${payload.edition}`,
      lines: linesOf,
    },
  },
});
