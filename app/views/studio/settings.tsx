import { type ReactNode, useEffect, useId, useState } from "react";
import { DayInput } from "#app/ui/date-field.tsx";
import { Area, Checkbox, Input, NumberInput } from "#app/ui/field.tsx";
import { Option, Select } from "#app/ui/select.tsx";

/** A heading over settings. */
export function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h3 className="mb-1 border-b border-rule pb-1 text-13 font-semibold text-rail">{title}</h3>
      <div className="divide-y divide-rule">{children}</div>
    </section>
  );
}

interface Named {
  label: string;
  /** Whether a long name may take two lines: where the control keeps its width. */
  wraps?: boolean;
  children(id: string): ReactNode;
}

/** A setting: its name on the left, its control on the right. */
export function Setting({ label, wraps = false, children }: Named) {
  const id = useId();
  return (
    <div className="flex min-h-8 items-center justify-between gap-3 py-1">
      <label htmlFor={id} className={`text-13 text-rail ${wraps ? "min-w-0" : "shrink-0"}`}>
        {label}
      </label>
      {children(id)}
    </div>
  );
}

/** What every setting is given. */
interface Given<T> {
  label: string;
  value: T;
  locked: boolean;
  onChange(next: T): void;
}

/** Words that may not be empty: what is typed counts once there is something, and is put back where nothing is left. */
export function NameSetting({ label, value, locked, onChange }: Given<string>) {
  const [typed, setTyped] = useState(value);
  useEffect(() => setTyped(value), [value]);
  return (
    <Setting label={label}>
      {(id) => (
        <Input
          look="small"
          id={id}
          value={typed}
          maxLength={80}
          disabled={locked}
          className="w-full max-w-52 font-semibold"
          onChange={(event) => {
            setTyped(event.target.value);
            if (event.target.value.trim()) onChange(event.target.value);
          }}
          onBlur={() => setTyped(value)}
        />
      )}
    </Setting>
  );
}

/** A few words that may be missing. */
export function TextSetting({ label, value, locked, onChange, placeholder }: Given<string> & { placeholder?: string }) {
  const id = useId();
  return (
    <div className="py-1.5">
      <label htmlFor={id} className="block text-13 text-rail">
        {label}
      </label>
      <Area
        id={id}
        value={value}
        maxLength={500}
        disabled={locked}
        placeholder={placeholder}
        look="small"
        className="min-h-8! w-full resize-none"
        onChange={(event) => onChange(event.target.value)}
      />
    </div>
  );
}

/** A choice of one. */
export function ChoiceSetting<T extends string>({
  label,
  value,
  options,
  locked,
  onChange,
}: Given<T> & { options: readonly (readonly [T, string])[] }) {
  return (
    <Setting label={label}>
      {(id) => (
        <Select id={id} value={value} disabled={locked} className="max-w-52" onChoose={(value) => onChange(value as T)}>
          {options.map(([key, words]) => (
            <Option key={key} value={key}>
              {words}
            </Option>
          ))}
        </Select>
      )}
    </Setting>
  );
}

/** Yes or no. */
export function YesSetting({ label, value, locked, onChange }: Given<boolean>) {
  return (
    <Setting label={label} wraps>
      {(id) => (
        <Checkbox id={id} checked={value} disabled={locked} onChange={(event) => onChange(event.target.checked)} />
      )}
    </Setting>
  );
}

/** A whole number, at least one. */
export function NumberSetting({ label, value, locked, onChange }: Given<number>) {
  return (
    <Setting label={label}>
      {(id) => (
        <NumberInput
          id={id}
          min={1}
          max={50}
          value={value}
          disabled={locked}
          onChange={(event) => {
            const next = event.target.valueAsNumber;
            if (Number.isInteger(next) && next >= 1 && next <= 50) onChange(next);
          }}
        />
      )}
    </Setting>
  );
}

const UNITS = [
  ["wd", "working days"],
  ["wh", "working hours"],
  ["d", "days"],
  ["h", "hours"],
] as const;

/** A length of work, or none. */
export function TakeSetting({ label, value, locked, onChange }: Given<string | undefined>) {
  const unit = value?.replace(/[\d.]/g, "") ?? "wd";
  const amount = value ? Number.parseFloat(value) : "";
  return (
    <Setting label={label} wraps>
      {(id) => (
        <span className="flex shrink-0 gap-1">
          <NumberInput
            id={id}
            min={0}
            max={9999}
            value={amount}
            disabled={locked}
            placeholder="none"
            onChange={(event) => {
              const next = event.target.valueAsNumber;
              if (Number.isNaN(next)) onChange(undefined);
              else if (next >= 0 && next <= 9999) onChange(`${Math.round(next)}${unit}`);
            }}
          />
          <Select
            aria-label={`${label}, in`}
            value={unit}
            disabled={locked || value === undefined}
            className="w-32"
            onChoose={(value) => onChange(`${amount || 1}${value}`)}
          >
            {UNITS.map(([key, words]) => (
              <Option key={key} value={key}>
                {words}
              </Option>
            ))}
          </Select>
        </span>
      )}
    </Setting>
  );
}

/** A day, or none. */
export function DateSetting({ label, value, locked, onChange }: Given<string | undefined>) {
  return (
    <Setting label={label}>
      {(id) => (
        <DayInput
          look="small"
          id={id}
          value={value ?? ""}
          disabled={locked}
          onChange={(value) => onChange(value || undefined)}
        />
      )}
    </Setting>
  );
}
