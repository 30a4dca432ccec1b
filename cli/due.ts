import { parseArgs } from "node:util";
import { z } from "zod";
import { type Calendar, calendarSchema } from "#core/time/calendar.ts";
import { arriveBy, due, takeSchema } from "#core/time/due.ts";
import { readJson, Unusable } from "./input.ts";

const INSTANT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:\d{2})$/;

const instantSchema = z
  .string()
  .refine(
    (text) => INSTANT.test(text) && !Number.isNaN(Date.parse(text)),
    "expected an instant such as 2026-11-24T09:30Z",
  )
  .transform((text) => Date.parse(text));
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
  const given = questionSchema.safeParse({ from: values.from, take: values.take, backward: values.backward });
  if (!given.success) {
    const [issue] = given.error.issues;
    throw new Unusable(`--${String(issue?.path[0])}: ${issue?.message}`);
  }
  const one = answer(calendar, given.data, "--take");
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

/** ISO 8601 in UTC, to the minute where it is a whole one. */
const sayInstant = (at: number) =>
  new Date(at)
    .toISOString()
    .replace(/:00\.000Z$/, "Z")
    .replace(/\.000Z$/, "Z");
