import { parseArgs } from "node:util";
import { z } from "zod";
import { calendarSchema } from "#core/time/calendar-format.ts";
import { due } from "#core/time/due.ts";
import { type Leg, plan } from "#core/time/plan.ts";
import { saySlack, slack } from "#core/time/slack.ts";
import { type Workflow, workflowSchema } from "#core/workflow/document.ts";
import { legAt, legsAfter } from "#core/workflow/legs.ts";
import { instantSchema, readJson, readOptions, sayInstant, Unusable } from "./input.ts";

const optionsSchema = z.object({
  publish: instantSchema,
  at: z.string().optional(),
  since: instantSchema.optional(),
  now: instantSchema.optional(),
});

/** `elenco plan`: by when each stop must be reached and left for a publish date to hold, when it will be, and what is to spare. */
export async function planCommand(rest: string[]): Promise<number> {
  const { values } = parseArgs({
    args: rest,
    options: {
      workflow: { type: "string" },
      calendar: { type: "string" },
      publish: { type: "string" },
      at: { type: "string" },
      since: { type: "string" },
      now: { type: "string" },
      json: { type: "boolean", default: false },
    },
  });
  if (!values.workflow || !values.calendar)
    throw new Unusable(`--${values.workflow ? "calendar" : "workflow"}: expected a file`);
  if (values.workflow === "-" && values.calendar === "-")
    throw new Unusable("--calendar: only one of the two can be standard input");
  const workflow = readJson(values.workflow, workflowSchema);
  const calendar = readJson(values.calendar, calendarSchema);
  const { publish, at = workflow.initial, since, now } = readOptions(optionsSchema, values);
  if ((since === undefined) !== (now === undefined))
    throw new Unusable(`--${since === undefined ? "since" : "now"}: since and now go together`);
  const legs = legsOf(workflow, at);
  try {
    const take = legs[0]?.take;
    const begun =
      since !== undefined && now !== undefined
        ? { since, leaves: Math.max(now, take ? due(calendar, since, take) : now) }
        : null;
    const planned = plan(calendar, legs, begun ?? { since: publish, leaves: publish }, publish);
    const length = begun && slack(calendar, planned.at(-1)?.expected ?? begun.since, publish);
    const stops = planned.map(({ key, reachBy, leaveBy, expected }) => ({
      state: key,
      reachBy: sayInstant(reachBy ?? publish),
      ...(leaveBy !== null && { leaveBy: sayInstant(leaveBy) }),
      ...(begun && { expected: sayInstant(expected) }),
    }));
    if (values.json)
      console.log(JSON.stringify({ stops, ...(length !== null && { slackMinutes: Math.floor(length / 60_000) }) }));
    else {
      const said = stops.map(
        ({ state, reachBy, expected }) => `${state}: by ${reachBy}${expected ? `, expected ${expected}` : ""}`,
      );
      console.log([...said, ...(length === null ? [] : [saySlack(calendar, length)])].join("\n"));
    }
    return 0;
  } catch (error) {
    if (error instanceof RangeError) throw new Unusable(`${values.calendar}: ${error.message}`);
    throw error;
  }
}

function legsOf(workflow: Workflow, at: string): Leg[] {
  const state = workflow.states.find((one) => one.key === at);
  const place = workflow.mainLine.indexOf(at);
  if (!state || place < 0) throw new Unusable(`--at: expected a stop of the main line, not "${at}"`);
  return [legAt(state), ...legsAfter(workflow, place)];
}
