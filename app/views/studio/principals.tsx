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
  const working = people.people.filter((person) => person.active);
  return (
    <fieldset className="py-1.5" disabled={locked}>
      <legend className="float-left mr-2 text-13 text-rail">{label}</legend>
      <span className="flex flex-wrap items-center justify-end gap-x-2 gap-y-1">
        {value.length === 0 && <span className="text-13">nobody</span>}
        {value.map((principal) => (
          <button
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
          </button>
        ))}
        <select
          aria-label={`Add to ${label}`}
          value=""
          className="h-6 w-16 rounded border border-track bg-paper px-1 text-12"
          onChange={(event) => onChange([...value, event.target.value])}
        >
          <option value="">add …</option>
          <Choices principals={generic.filter(free)} people={people} />
          <optgroup label="Roles">
            <Choices principals={people.roles.map((role) => `role:${role.key}`).filter(free)} people={people} />
          </optgroup>
          {leastBusy && (
            <optgroup label="The least busy of">
              <Choices principals={people.roles.map((role) => `least-busy:${role.key}`).filter(free)} people={people} />
            </optgroup>
          )}
          <optgroup label="People">
            <Choices principals={working.map((person) => `person:${person.key}`).filter(free)} people={people} />
          </optgroup>
        </select>
      </span>
    </fieldset>
  );
}

function Choices({ principals, people }: { principals: readonly Principal[]; people: People }) {
  return principals.map((principal) => (
    <option key={principal} value={principal}>
      {sayWho(principal, people)}
    </option>
  ));
}
