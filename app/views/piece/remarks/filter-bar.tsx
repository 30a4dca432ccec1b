import { useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Popover } from "#app/ui/layers.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { EVERYTHING_OPEN, type Filter, type Thread } from "./remarks.ts";

const SHOWN: readonly (readonly [Filter["show"], string])[] = [
  ["open", "open ones"],
  ["all", "all"],
  ["mine", "where I spoke"],
  ["kept", "what I keep back"],
];

/** Which remarks are shown, in words that open what can be chosen. */
export function FilterBar({
  threads,
  filter,
  onFilter,
}: {
  threads: readonly Thread[];
  filter: Filter;
  onFilter(filter: Filter): void;
}) {
  const [open, setOpen] = useState(false);
  if (threads.length === 0) return null;
  const unique = (values: (string | number | null)[]) =>
    [...new Set(values.flatMap((one) => (one === null ? [] : [String(one)])))].toSorted();
  const [kinds, people, rounds] = [
    unique(threads.map((one) => one.kind)),
    unique(threads.map((one) => one.author)),
    unique(threads.map((one) => one.round)),
  ];
  const words = [
    SHOWN.find(([key]) => key === filter.show)?.[1],
    filter.kind,
    filter.person,
    filter.round && `round ${filter.round}`,
  ];
  return (
    <p className="text-13 text-rail">
      Shown:{" "}
      <Popover
        label="Which remarks are shown"
        open={open}
        onOpen={setOpen}
        trigger={
          <Button type="button" look="word">
            {words.filter(Boolean).join(", ")}
          </Button>
        }
      >
        <div className="w-60 space-y-2">
          <SelectField
            label="Which"
            look="small"
            value={filter.show}
            onChoose={(show) => onFilter({ ...filter, show: show as Filter["show"] })}
          >
            {SHOWN.map(([key, name]) => (
              <Option key={key} value={key}>
                {name}
              </Option>
            ))}
          </SelectField>
          <Narrow
            label="Sort"
            all="every sort"
            values={kinds}
            value={filter.kind}
            onChoose={(kind) => onFilter({ ...filter, kind })}
          />
          <Narrow
            label="Whose"
            all="everybody's"
            values={people}
            value={filter.person}
            onChoose={(person) => onFilter({ ...filter, person })}
          />
          <Narrow
            label="Round"
            all="every round"
            values={rounds}
            value={filter.round}
            onChoose={(round) => onFilter({ ...filter, round })}
          />
          <Button type="button" look="word" onClick={() => onFilter(EVERYTHING_OPEN)}>
            Only the open ones
          </Button>
        </div>
      </Popover>
    </p>
  );
}

function Narrow({
  label,
  all,
  values,
  value,
  onChoose,
}: {
  label: string;
  all: string;
  values: readonly string[];
  value: string;
  onChoose(value: string): void;
}) {
  if (values.length === 0) return null;
  return (
    <SelectField label={label} look="small" value={value} onChoose={onChoose}>
      <Option value="">{all}</Option>
      {values.map((one) => (
        <Option key={one} value={one}>
          {one}
        </Option>
      ))}
    </SelectField>
  );
}
