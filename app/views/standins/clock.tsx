import { Form, useNavigation } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { sayExactly } from "#core/time/words.ts";
import type { Route } from "../../routes/+types/standin-clock.ts";

/** The stand-in for the clock: it shows the publication's time and moves it forward. */
export function ClockView({ loaderData, actionData }: Route.ComponentProps) {
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
