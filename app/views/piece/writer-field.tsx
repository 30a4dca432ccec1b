import type { ComponentProps } from "react";
import { NamedField } from "#app/ui/select.tsx";

interface Writer {
  id: string;
  name: string;
  load: number;
  away: boolean;
}

/** Who writes something, the least busy first, each with what they have and whether they are away. */
export const WriterField = ({
  writers,
  ...rest
}: Omit<ComponentProps<typeof NamedField>, "label" | "none" | "options"> & { writers: readonly Writer[] }) => (
  <NamedField
    label="Who writes it"
    name="writerId"
    none="I do"
    options={writers.map(({ id, name, load, away }) => ({
      id,
      name: `${name} (${load === 0 ? "nothing open" : `${load} open`}${away ? ", away" : ""})`,
    }))}
    {...rest}
  />
);
