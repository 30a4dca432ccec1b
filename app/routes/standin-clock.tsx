import { Form, useNavigation } from "react-router";
import { Temporal } from "temporal-polyfill";
import { z } from "zod";
import { answered, misread, notFound, readForm } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { sayExactly } from "#core/time/words.ts";
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

/** The stand-in for the clock: it shows the publication's time and moves it forward. */
export default function Clock({ loaderData, actionData }: Route.ComponentProps) {
  const busy = useNavigation().state !== "idle";
  return (
    <main className="mx-auto max-w-xl px-5 py-8">
      <h1>The publication’s time</h1>
      <p className="mt-1 text-13 text-rail">A stand-in for the clock: due dates and releases follow it.</p>
      <p role="status" className="mt-3 font-semibold">
        {sayExactly(loaderData.now, loaderData.zone)}
      </p>
      <Form method="post" className="mt-6 flex flex-wrap gap-2">
        {[
          ["PT1H", "One hour on"],
          ["PT3H", "Three hours on"],
          ["P1D", "One day on"],
          ["P7D", "One week on"],
        ].map(([length, words]) => (
          <Button key={length} name="advance" value={length} busy={busy}>
            {words}
          </Button>
        ))}
      </Form>
      <Form method="post" className="mt-4 flex max-w-72 items-end gap-2">
        <TextField
          label="Or by a length of your own"
          name="advance"
          placeholder="PT45M"
          required
          error={actionData?.fields.advance}
        />
        <Button busy={busy}>Move on</Button>
      </Form>
    </main>
  );
}
