import { z } from "zod";
import { takeSchema } from "../time/take-format.ts";

/** A question every idea is judged by, and the words one answers in, from the least to the most. */
export const questionSchema = z.strictObject({
  key: z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/),
  asks: z.string().trim().min(1, "What is asked?").max(120, "At most 120 characters fit."),
  answers: z.array(z.string().trim().min(1).max(40)).min(2, "Two answers at least.").max(5, "Five answers at most."),
});
export type Question = z.output<typeof questionSchema>;

const READY_QUESTIONS: Question[] = [
  { key: "readers", asks: "Would readers miss it?", answers: ["nobody would", "a few would", "many would"] },
  { key: "ours", asks: "Is it ours to write?", answers: ["others do it better", "as well as anybody", "only we can"] },
  { key: "now", asks: "Why now?", answers: ["no hurry", "this season", "it cannot wait"] },
];

/** What the team agreed on for all that comes in. */
export const intakeSettingsSchema = z.strictObject({
  questions: z.array(questionSchema).max(3, "Three questions are enough."),
  /** Why things are declined, in words that can be sent as they are. */
  reasons: z.array(z.string().trim().min(1).max(300)).max(20, "Twenty reasons are enough."),
  /** The working time within which ideas and what readers say are answered; null for no promise. */
  promise: takeSchema.nullable(),
});
export type IntakeSettings = z.output<typeof intakeSettingsSchema>;

/** What holds where the team has agreed on nothing. */
export const READY_INTAKE: IntakeSettings = {
  questions: READY_QUESTIONS,
  reasons: [
    "We have written about this lately.",
    "It is not for our readers.",
    "We have nobody who could write it in time.",
    "There is not enough in it yet; come back with more.",
  ],
  promise: "3wd",
};

/** How those who judged answered a question: each answer with how many gave it, from the least to the most. */
export function tally(
  { key, answers }: Question,
  judgements: readonly { answers: Readonly<Record<string, string>> }[],
): { answer: string; count: number }[] {
  return answers.map((answer) => ({
    answer,
    count: judgements.filter((one) => one.answers[key] === answer).length,
  }));
}
