import { pathName } from "#core/sections/tree.ts";
import type { Viewer } from "./viewer.ts";

/** Something to choose among, by name. */
export interface Named {
  id: string;
  name: string;
}

const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);

/** Everybody who works here: no guests, and nobody whose roles are all gone. */
export const colleagues = ({ roster }: Viewer): Named[] =>
  [...roster.people.values()]
    .filter((one) => one.active && !one.guest && one.grants.length > 0)
    .map(({ id, name }) => ({ id, name }))
    .sort(byName);

/** Every section, with those above it in its name. */
export const sectionNames = ({ places }: Viewer): Named[] =>
  [...places.sections.values()].map(({ id }) => ({ id, name: pathName(places, id) })).sort(byName);

/** The same by their keys, as an address names them. */
export const sectionsByKey = ({ places }: Viewer): { key: string; name: string }[] =>
  [...places.sections.values()].map(({ id, key }) => ({ key, name: pathName(places, id) })).sort(byName);

/** Every kind of piece. */
export const kindNames = ({ kinds }: Viewer): Named[] => kinds.map(({ id, name }) => ({ id, name })).sort(byName);

/** By what a list of what happens may be narrowed: sections, and everybody there is or was. */
export const narrowingChoices = (viewer: Viewer) => ({
  sections: sectionsByKey(viewer),
  people: [...viewer.roster.people.values()].map(({ id, name }) => ({ key: id, name })).sort(byName),
});
