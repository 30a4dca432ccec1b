import { Temporal } from "temporal-polyfill";
import { z } from "zod";
import { answered, misread, notFound, readForm } from "#app/request.ts";
import { ClockView } from "#app/views/standins/clock.tsx";
import { masthead } from "#server/reader/queries.ts";
import { advanceClock } from "#server/standins/clock.ts";
import type { Route } from "./+types/standin-clock.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  return { now: context.now, zone: (await masthead(context.db)).zone };
}

const schema = z.object({ advance: z.string() });

export async function action({ context, request }: Route.ActionArgs) {
  if (!context.standIns) throw notFound();
  const read = readForm(schema, await request.formData());
  const length = "values" in read ? lengthOf(read.values.advance) : null;
  if (length === null)
    return misread("advance", { advance: "Give a length such as PT3H or P2D, at most a year, never backwards." });
  await advanceClock(context.db, length);
  return answered("advance");
}

/** An ISO 8601 duration in milliseconds, days as 24 hours; null for what is none, not forward, or over a year. */
function lengthOf(text: string): number | null {
  try {
    const length = Temporal.Duration.from(text.trim()).total({ unit: "milliseconds" });
    return Number.isInteger(length) && length > 0 && length <= 366 * 86_400_000 ? length : null;
  } catch {
    return null;
  }
}

export const meta: Route.MetaFunction = () => [{ title: "Clock stand-in" }];

export default function Clock(props: Route.ComponentProps) {
  return <ClockView {...props} />;
}
