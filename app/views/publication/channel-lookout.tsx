import { useState } from "react";
import { Hidden, Input, NumberField } from "#app/ui/field.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Option, OptionGroup, Select, SelectField } from "#app/ui/select.tsx";
import type { ChannelData } from "./channel-data.ts";

/** What a team looks out for in what leaves through a channel. */
export function ChannelLookout({ chosen: { lookout }, kinds, sections, fields }: ChannelData) {
  return (
    <>
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
        defaultValue={lookout.perDay ?? ""}
      />
      <NumberField
        label="Two of a kind closer than"
        name="apart"
        min={1}
        step={1}
        unit="hours"
        defaultValue={lookout.apart ?? ""}
      />
      <SelectField label="Two on a day that say the same in" name="subject" defaultValue={lookout.subject ?? ""}>
        <Option value="">nothing</Option>
        {fields.map(({ key, name }) => (
          <Option key={key} value={key}>
            {name}
          </Option>
        ))}
      </SelectField>
      <Rhythms lookout={lookout} kinds={kinds} sections={sections} />
    </>
  );
}

/** How often something should leave: a row each, and one more to be filled. */
function Rhythms({
  lookout,
  kinds,
  sections,
}: Pick<ChannelData, "kinds" | "sections"> & Pick<ChannelData["chosen"], "lookout">) {
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
