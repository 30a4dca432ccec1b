import { Button, TextLink } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { Hidden } from "#app/ui/field.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { useWords } from "./words.ts";

/** One question a list is narrowed by. */
export interface Narrowable {
  /** Its word in the address. */
  name: string;
  /** What is said where it narrows nothing. */
  every: string;
  options: readonly { key: string; name: string }[];
}

/** One question of a form that narrows a list; marked where it does. @param said what the address says of it */
export const NarrowingSelect = ({ name, every, options, said }: Narrowable & { said: string | null }) => (
  <Select
    name={name}
    aria-label={every}
    defaultValue={said ?? ""}
    className={`max-w-52 ${said ? "border-ink! font-semibold" : ""}`}
  >
    <Option value="">{every}</Option>
    {options.map((option) => (
      <Option key={option.key} value={option.key}>
        {option.name}
      </Option>
    ))}
  </Select>
);

/** Narrows a list by what is chosen; the address says how, and it can be cleared. */
export function Narrowing({ label, by }: { label: string; by: readonly Narrowable[] }) {
  const words = useWords();
  // What else the address says stays; a list begins anew.
  const others = [...words].filter(([name]) => name !== "after" && !by.some((one) => one.name === name));
  const narrowed = by.some(({ name }) => words.get(name));
  return (
    <div className="my-3 flex flex-wrap items-center gap-2 py-1 text-13">
      <ChoiceForm label={label} className="contents">
        {others.map(([name, value]) => (
          <Hidden key={name} name={name} value={value} />
        ))}
        {by.map((one) => (
          <NarrowingSelect key={`${one.name}-${words.get(one.name)}`} said={words.get(one.name)} {...one} />
        ))}
        <Button look="quiet">Show</Button>
      </ChoiceForm>
      {narrowed && <TextLink to={`?${new URLSearchParams(others)}`}>Clear</TextLink>}
    </div>
  );
}
