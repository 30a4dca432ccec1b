import type { Worded } from "#core/telling/wording.ts";

export const PLACE_WORDS: Record<Worded, string> = { app: "in Elenco", mail: "by mail", chat: "in chat" };

const PARTS: Record<string, string> = {
  called: "who is asked to decide",
  author: "the author",
  owners: "who looks after the piece",
  confirmers: "who may release it",
  decided: "who decided",
  proposer: "who proposed it",
  asked: "who is asked",
  concerned: "those concerned",
  mentioned: "who is mentioned",
  holder: "who has it",
  standIn: "the stand-in",
  planner: "who planned it",
  assigned: "who it is assigned to",
  arrived: "those concerned",
  released: "who had it",
  having: "who has it",
  told: "those who are told",
  late: "who has not decided",
  relieved: "who sat before",
  signers: "who signed",
};

/** Whom a part of an event's notices tells, in words. */
export const partWords = (part: string): string => PARTS[part] ?? "those concerned";
