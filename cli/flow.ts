import { parseArgs } from "node:util";
import type { z } from "zod";
import { forecast, questionSchema } from "#core/flow/forecast.ts";
import { type Measured, measure, staysSchema } from "#core/flow/measure.ts";
import type { Calendar } from "#core/time/calendar.ts";
import { calendarSchema } from "#core/time/calendar-format.ts";
import { instantSchema, readJson, sayInstant, Unusable } from "./input.ts";

/** `elenco flow`: what the stops of pieces held in a period, how long it took, and what came back. */
export const flowCommand = byCalendar(
  "flow",
  staysSchema(instantSchema),
  (calendar, { from, until, stays }) => ({ states: measure(calendar, { from, until }, stays) }),
  ({ states }) => states.map(sayStop),
);

/** `elenco forecast`: when pieces are likely to reach the end of their line, from how long pieces took before. */
export const forecastCommand = byCalendar(
  "forecast",
  questionSchema(instantSchema),
  (calendar, question) => ({
    pieces: forecast(calendar, question).map((one) => ({ ...one, p50: sayInstant(one.p50), p85: sayInstant(one.p85) })),
  }),
  ({ pieces }) =>
    pieces.map(({ id, p50, p85, onTime }) => {
      const inTime = onTime === undefined ? "" : `, in time ${Math.round(onTime * 100)} times of 100`;
      return `${id}: half by ${p50}, 85 of 100 by ${p85}${inTime}`;
    }),
);

/** A command on one file and a calendar's. @param answer what is said in JSON; `say` the same in lines */
function byCalendar<S extends z.ZodType, A>(
  name: string,
  schema: S,
  answer: (calendar: Calendar, input: z.output<S>) => A,
  say: (answer: A) => string[],
) {
  return async (rest: string[]): Promise<number> => {
    const { values, positionals } = parseArgs({
      args: rest,
      options: { calendar: { type: "string" }, json: { type: "boolean", default: false } },
      allowPositionals: true,
    });
    const [file, ...more] = positionals;
    if (!file || more.length > 0) throw new Unusable(`${name}: expected one file`);
    if (!values.calendar) throw new Unusable("--calendar: expected a file");
    if (file === "-" && values.calendar === "-")
      throw new Unusable("--calendar: only one of the two can be standard input");
    const input = readJson(file, schema);
    const calendar = readJson(values.calendar, calendarSchema);
    try {
      const found = answer(calendar, input);
      console.log(values.json ? JSON.stringify(found) : say(found).join("\n"));
      return 0;
    } catch (error) {
      if (error instanceof RangeError) throw new Unusable(`${values.calendar}: ${error.message}`);
      throw error;
    }
  };
}

const sayStop = ({ state, left, p50, p85, returned, now, oldest, waiting }: Measured) =>
  [
    `${state}: ${left} left`,
    p50 !== undefined && `half within ${p50} working minutes, 85 of 100 within ${p85}`,
    returned !== undefined && `${returned} of them went back`,
    `${now} there`,
    oldest !== undefined && `the oldest for ${oldest}`,
    `${waiting} on average`,
  ]
    .filter(Boolean)
    .join(", ");
