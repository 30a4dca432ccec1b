import { pathName } from "#core/sections/tree.ts";
import type { Queryable } from "../db/client.ts";
import { openEditions } from "../editions/queries.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { stepsFrom } from "./carry.ts";

/** What one may choose among when one does something to many pieces. */
export async function togetherChoices(db: Queryable, viewer: Viewer) {
  const [documents, editions] = await Promise.all([loadDocuments(db, viewer.revisions), openEditions(db, viewer)]);
  const steps = new Set(
    [...documents.values()].flatMap((workflow) =>
      workflow.states.flatMap((state) => stepsFrom(workflow, state.key).map((one) => one.name)),
    ),
  );
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  return {
    steps: [...steps].sort((a, b) => a.localeCompare(b)),
    editions: editions.map(({ id, name, at }) => ({ key: id, name, at })),
    people: [...viewer.roster.people.values()].map(({ id, name }) => ({ key: id, name })).sort(byName),
    sections: [...viewer.places.sections.values()]
      .map(({ id }) => ({ key: id, name: pathName(viewer.places, id) }))
      .sort(byName),
  };
}
