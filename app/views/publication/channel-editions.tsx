import { useState } from "react";
import { DayField } from "#app/ui/date-field.tsx";
import { Checkbox, FieldSet, Hidden, NumberField, TextArea, TextField } from "#app/ui/field.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Option, Select, SelectField } from "#app/ui/select.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { WEEKDAYS } from "#core/time/calendar.ts";
import { linesOf } from "#core/time/hours.ts";
import { localDate } from "#core/time/local.ts";
import type { ChannelData } from "./channel-data.ts";
import { DAY_NAMES } from "./channel-hours.tsx";

const MONTHLY = { every: "month", day: 1, at: "07:00", apart: 1 } as const;

/** Whether a channel gathers editions, and how: when they leave, in which parts, how long, and what belongs in. */
export function ChannelEditions({ chosen, kinds, sections, nextNumber }: ChannelData) {
  const plan = chosen.editions;
  const [gathers, setGathers] = useState(plan !== null);
  const [every, setEvery] = useState<string>(plan ? (plan.rhythm?.every ?? "") : "week");
  const [parts, setParts] = useState(plan?.parts.map((part) => part.name).join("\n") ?? "News");
  return (
    <>
      <h2 className="border-b border-ink pb-1.5">Editions</h2>
      <SelectField
        label="Pieces leave"
        name="gathers"
        value={gathers ? "editions" : ""}
        onChoose={(next) => setGathers(next !== "")}
      >
        <Option value="">one by one</Option>
        <Option value="editions">together, as an edition</Option>
      </SelectField>
      {gathers && (
        <>
          <div className="grid grid-cols-[minmax(0,1fr)_auto] gap-4">
            <TextField
              label="What an edition is called"
              name="called"
              maxLength={40}
              defaultValue={plan?.called ?? chosen.name}
            />
            <NumberField label="The next is number" name="nextNumber" min={1} step={1} defaultValue={nextNumber} />
          </div>
          <SelectField label="They leave" name="every" value={every} onChoose={setEvery}>
            <Option value="week">on days of the week</Option>
            <Option value="month">on a day of the month</Option>
            <Option value="">whenever one is made</Option>
          </SelectField>
          {every !== "" && <Rhythm rhythm={plan?.rhythm ?? null} every={every} />}
          <NumberField
            label="Closes before it leaves"
            name="closesBefore"
            min={0}
            step="any"
            hint="After that nothing enters without a reason. Working hours and days count by the publication’s calendar."
            defaultValue={plan?.closes ? Number.parseFloat(plan.closes) : ""}
            unit={
              <Select
                name="closesUnit"
                look="small"
                aria-label="Closes before it leaves, in"
                defaultValue={plan?.closes?.replace(/^[\d.]+/, "") ?? "wh"}
              >
                <Option value="wh">working hours</Option>
                <Option value="wd">working days</Option>
                <Option value="h">hours</Option>
                <Option value="d">days</Option>
              </Select>
            }
          />
          <NumberField
            label="Should hold"
            name="target"
            min={1}
            step={1}
            defaultValue={plan?.target?.number ?? ""}
            unit={
              <Select
                name="targetUnit"
                look="small"
                aria-label="Should hold, in"
                defaultValue={plan?.target?.unit ?? "words"}
              >
                <Option value="words">words</Option>
                <Option value="items">pieces</Option>
              </Select>
            }
          />
          {plan?.parts.map((part) => (
            <Hidden key={part.key} name="partsKnown[]" value={`${part.key} ${part.name}`} />
          ))}
          <TextArea
            label="Its parts, one a line, in order"
            name="parts"
            rows={3}
            maxLength={1_000}
            value={parts}
            onChange={(event) => setParts(event.target.value)}
          />
          <Takes takes={plan?.takes ?? []} known={plan?.parts ?? []} parts={linesOf(parts)} {...{ kinds, sections }} />
        </>
      )}
    </>
  );
}

type Plan = NonNullable<ChannelData["chosen"]["editions"]>;

function Rhythm({ rhythm, every }: { rhythm: Plan["rhythm"]; every: string }) {
  const { now, zone } = useClock();
  const weekly = rhythm?.every === "week" ? rhythm : null;
  const monthly = rhythm?.every === "month" ? rhythm : MONTHLY;
  return (
    <>
      {every === "week" ? (
        <FieldSet legend="On" name="days">
          <div className="flex flex-wrap gap-x-4">
            {WEEKDAYS.map((day, i) => (
              <Checkbox key={day} name="days[]" value={day} defaultChecked={weekly?.days.includes(day) ?? false}>
                {DAY_NAMES[i]}
              </Checkbox>
            ))}
          </div>
        </FieldSet>
      ) : (
        <NumberField
          label="On day"
          name="day"
          min={1}
          max={31}
          step={1}
          unit="of the month, or its last"
          defaultValue={monthly.day}
        />
      )}
      <div className="flex flex-wrap gap-4">
        <TextField
          label="At"
          name="at"
          maxLength={5}
          placeholder="07:00"
          className="w-24!"
          defaultValue={rhythm?.at ?? "07:00"}
        />
        <NumberField
          label="Every"
          name="weeks"
          min={1}
          max={12}
          step={1}
          unit={every === "week" ? "weeks" : "months"}
          defaultValue={rhythm?.apart ?? 1}
        />
        <DayField label="Counted from" name="since" defaultValue={rhythm?.since ?? localDate(now, zone)} />
      </div>
    </>
  );
}

/** What belongs into an edition: a row each, and one more to be filled. */
function Takes({
  takes,
  known,
  parts,
  kinds,
  sections,
}: Pick<ChannelData, "kinds" | "sections"> & Pick<Plan, "takes"> & { known: Plan["parts"]; parts: readonly string[] }) {
  const [rows, setRows] = useState(() =>
    takes.map(({ kind, section, part }) => ({
      kind: kind ?? "",
      section: section ?? "",
      part: known.find((one) => one.key === part)?.name ?? "",
    })),
  );
  const shown = [...rows, { kind: "", section: "", part: parts[0] ?? "" }];
  const change = (i: number, row: (typeof rows)[number]) =>
    setRows(shown.with(i, row).filter((one) => one.kind !== "" || one.section !== ""));
  return (
    <fieldset>
      <legend className="mb-1 text-13 font-semibold">What belongs into one</legend>
      <Aside>
        Offered by “Add what is ready”, and as what could still come. The first row that fits says the part.
      </Aside>
      {shown.map((row, i) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is known by its place
          key={i}
          className="mt-1 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)] gap-2 text-13"
        >
          <Select
            name="takesOf[]"
            look="small"
            aria-label={`Of which kind, ${i + 1}`}
            value={row.kind}
            onChoose={(kind) => change(i, { ...row, kind })}
          >
            <Option value="">any kind</Option>
            {kinds.map(({ id, name }) => (
              <Option key={id} value={id}>
                {name}
              </Option>
            ))}
          </Select>
          <Select
            name="takesIn[]"
            look="small"
            aria-label={`Of which section, ${i + 1}`}
            value={row.section}
            onChoose={(section) => change(i, { ...row, section })}
          >
            <Option value="">any section</Option>
            {sections.map(({ id, name }) => (
              <Option key={id} value={id}>
                {name}
              </Option>
            ))}
          </Select>
          <Select
            name="takesPart[]"
            look="small"
            aria-label={`Into which part, ${i + 1}`}
            value={parts.includes(row.part) ? row.part : (parts[0] ?? "")}
            onChoose={(part) => change(i, { ...row, part })}
          >
            {parts.map((part) => (
              <Option key={part} value={part}>
                {part}
              </Option>
            ))}
          </Select>
        </div>
      ))}
    </fieldset>
  );
}
