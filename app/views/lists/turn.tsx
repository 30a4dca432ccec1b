import { useMemo } from "react";
import { ButtonLink } from "#app/ui/button.tsx";
import { ChosenBar } from "#app/views/lists/choosing.tsx";
import { type Choosing, useChoosing } from "#app/views/lists/chosen.ts";
import { TurnRow } from "#app/views/lists/turn-row.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { sayDate, sayInstant } from "#core/time/words.ts";
import type { Route } from "../../routes/+types/turn.ts";

const WEEK = 7 * 86_400_000;

/** What waits on somebody, in the order it will hurt, and what they wait for. */
export function TurnView({ loaderData }: Route.ComponentProps) {
  const { mine, others, more, mayBegin } = loaderData;
  const { now, zone } = useClock();
  const today = sayDate(now, zone, now);
  const ids = useMemo(() => [...mine, ...others].map((row) => row.id), [mine, others]);
  const choosing = useChoosing(ids);
  const groups: [string, (due: number | null) => boolean][] = [
    ["Late", (due) => due !== null && due < now],
    ["Today", (due) => due !== null && due >= now && sayDate(due, zone, now) === today],
    ["This week", (due) => due !== null && due >= now && sayDate(due, zone, now) !== today && due < now + WEEK],
    ["Later", (due) => due !== null && due >= now + WEEK],
    ["Without a date", (due) => due === null],
  ];
  const late = mine.filter((row) => row.dueAt !== null && row.dueAt < now).length;
  const [next] = others.filter((row) => row.dueAt !== null && row.dueAt >= now);
  const expected = next?.dueAt ? `the next expected ${sayInstant(next.dueAt, zone, now)}` : "";
  return (
    <div className="px-4 py-5 md:px-6">
      <div className="flex flex-wrap items-start gap-3">
        <div className="mr-auto">
          <h1>{more ? `More than ${mine.length} pieces wait on you` : heading(mine.length)}</h1>
          <p className="mt-1 text-13 text-rail">
            {mine.length === 0
              ? expected
                ? `You are free; ${expected}.`
                : "Nobody waits for you, and you wait for nobody."
              : late === 0
                ? "None is late."
                : late === 1
                  ? "One is late."
                  : `${late} are late.`}
          </p>
        </div>
        {mayBegin && <ButtonLink to="/pieces/new">New piece</ButtonLink>}
      </div>
      {groups.map(([name, belongs]) => (
        <Group
          key={name}
          name={name}
          red={name === "Late"}
          rows={mine.filter((row) => belongs(row.dueAt))}
          choosing={choosing}
        />
      ))}
      {more && <p className="mt-3 text-13 text-rail">More wait behind these; they appear as you go on.</p>}
      {others.length > 0 && (
        <section className="mt-5">
          <h2 className="flex gap-2 border-b border-ink pb-1.5">
            You wait for others
            <span className="font-normal text-rail">
              {[`${others.length} piece${others.length === 1 ? "" : "s"}`, expected].filter(Boolean).join(", ")}
            </span>
          </h2>
          <ul>
            {others.map((row) => (
              <TurnRow key={row.id} row={row} asked={null} choosing={choosing} />
            ))}
          </ul>
        </section>
      )}
      <ChosenBar choosing={choosing} shown={ids} />
    </div>
  );
}

type Row = Route.ComponentProps["loaderData"]["mine"][number];

function Group({ name, red, rows, choosing }: { name: string; red: boolean; rows: Row[]; choosing: Choosing }) {
  if (rows.length === 0) return null;
  return (
    <section className="mt-5">
      <h2 className={`border-b border-ink pb-1.5 ${red ? "text-red" : ""}`}>{name}</h2>
      <ul>
        {rows.map((row) => (
          <TurnRow key={row.id} row={row} asked={row.asked} choosing={choosing} />
        ))}
      </ul>
    </section>
  );
}

const NUMBERS = [
  "Nothing waits",
  "One piece waits",
  "Two pieces wait",
  "Three pieces wait",
  "Four pieces wait",
  "Five pieces wait",
  "Six pieces wait",
  "Seven pieces wait",
  "Eight pieces wait",
  "Nine pieces wait",
];
const heading = (count: number) => `${NUMBERS[count] ?? `${count} pieces wait`} on you`;
