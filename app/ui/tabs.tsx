import { Tabs as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { Link, NavLink } from "react-router";

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

/**
 * The ways a list may be shown, each said in the address by a word; what else the address says stays.
 *
 * @param faces the first is the one that needs no word
 */
export function Faces({
  label = "How it is shown",
  word = "as",
  words,
  faces,
}: {
  label?: string;
  word?: string;
  words: URLSearchParams;
  faces: readonly (readonly [key: string, name: string])[];
}) {
  const face = faces.find(([key]) => key === words.get(word))?.[0] ?? faces[0]?.[0];
  const to = (key: string) => {
    const next = new URLSearchParams(words);
    for (const gone of ["after", "do", word]) next.delete(gone);
    if (key) next.set(word, key);
    return `?${next}`;
  };
  return (
    <nav aria-label={label} className="flex gap-5 text-13">
      {faces.map(([key, name]) => (
        <Link
          key={name}
          to={to(key)}
          preventScrollReset
          aria-current={face === key ? "page" : undefined}
          className={`${NAME} ${here(face === key)}`}
        >
          {name}
        </Link>
      ))}
    </nav>
  );
}

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
