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
        {by.map(({ name, every, options }) => (
          <Select
            key={`${name}-${words.get(name)}`}
            name={name}
            aria-label={every}
            defaultValue={words.get(name) ?? ""}
            className={`max-w-52 ${words.get(name) ? "border-ink! font-semibold" : ""}`}
          >
            <Option value="">{every}</Option>
            {options.map((option) => (
              <Option key={option.key} value={option.key}>
                {option.name}
              </Option>
            ))}
          </Select>
        ))}
        <Button look="quiet">Show</Button>
      </ChoiceForm>
      {narrowed && <TextLink to={`?${new URLSearchParams(others)}`}>Clear</TextLink>}
    </div>
  );
}
