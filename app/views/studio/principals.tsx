import { Button } from "#app/ui/button.tsx";
import { Option, OptionGroup, Select } from "#app/ui/select.tsx";
import type { People } from "#core/people/document.ts";
import { type Principal, sayPrincipal } from "#core/people/principals.ts";

/** A principal in words, as the studio lists it. */
export const sayWho = (principal: Principal, { roles, people }: People): string =>
  sayPrincipal(principal, {
    role: (key) => roles.find((role) => role.key === key)?.name ?? `${key} (gone)`,
    person: (key) => {
      const person = people.find((one) => one.key === key);
      return person ? `${person.name}${person.active ? "" : " (left)"}` : `${key} (gone)`;
    },
  });

/** A list of people and roles, each taken out by its button, more put in by the choice at its end. */
export function Principals({
  label,
  value,
  people,
  generic = ["author", "assignee", "anyone"],
  leastBusy = false,
  locked,
  onChange,
}: {
  label: string;
  value: readonly Principal[];
  people: People;
  generic?: readonly Principal[];
  /** Whether the least busy of a role can be meant. */
  leastBusy?: boolean;
  locked: boolean;
  onChange(next: Principal[]): void;
}) {
  const free = (principal: Principal) => !value.includes(principal);
  const choices = (principals: readonly Principal[]) =>
    principals.map((principal) => (
      <Option key={principal} value={principal}>
        {sayWho(principal, people)}
      </Option>
    ));
  const working = people.people.filter((person) => person.active);
  return (
    <fieldset className="py-1.5" disabled={locked}>
      <legend className="float-left mr-2 text-13 text-rail">{label}</legend>
      <span className="flex flex-wrap items-center justify-end gap-x-2 gap-y-1">
        {value.length === 0 && <span className="text-13">nobody</span>}
        {value.map((principal) => (
          <Button
            look="bare"
            key={principal}
            type="button"
            title={`Take ${sayWho(principal, people)} out`}
            aria-label={`Take ${sayWho(principal, people)} out of ${label}`}
            className="group rounded px-1 text-13 font-semibold hover:bg-platform"
            onClick={() => onChange(value.filter((one) => one !== principal))}
          >
            {sayWho(principal, people)}
            <span aria-hidden="true" className="pl-1 font-normal text-rail group-hover:text-ink">
              ×
            </span>
          </Button>
        ))}
        <Select
          aria-label={`Add to ${label}`}
          value=""
          className="w-18"
          onChoose={(added) => onChange([...value, added])}
        >
          <Option value="">add …</Option>
          {choices(generic.filter(free))}
          <OptionGroup label="Roles">
            {choices(people.roles.map((role) => `role:${role.key}`).filter(free))}
          </OptionGroup>
          {leastBusy && (
            <OptionGroup label="The least busy of">
              {choices(people.roles.map((role) => `least-busy:${role.key}`).filter(free))}
            </OptionGroup>
          )}
          <OptionGroup label="People">
            {choices(working.map((person) => `person:${person.key}`).filter(free))}
          </OptionGroup>
        </Select>
      </span>
    </fieldset>
  );
}
