import { readFileSync } from "node:fs";
import type { Calendar } from "../time/calendar.ts";
import { calendarSchema } from "../time/calendar-format.ts";
import { type Measured, measure, type Stay } from "./measure.ts";

interface Case {
  calendar: number;
  stays: {
    from: string;
    until: string;
    stays: (Record<"piece" | "state" | "arrivedAt", string> & { leftAt?: string; back?: boolean })[];
  };
  expect: Measured[];
}
const read = JSON.parse(readFileSync(new URL("cases/flow.json", import.meta.url), "utf8")) as {
  calendars: unknown[];
  cases: Case[];
};
const calendars = read.calendars.map((one) => calendarSchema.parse(one));
const at = Date.parse;

test.each(read.cases.map((one, i): [number, Case] => [i, one]))(
  "case %i of measuring",
  (_, { calendar, stays, expect: wanted }) => {
    const some = stays.stays.map(
      ({ arrivedAt, leftAt, ...one }): Stay => ({
        ...one,
        arrivedAt: at(arrivedAt),
        ...(leftAt && { leftAt: at(leftAt) }),
      }),
    );
    const period = { from: at(stays.from), until: at(stays.until) };
    expect(measure(calendars[calendar] as Calendar, period, some)).toEqual(wanted);
  },
);
