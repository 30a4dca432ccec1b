import { parseArgs } from "node:util";
import { z } from "zod";
import type { Calendar } from "#core/time/calendar.ts";
import { calendarSchema } from "#core/time/calendar-format.ts";
import { arriveBy, due } from "#core/time/due.ts";
import { takeSchema } from "#core/time/take-format.ts";
import { instantSchema, readJson, readOptions, sayInstant, Unusable } from "./input.ts";

const questionSchema = z.strictObject({ from: instantSchema, take: takeSchema, backward: z.boolean().default(false) });

type Question = z.output<typeof questionSchema>;
type Answer = { due: string } | { arriveBy: string };

/** `elenco due`: when work is due, or by when it must arrive; one question or a batch of them. */
export async function dueCommand(rest: string[]): Promise<number> {
  const { values } = parseArgs({
    args: rest,
    options: {
      calendar: { type: "string" },
      from: { type: "string" },
      take: { type: "string" },
      backward: { type: "boolean", default: false },
      batch: { type: "string" },
      json: { type: "boolean", default: false },
    },
  });
  if (!values.calendar) throw new Unusable("--calendar: expected a file");
  const calendar = readJson(values.calendar, calendarSchema);
  if (values.batch !== undefined) {
    if (values.from !== undefined || values.take !== undefined)
      throw new Unusable("--batch stands for --from and --take");
    const answers = readJson(values.batch, z.array(questionSchema)).map((question, i) =>
      answer(calendar, question, `[${i}]`),
    );
    console.log(values.json ? JSON.stringify(answers) : answers.map((one) => Object.values(one)[0]).join("\n"));
    return 0;
  }
  const { from, take, backward } = values;
  const one = answer(calendar, readOptions(questionSchema, { from, take, backward }), "--take");
  console.log(values.json ? JSON.stringify(one) : Object.values(one)[0]);
  return 0;
}

function answer(calendar: Calendar, { from, take, backward }: Question, place: string): Answer {
  try {
    return backward
      ? { arriveBy: sayInstant(arriveBy(calendar, from, take)) }
      : { due: sayInstant(due(calendar, from, take)) };
  } catch (error) {
    if (error instanceof RangeError) throw new Unusable(`${place}: ${error.message}`);
    throw error;
  }
}
