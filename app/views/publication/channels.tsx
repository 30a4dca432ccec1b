import { type PointerEvent, useState } from "react";
import { Link } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Hidden, Input, NumberField, TextArea, TextField } from "#app/ui/field.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Option, OptionGroup, Select, SelectField } from "#app/ui/select.tsx";
import { CalendarFile } from "#app/views/lists/calendar-file.tsx";
import { When } from "#app/views/time/clock.tsx";
import { type WindowsText, withHours, writeWindowsForm } from "#core/release/window-form.ts";
import { WEEKDAYS } from "#core/time/calendar.ts";
import { minutesOf, readHours } from "#core/time/hours.ts";
import { capital, counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/publication-channels.ts";

type Data = Route.ComponentProps["loaderData"];
type Answer =
  | (FormAnswer & { moves?: { slug: string; title: string; at: number; to: number | null }[]; moved?: number })
  | null;

const NAMES = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
/** What is drawn by pointer ends at such minutes. */
const STEP = 30;
const DAY = 1440;

/** The reader site: when anything may leave, what the team looks out for, and what a change would move. */
export function ChannelsView({ page, answer }: { page: Data; answer: Answer }) {
  const { site } = page;
  return (
    <Page
      title="Channels"
      about="Where pieces go. A release leaves when its channel lets it: at the time wished for, or when the next window opens."
    >
      <Channel key={site.revision} page={page} answer={answer} />
      <CalendarFile
        title="What leaves, as a calendar"
        about="When each planned piece leaves, in any calendar that reads iCalendar."
        address={page.calendar}
        answer={answer}
      />
    </Page>
  );
}

function Channel({ page: { site, kinds, sections, fields }, answer }: { page: Data; answer: Answer }) {
  const text = writeWindowsForm(site.windows);
  const [week, setWeek] = useState(text.week);
  const busy = useBusy();
  const intent = answer?.intent ?? "";
  const errors = fieldErrors(answer, intent);
  return (
    <ActionForm
      intent="save"
      label="The reader site"
      answer={answer && { ...answer, intent: "save" }}
      sends={{ revision: String(site.revision), seen: String(answer?.moves?.length ?? "") }}
      className="mt-5"
    >
      <div className="grid max-w-260 items-start gap-x-12 gap-y-6 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
        <div className="space-y-4">
          <TextField label="Name" name="name" required maxLength={80} defaultValue={site.name} />
          <fieldset>
            <legend className="mb-1 text-13 font-semibold">When anything may leave ({site.windows.zone})</legend>
            <p className="mb-2 text-12 text-rail">
              As 06:00-22:00, or 22:00-06:00 past midnight; empty on a closed day, 00:00-24:00 for all of it. Draw on a
              day’s line to add hours.
            </p>
            {WEEKDAYS.map((day, i) => (
              <DayHours
                key={day}
                day={day}
                name={NAMES[i] ?? day}
                week={week}
                error={errors[day]}
                onChange={(hours) => setWeek({ ...week, [day]: hours })}
              />
            ))}
          </fieldset>
          <NumberField
            label="Between two releases at least"
            name="spacing"
            min={0}
            max={1440}
            step={1}
            unit="minutes"
            defaultValue={text.spacing}
          />
          <TextArea
            label="Days on which nothing leaves, one a line"
            name="closed"
            rows={3}
            defaultValue={text.closed}
            hint="As 2026-12-24."
          />
          <TextArea
            label="Hours on which nothing leaves, one a line"
            name="blackouts"
            rows={2}
            defaultValue={text.blackouts}
            hint="As 2026-12-01 10:00 - 2026-12-01 18:00."
          />
        </div>
        <div className="space-y-4">
          <h2 className="border-b border-ink pb-1.5">What to look out for</h2>
          <Aside>
            The schedule shows it, with the way there. Nothing is held back by it. Leave empty what is not looked for.
          </Aside>
          <NumberField
            label="More on a day than"
            name="perDay"
            min={1}
            step={1}
            unit="pieces"
            defaultValue={site.lookout.perDay ?? ""}
          />
          <NumberField
            label="Two of a kind closer than"
            name="apart"
            min={1}
            step={1}
            unit="hours"
            defaultValue={site.lookout.apart ?? ""}
          />
          <SelectField
            label="Two on a day that say the same in"
            name="subject"
            defaultValue={site.lookout.subject ?? ""}
          >
            <Option value="">nothing</Option>
            {fields.map(({ key, name }) => (
              <Option key={key} value={key}>
                {name}
              </Option>
            ))}
          </SelectField>
          <Rhythms lookout={site.lookout} kinds={kinds} sections={sections} />
          <Button look="go" busy={busy}>
            {answer?.moves?.length ? "Keep it, and move these" : "Keep it"}
          </Button>
          {answer?.moved !== undefined && (
            <Status>
              Kept.{" "}
              {answer.moved > 0 ? `${capital(counted(answer.moved, "planned release"))} moved.` : "No release moved."}
            </Status>
          )}
          {answer?.moves && answer.moves.length > 0 && <Moves moves={answer.moves} />}
        </div>
      </div>
    </ActionForm>
  );
}

/** The hours of one day: written, and drawn beside; what began the day before reaches in. */
function DayHours({
  day,
  name,
  week,
  error,
  onChange,
}: {
  day: (typeof WEEKDAYS)[number];
  name: string;
  week: WindowsText["week"];
  error: string | undefined;
  onChange(hours: string): void;
}) {
  const [drawn, setDrawn] = useState<{ from: number; until: number } | null>(null);
  const before = WEEKDAYS[(WEEKDAYS.indexOf(day) + 6) % 7] ?? day;
  const at = (event: PointerEvent<HTMLElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    return Math.min(DAY, Math.max(0, Math.round((((event.clientX - left) / width) * DAY) / STEP) * STEP));
  };
  const spans = [
    ...spansOf(week[day], week[before]),
    ...(drawn ? [[Math.min(drawn.from, drawn.until), Math.max(drawn.from, drawn.until)] as const] : []),
  ];
  return (
    <div className="mb-1">
      <div className="grid grid-cols-[84px_minmax(0,1fr)] items-center gap-x-3 sm:grid-cols-[84px_170px_minmax(0,1fr)]">
        <label htmlFor={`hours-${day}`} className="text-13">
          {name}
        </label>
        <Input
          id={`hours-${day}`}
          look="small"
          name={day}
          value={week[day]}
          placeholder="closed"
          aria-invalid={error ? true : undefined}
          aria-describedby={error ? `hours-${day}-error` : undefined}
          onChange={(event) => onChange(event.target.value)}
          className="w-full"
        />
        <div
          aria-hidden="true"
          className="relative h-5 cursor-crosshair touch-none border-x border-track bg-platform max-sm:hidden"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setDrawn({ from: at(event), until: at(event) });
          }}
          onPointerMove={(event) => drawn && setDrawn({ ...drawn, until: at(event) })}
          onPointerUp={() => {
            if (drawn)
              onChange(withHours(week[day], Math.min(drawn.from, drawn.until), Math.max(drawn.from, drawn.until)));
            setDrawn(null);
          }}
        >
          {[6, 12, 18].map((hour) => (
            <span
              key={hour}
              className="absolute inset-y-0 border-l border-track"
              style={{ left: `${(hour / 24) * 100}%` }}
            />
          ))}
          {spans.map(([from, until]) => (
            <span
              key={`${from} ${until}`}
              className="absolute inset-y-0.5 bg-blue"
              style={{ left: `${(from / DAY) * 100}%`, width: `${((until - from) / DAY) * 100}%` }}
            />
          ))}
        </div>
      </div>
      {error && (
        <p id={`hours-${day}-error`} className="text-13 font-semibold text-red sm:pl-24">
          {error}
        </p>
      )}
    </div>
  );
}

/** The open stretches of a day in minutes, with what reaches in from the day before. */
function spansOf(hours: string, before: string): (readonly [number, number])[] {
  const read = (text: string) =>
    (readHours(text) ?? []).map(([from, until]) => [minutesOf(from), minutesOf(until)] as const);
  const today = read(hours).flatMap(([from, until]) => [
    from < until ? ([from, until] as const) : ([from, DAY] as const),
  ]);
  const night = read(before).flatMap(([from, until]) => (from >= until && until > 0 ? [[0, until] as const] : []));
  return [...today, ...night].filter(([from, until]) => from < until && until <= DAY);
}

/** How often something should leave: a row each, and one more to be filled. */
function Rhythms({
  lookout,
  kinds,
  sections,
}: Pick<Data, "kinds" | "sections"> & { lookout: Data["site"]["lookout"] }) {
  const [rows, setRows] = useState(() =>
    lookout.rhythms.map((one) => ({ of: `${one.of} ${one.id}`, days: String(one.days) })),
  );
  const shown = [...rows, { of: "", days: "7" }];
  const change = (i: number, row: { of: string; days: string }) =>
    setRows(shown.with(i, row).filter((one) => one.of !== ""));
  return (
    <fieldset>
      <legend className="mb-1 text-13 font-semibold">One at least in so many days</legend>
      {shown.map((row, i) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is known by its place
          key={i}
          className="mb-1 flex items-center gap-2 text-13"
        >
          <Select
            name="rhythmOf[]"
            aria-label={`Of what, ${i + 1}`}
            value={row.of}
            onChoose={(of) => change(i, { ...row, of })}
            className="min-w-0 flex-1"
          >
            <Option value="">{i < rows.length ? "no more" : "of what"}</Option>
            <Option value="all ">anything</Option>
            <OptionGroup label="Kinds">
              {kinds.map(({ id, name }) => (
                <Option key={id} value={`kind ${id}`}>
                  {name}
                </Option>
              ))}
            </OptionGroup>
            <OptionGroup label="Sections">
              {sections.map(({ id, name }) => (
                <Option key={id} value={`section ${id}`}>
                  {name}
                </Option>
              ))}
            </OptionGroup>
          </Select>
          {row.of === "" ? (
            <Hidden name="rhythmDays[]" value="" />
          ) : (
            <span className="flex items-center gap-1.5">
              in
              <Input
                look="small"
                type="number"
                min={1}
                max={366}
                name="rhythmDays[]"
                aria-label={`In how many days, ${i + 1}`}
                value={row.days}
                onChange={(event) => change(i, { ...row, days: event.target.value })}
                className="w-16!"
              />
              days
            </span>
          )}
        </div>
      ))}
    </fieldset>
  );
}

/** The planned releases other windows would move. */
const Moves = ({ moves }: { moves: NonNullable<NonNullable<Answer>["moves"]> }) => (
  <Part title={`${capital(counted(moves.length, "planned release"))} would move`} role="status">
    <Rows className="" aria-label="What would move">
      {moves.slice(0, 20).map((one) => (
        <Row key={one.slug} className="grid grid-cols-[minmax(0,1fr)_auto] gap-3 py-1 text-13">
          <Link to={`/pieces/${one.slug}`} className="truncate font-semibold hover:text-blue">
            {one.title}
          </Link>
          <span>
            <When at={one.at} /> → {one.to === null ? "never" : <When at={one.to} />}
          </span>
        </Row>
      ))}
    </Rows>
  </Part>
);
