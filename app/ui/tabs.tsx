import { Tabs as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { NavLink } from "react-router";

const NAME = "whitespace-nowrap border-b-3 pb-1.5 pt-1";
const here = (yes: boolean) => (yes ? "border-blue font-semibold text-blue" : "border-transparent hover:text-blue");

/** Rooms of one place, each with an address of its own. */
export const Rooms = ({
  label,
  rooms,
}: {
  label: string;
  rooms: readonly { to: string; name: string; end?: boolean }[];
}) => (
  <nav
    aria-label={label}
    className="flex gap-x-5 overflow-x-auto border-b border-rule px-4 pt-2 text-13 md:px-6 print:hidden"
  >
    {rooms.map(({ to, name, end = false }) => (
      <NavLink key={to} to={to} end={end} className={({ isActive }) => `${NAME} ${here(isActive)}`}>
        {name}
      </NavLink>
    ))}
  </nav>
);

/** Several faces of one thing, in one place. */
export function Tabs({
  label,
  tabs,
}: {
  label: string;
  tabs: readonly { key: string; name: string; shows: ReactNode }[];
}) {
  return (
    <Radix.Root defaultValue={tabs[0]?.key ?? ""}>
      <Radix.List aria-label={label} className="flex gap-x-5 overflow-x-auto border-b border-rule text-13">
        {tabs.map(({ key, name }) => (
          <Radix.Trigger
            key={key}
            value={key}
            className={`${NAME} ${here(false)} data-[state=active]:border-blue data-[state=active]:font-semibold data-[state=active]:text-blue`}
          >
            {name}
          </Radix.Trigger>
        ))}
      </Radix.List>
      {tabs.map(({ key, shows }) => (
        <Radix.Content key={key} value={key} className="pt-3">
          {shows}
        </Radix.Content>
      ))}
    </Radix.Root>
  );
}
