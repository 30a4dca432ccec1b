import { Option, Select } from "#app/ui/select.tsx";
import type { Named } from "#core/rules/names.ts";

/** One of some, by what they are called; or none. */
export const Among = ({
  label,
  none = "choose one",
  value,
  some,
  onChoose,
}: {
  label: string;
  none?: string;
  value: string | undefined;
  some: readonly Named[];
  onChoose(value: string): void;
}) => (
  <Select aria-label={label} value={value ?? ""} onChoose={onChoose} className="w-auto!">
    <Option value="">{none}</Option>
    {some.map((one) => (
      <Option key={one.key} value={one.key}>
        {one.name}
      </Option>
    ))}
  </Select>
);
