import { z } from "zod";
import { event } from "./event.ts";

export const pieceCommissioned = event("piece.commissioned", {
  payload: z.object({ person: z.string(), brief: z.string(), dueAt: z.number().nullable() }),
  says: ({ person }) => `asked ${person} to write it`,
  tells: {
    writer: {
      asks: "work",
      says: ({ actor, title }) => `${actor ?? "Elenco"} asks you to write “${title}”`,
      note: ({ payload }) => payload.brief,
      lines: ({ payload, when }) => (payload.dueAt === null ? [] : [`Due ${when(payload.dueAt)}.`]),
    },
  },
});

export const commissionTaken = event("commission.taken", {
  payload: z.object({}),
  says: () => "took it on",
  tells: { asker: { asks: "nothing", says: ({ actor, title }) => `${actor ?? "Somebody"} writes “${title}”` } },
});

export const commissionReturned = event("commission.returned", {
  payload: z.object({ person: z.string(), note: z.string() }),
  says: ({ person }) => `handed it back to ${person}`,
  tells: {
    asker: {
      asks: "work",
      says: ({ actor, title }) => `${actor ?? "Somebody"} hands “${title}” back to you`,
      note: ({ payload }) => payload.note,
    },
  },
});
