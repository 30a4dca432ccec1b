import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { PickSome } from "#app/ui/combobox.tsx";
import { Checkbox, NumberField, TextArea, TextField } from "#app/ui/field.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { Page, PanelHead, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { CalendarFile } from "#app/views/lists/calendar-file.tsx";
import { When } from "#app/views/time/clock.tsx";
import { SITE } from "#core/release/channel.ts";
import { writeWindowsForm } from "#core/release/window-form.ts";
import { WEEKDAYS } from "#core/time/calendar.ts";
import { capital, counted } from "#core/words/say.ts";
import type { ChannelData } from "./channel-data.ts";
import { ChannelEditions } from "./channel-editions.tsx";
import { DAY_NAMES, DayHours } from "./channel-hours.tsx";
import { ChannelLookout } from "./channel-lookout.tsx";

type Answer =
  | (FormAnswer & { moves?: { slug: string; title: string; at: number; to: number | null }[]; moved?: number })
  | null;

const addressOf = (key: string) => `/publication/channels${key === SITE ? "" : `?channel=${key}`}`;

/** The channels: when anything may leave through one, what it gathers, who lets out, and what the team looks out for. */
export function ChannelsView({ page, answer }: { page: ChannelData; answer: Answer }) {
  const { chosen, channels } = page;
  const [words] = useSearchParams();
  const isNew = chosen.key === "";
  return (
    <Page
      title="Channels"
      about="Where pieces go. A release leaves when its channel lets it: at the time wished for, or when the next window opens."
      act={!isNew && <ButtonLink to="?channel=">A new channel</ButtonLink>}
    >
      <nav aria-label="Channels" className="mt-4 flex flex-wrap gap-x-6 gap-y-1 border-b border-ink">
        {channels.map(({ key, name }) => (
          <Link
            key={key}
            to={addressOf(key)}
            aria-current={key === chosen.key || undefined}
            className={`-mb-px max-w-60 truncate border-b-3 py-1.5 text-15 ${key === chosen.key ? "border-blue font-semibold" : "border-transparent hover:text-blue"}`}
          >
            {name}
          </Link>
        ))}
      </nav>
      <Channel key={`${chosen.key} ${chosen.revision}`} page={page} answer={answer} />
      {!isNew && (
        <CalendarFile
          title="What leaves, as a calendar"
          about="When each planned piece leaves, in any calendar that reads iCalendar."
          sends={{ key: chosen.key }}
          address={page.calendar}
          answer={answer}
        />
      )}
      {!isNew && chosen.key !== SITE && (
        <Part title="Give it up">
          {words.get("do") === "retire" ? (
            <Retire chosen={chosen} answer={answer} />
          ) : (
            <p className="mt-2">
              <ButtonLink to={`?channel=${chosen.key}&do=retire`} preventScrollReset>
                Give up {chosen.name}
              </ButtonLink>
            </p>
          )}
        </Part>
      )}
    </Page>
  );
}

function Channel({ page, answer }: { page: ChannelData; answer: Answer }) {
  const { chosen, people } = page;
  const text = writeWindowsForm(chosen.windows);
  const [week, setWeek] = useState(text.week);
  const busy = useBusy();
  const intent = answer?.intent ?? "";
  const errors = fieldErrors(answer, intent);
  const isNew = chosen.key === "";
  const saves = intent === "save" || intent === "look";
  return (
    <ActionForm
      intent="save"
      label={chosen.name || "A new channel"}
      answer={answer && saves ? { ...answer, intent: "save" } : null}
      sends={{ key: chosen.key, revision: String(chosen.revision), seen: String(answer?.moves?.length ?? "") }}
      className="mt-5"
    >
      <div className="grid max-w-260 items-start gap-x-12 gap-y-6 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
        <div className="space-y-4">
          <TextField label="Name" name="name" required maxLength={80} defaultValue={chosen.name} />
          <PickSome
            label="Who lets anything out through it"
            name="people"
            hint="Left empty, whoever may release a piece. Where it gathers editions, they are who signs them."
            choices={people.map(({ id, name }) => ({ key: id, name }))}
            defaultValue={chosen.people}
          />
          <fieldset>
            <legend className="mb-1 text-13 font-semibold">When anything may leave ({chosen.windows.zone})</legend>
            <p className="mb-2 text-12 text-rail">
              As 06:00-22:00, or 22:00-06:00 past midnight; empty on a closed day, 00:00-24:00 for all of it. Draw on a
              day’s line to add hours.
            </p>
            {WEEKDAYS.map((day, i) => (
              <DayHours
                key={day}
                day={day}
                name={DAY_NAMES[i] ?? day}
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
          <fieldset className="grid grid-cols-2 gap-x-4">
            <legend className="mb-1 text-13 font-semibold">
              What leaves through it one by one, unless one says otherwise
            </legend>
            <TextField
              label="leaves at"
              name="usualAt"
              maxLength={5}
              placeholder="07:00"
              hint="For a day without a time."
              defaultValue={chosen.usual.at ?? ""}
            />
            <NumberField
              label="is seen for"
              name="usualDays"
              min={1}
              max={3650}
              step={1}
              unit="days"
              hint="Empty: for good."
              defaultValue={chosen.usual.days ?? ""}
            />
          </fieldset>
          {chosen.key !== SITE && <ChannelEditions {...page} />}
          <ChannelLookout {...page} />
          <Button look="go" busy={busy}>
            {answer?.moves?.length ? "Keep it, and move these" : isNew ? "Make it" : "Keep it"}
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

/** Nothing is planned through a channel that was given up; what went out stays. */
function Retire({ chosen, answer }: { chosen: ChannelData["chosen"]; answer: Answer }) {
  const busy = useBusy("retire");
  return (
    <div className="mt-2 max-w-160">
      <PanelHead title={`Give up ${chosen.name}`} leave={addressOf(chosen.key)} />
      <ActionForm intent="retire" answer={answer} sends={{ key: chosen.key, revision: String(chosen.revision) }}>
        <Aside>Nothing leaves through it any more. What went out stays on record, and editions can be looked at.</Aside>
        <Checkbox name="ends" value="true">
          What is still planned through it, and its editions under way, end with it.
        </Checkbox>
        <Button busy={busy}>Give it up</Button>
      </ActionForm>
    </div>
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
