import { z } from "zod";

const NOT_ONE = "What the device answered could not be read.";

/** What a browser's device answered, as JSON; what is in it is judged by who verifies it. */
export const answerOf = <T>() =>
  z
    .string()
    .max(20_000, NOT_ONE)
    .transform((text, reading): T => {
      try {
        const answer = JSON.parse(text);
        if (typeof answer?.id === "string" && typeof answer.response === "object" && answer.response !== null)
          return answer;
      } catch {
        // Said below, as for every answer that is none.
      }
      reading.addIssue(NOT_ONE);
      return z.NEVER;
    });
