import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { PickField } from "#app/ui/combobox.tsx";
import { TextArea, TextField } from "#app/ui/field.tsx";
import { When } from "#app/views/time/clock.tsx";
import { writeCalendarForm } from "#core/time/calendar-form.ts";
import type { Shift } from "#server/publication/commands.ts";

const DAYS = [
  ["mon", "Monday"],
  ["tue", "Tuesday"],
  ["wed", "Wednesday"],
  ["thu", "Thursday"],
  ["fri", "Friday"],
  ["sat", "Saturday"],
  ["sun", "Sunday"],
] as const;

/** So many shifted dates are listed; the rest are counted. */
const LISTED = 20;

interface Props {
  settings: {
    name: string;
    calendar: Parameters<typeof writeCalendarForm>[0];
    remarkKinds: string;
    revision: number;
  };
  zones: string[];
  answer: (FormAnswer & { shifts?: Shift[]; shifted?: number }) | null;
}

/** The publication's name, zone and working calendar; what a change would shift is shown before it is kept. */
export function Settings({ settings, zones, answer }: Props) {
  const busy = useBusy("save");
  const text = writeCalendarForm(settings.calendar);
  return (
    <div className="px-4 py-5 md:px-6">
      <h1>Publication</h1>
      <p className="mt-1 max-w-160 text-13 text-rail">
        Due dates and plans are counted by this calendar, in this zone. Everybody may see times in a zone of their own.
      </p>
      <ActionForm
        intent="save"
        answer={answer}
        sends={{ revision: settings.revision, seen: answer?.shifts?.length ?? "" }}
        className="mt-5 grid max-w-240 items-start gap-x-14 gap-y-6 lg:grid-cols-2"
      >
        <div className="space-y-3">
          <TextField label="Name" name="name" required maxLength={120} defaultValue={settings.name} />
          <PickField
            label="Time zone"
            name="zone"
            defaultValue={text.zone}
            choices={zones.map((one) => ({ key: one, name: one }))}
          />
          <fieldset>
            <legend className="mb-1 text-13 font-semibold">Open hours</legend>
            <div className="space-y-2">
              {DAYS.map(([day, name]) => (
                <TextField key={day} label={name} name={day} defaultValue={text.week[day]} placeholder="closed" />
              ))}
            </div>
            <p className="mt-1 text-12 text-rail">As 09:00-13:00, 14:00-17:30; empty on a closed day.</p>
          </fieldset>
        </div>
        <div className="space-y-3">
          <TextArea
            label="Closed days, one a line"
            name="closed"
            defaultValue={text.closed}
            rows={6}
            hint="As 2026-12-08."
          />
          <TextArea
            label="Days with hours of their own, one a line"
            name="special"
            defaultValue={text.special}
            hint="As 2026-12-24: 09:00-12:00."
          />
          <TextArea
            label="Sorts of remarks, one a line"
            name="remarkKinds"
            defaultValue={settings.remarkKinds}
            rows={5}
            hint="What a remark can be: a question of fact, of wording … What was said under a sort that goes stays."
          />
          <div className="flex flex-wrap gap-2">
            <Button name="only" value="look" busy={busy}>
              Show what it shifts
            </Button>
            <Button look="go" busy={busy}>
              {busy ? "One moment …" : answer?.shifts?.length ? "Keep it, and move these" : "Keep it"}
            </Button>
          </div>
          {answer?.shifted !== undefined && (
            <p role="status" className="text-13">
              Kept.{" "}
              {answer.shifted > 0
                ? `${answer.shifted} due date${answer.shifted === 1 ? "" : "s"} moved.`
                : "No due date moved."}
            </p>
          )}
          {answer?.shifts && <Shifts shifts={answer.shifts} />}
        </div>
      </ActionForm>
    </div>
  );
}

/** The due dates that would move: those the calendar gave, not those somebody chose. */
function Shifts({ shifts }: { shifts: readonly Shift[] }) {
  return (
    <section aria-label="What it shifts" role="status" className="text-13">
      <h2 className="border-b border-ink pb-1 text-15! font-bold">
        {shifts.length === 0
          ? "No due date would move"
          : `${shifts.length} due date${shifts.length === 1 ? "" : "s"} would move`}
      </h2>
      <ul>
        {shifts.slice(0, LISTED).map((one) => (
          <li key={one.id} className="grid grid-cols-[minmax(0,1fr)_auto] gap-3 border-b border-rule py-1">
            <Link to={`/pieces/${one.slug}`} className="truncate font-semibold hover:text-blue">
              {one.title}
            </Link>
            <span>
              <When at={one.before} /> → <When at={one.after} />
            </span>
          </li>
        ))}
      </ul>
      {shifts.length > LISTED && <p className="py-1 text-rail">and {shifts.length - LISTED} more.</p>}
    </section>
  );
}
