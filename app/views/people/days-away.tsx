import { useNavigation } from "react-router";
import type { FoundDays } from "#app/away-form.ts";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { DayField } from "#app/ui/date-field.tsx";
import { Checkbox } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { sayDate } from "#core/time/words.ts";
import type { PersonPage } from "#server/people/queries.ts";

interface Props {
  page: Pick<PersonPage, "id" | "name" | "absences" | "standIn" | "chain" | "awayNow">;
  people: { id: string; name: string; away: boolean }[];
  answer: FormAnswer | FoundDays | null;
}

/** Days away and who stands in meanwhile, by hand or out of a calendar's file. */
export function DaysAway({ page, people, answer }: Props) {
  const { now, zone } = useClock();
  const busy = useNavigation().state !== "idle";
  const found = answer && "found" in answer ? answer.found : null;
  const date = (day: string) => sayDate(Date.parse(`${day}T12:00Z`), zone, now);
  const days = ({ from, until }: { from: string; until: string }) =>
    from === until ? date(from) : `${date(from)} to ${date(until)}`;
  return (
    <section aria-label="Days away" className="space-y-4">
      <div>
        <h2 className="border-b border-ink pb-1 text-15! font-bold">Days away</h2>
        {page.absences.length === 0 && <p className="py-1.5 text-13 text-rail">None noted.</p>}
        <ul>
          {page.absences.map((one) => (
            <li key={one.id} className="flex items-center justify-between gap-3 border-b border-rule py-1 text-13">
              <span>{days(one)}</span>
              <ActForm intent="back" answer={null} sends={{ absenceId: one.id }} className="contents">
                <Button look="quiet" aria-label={`Take away ${days(one)}`} busy={busy}>
                  Take away
                </Button>
              </ActForm>
            </li>
          ))}
        </ul>
      </div>
      <ActForm intent="away" answer={answer} className="space-y-2">
        <div className="grid grid-cols-2 gap-3">
          <DayField label="Away from" name="from" required />
          <DayField label="Last day away" name="until" required />
        </div>
        <Button busy={busy}>Note these days</Button>
      </ActForm>
      <StandIn page={page} people={people} answer={answer} busy={busy} />
      {found ? (
        <ActForm intent="days" answer={answer} className="space-y-2">
          <fieldset>
            <legend className="mb-1 text-13 font-semibold">Which of these are days away?</legend>
            {found.map((one) => (
              <Checkbox
                name="days[]"
                value={`${one.from}/${one.until}`}
                defaultChecked={one.whole}
                key={`${one.from} ${one.until} ${one.summary}`}
              >
                <span className="min-w-0 break-words">
                  {days(one)} <span className="text-rail">{one.summary}</span>
                </span>
              </Checkbox>
            ))}
          </fieldset>
          <Button look="go" busy={busy}>
            Note those chosen
          </Button>
        </ActForm>
      ) : (
        <ActForm intent="calendar" answer={answer} encType="multipart/form-data" className="space-y-2">
          <FileDrop
            label="From a calendar’s file"
            name="file"
            accept=".ics,text/calendar"
            hint="iCalendar. You choose which of its days are days away."
          />
          <Button busy={busy}>{busy ? "Reading …" : "Read it"}</Button>
        </ActForm>
      )}
    </section>
  );
}

function StandIn({ page, people, answer, busy }: Props & { busy: boolean }) {
  const { names, ends } = page.chain;
  const chain =
    names.length === 0
      ? "Nobody stands in: seats stay where they are and are marked."
      : ends === "circle"
        ? `${names.join(", then ")}: this goes in a circle, so nobody would sit.`
        : ends === "nobody"
          ? `${names.join(", then ")}, who is away too: nobody would sit.`
          : names.length === 1
            ? ""
            : `Today that leads to ${names.at(-1)}, since the others are away.`;
  return (
    <ActForm intent="stand-in" answer={answer} className="space-y-2">
      <SelectField
        key={page.standIn?.id}
        label="Who stands in meanwhile"
        name="standInId"
        defaultValue={page.standIn?.id ?? ""}
        hint={chain || undefined}
      >
        <Option value="">nobody</Option>
        {people
          .filter((one) => one.id !== page.id)
          .map((one) => (
            <Option key={one.id} value={one.id}>
              {one.away ? `${one.name} (away)` : one.name}
            </Option>
          ))}
      </SelectField>
      <Button busy={busy}>Keep</Button>
    </ActForm>
  );
}
