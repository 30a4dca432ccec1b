import { asc } from "drizzle-orm";
import { pathName } from "#core/sections/tree.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

/** What the schedule is ordered and narrowed by: sections, kinds, and the people who write. */
export async function scheduleChoices(db: Queryable, viewer: Viewer) {
  const [kinds, people] = await Promise.all([
    db.select({ id: kind.id, key: kind.key, name: kind.name }).from(kind).orderBy(asc(kind.name)),
    db.select({ id: person.id, name: person.name }).from(person).orderBy(asc(person.name)),
  ]);
  const sections = [...viewer.places.sections.values()].map(({ id, key }) => ({
    id,
    key,
    name: pathName(viewer.places, id),
  }));
  return { kinds, people, sections: sections.sort((a, b) => a.name.localeCompare(b.name)) };
}

/** Fields that hold a few words, by which two pieces can be on one subject. */
export async function subjectFields(db: Queryable) {
  const rows = await db.select({ fields: kind.fields }).from(kind);
  const some = rows.flatMap((row) => row.fields.filter(({ type }) => type === "line" || type === "choice"));
  return [...new Map(some.map(({ key, name }) => [key, { key, name }])).values()].sort((a, b) =>
    a.name.localeCompare(b.name),
  );
}
