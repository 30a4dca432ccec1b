import { and, asc, count, eq, inArray, isNull } from "drizzle-orm";
import { z } from "zod";
import { sectionDeleted, sectionMade, sectionMoved, sectionRenamed } from "#core/events/places.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { appliedWorkflow, below, lineage, type Section } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import { freeKey } from "#core/words/keys.ts";
import { type Administering, administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import {
  accessGrant,
  intakeItem,
  person,
  personGroup,
  piece,
  requestForm,
  role,
  section,
  workflowBinding,
} from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";
import { loadPlaces, type Places } from "./places.ts";

const named = z.string().trim().min(1, "A section needs a name.").max(80, "At most 80 characters fit.");
const seen = { id: z.uuid(), revision: z.coerce.number().int() };
/** Under which section; empty for the top. */
const under = z.union([z.literal("").transform(() => null), z.uuid()]).nullable();

export const addInput = z.object({ name: named, parentId: under });

/** Makes a section, at the end of those beside it. */
export function addSection(act: Act, wanted: z.output<typeof addInput>): Promise<Result<{ id: string }>> {
  return administering(act, "section.edit", async (change) => {
    const places = await loadPlaces(change.tx);
    if (wanted.parentId && !places.sections.has(wanted.parentId)) return refuse(GONE);
    if (nameTaken(places, wanted.name, wanted.parentId, "")) return refuse(TAKEN);
    const key = freeKey(wanted.name, [...places.sections.values()], "section");
    const row = { id: newId(), key, ...wanted, position: childrenOf(places, wanted.parentId).length };
    await change.tx.insert(section).values(row);
    change.happened(sectionMade, { name: wanted.name, under: nameOf(places, wanted.parentId) }, { subjectId: row.id });
    return accept({ id: row.id });
  });
}

export const renameInput = z.object({ ...seen, name: named });

/** Renames a section. */
export function renameSection(act: Act, wanted: z.output<typeof renameInput>): Promise<Result<null>> {
  return administering(act, "section.edit", async (change) => {
    const found = await lockSection(change, wanted);
    if (!found.ok) return found;
    const { name, parentId, revision } = found.value;
    if (nameTaken(await loadPlaces(change.tx), wanted.name, parentId, wanted.id)) return refuse(TAKEN);
    await change.tx
      .update(section)
      .set({ name: wanted.name, revision: revision + 1 })
      .where(eq(section.id, wanted.id));
    change.happened(sectionRenamed, { name: wanted.name }, { subjectId: wanted.id, before: { name } });
    return accept(null);
  });
}

/** Where a section is to go: under another or to the top; at a place among those there, from 0. */
export const moveInput = z.object({ ...seen, parentId: under, position: z.coerce.number().int().min(0) });
type Move = z.output<typeof moveInput>;

/** Moves a section with everything below it. Which workflow applies there, and who may do what, follows at once. */
export function moveSection(act: Act, wanted: Move): Promise<Result<null>> {
  return administering(act, "section.edit", async (change) => {
    // Two moves at once could put two sections under each other: they go one after the other.
    await change.tx.select({ id: section.id }).from(section).for("update");
    const found = await lockSection(change, wanted);
    if (!found.ok) return found;
    const places = await loadPlaces(change.tx);
    if (wanted.parentId && !places.sections.has(wanted.parentId)) return refuse(GONE);
    if (wanted.parentId && below(places, wanted.id).includes(wanted.parentId))
      return refuse({
        code: "under-itself",
        sentence: `${found.value.name} cannot go under itself or a section below it.`,
      });
    if (nameTaken(places, found.value.name, wanted.parentId, wanted.id)) return refuse(TAKEN);
    const { parentId: before, revision } = found.value;
    await change.tx
      .update(section)
      .set({ parentId: wanted.parentId, revision: revision + 1 })
      .where(eq(section.id, wanted.id));
    const beside = childrenOf(places, wanted.parentId).filter((one) => one.id !== wanted.id);
    const order = beside.map((one) => one.id).toSpliced(wanted.position, 0, wanted.id);
    for (const [position, id] of order.entries())
      await change.tx.update(section).set({ position }).where(eq(section.id, id));
    change.happened(
      sectionMoved,
      { name: found.value.name, under: nameOf(places, wanted.parentId) },
      { subjectId: wanted.id, before: { under: nameOf(places, before) } },
    );
    return accept(null);
  });
}

export const deleteInput = z.object(seen);

/** Does away with a section that holds nothing. */
export function deleteSection(act: Act, wanted: z.output<typeof deleteInput>): Promise<Result<null>> {
  return administering(act, "section.edit", async (change) => {
    const { tx } = change;
    const found = await lockSection(change, wanted);
    if (!found.ok) return found;
    const { name } = found.value;
    const [pieces] = await tx.select({ here: count() }).from(piece).where(eq(piece.sectionId, wanted.id));
    const [children] = await tx.select({ below: count() }).from(section).where(eq(section.parentId, wanted.id));
    const at = and(eq(accessGrant.scope, "section"), eq(accessGrant.scopeId, wanted.id));
    const [grants] = await tx.select({ held: count() }).from(accessGrant).where(at);
    const [forms] = await tx.select({ ask: count() }).from(requestForm).where(eq(requestForm.sectionId, wanted.id));
    const [came] = await tx.select({ things: count() }).from(intakeItem).where(eq(intakeItem.sectionId, wanted.id));
    const why = pieces?.here
      ? `${pieces.here} pieces are in it`
      : children?.below
        ? "there are sections below it"
        : grants?.held
          ? "somebody was given a role for it"
          : forms?.ask || came?.things
            ? "a form asks for pieces in it, or something came in for it"
            : null;
    if (why) return refuse({ code: "in-use", sentence: `${name} cannot be taken away, since ${why}.` });
    await tx
      .delete(workflowBinding)
      .where(and(eq(workflowBinding.scope, "section"), eq(workflowBinding.scopeId, wanted.id)));
    await tx.delete(section).where(eq(section.id, wanted.id));
    change.happened(sectionDeleted, {}, { subjectId: wanted.id, before: { name } });
    return accept(null);
  });
}

/** What moving a section changes: the workflow new pieces begin on, and whose roles reach it. */
export interface MovePreview {
  /** Pieces in flight in the section and below. */
  pieces: number;
  workflows: { section: string; before: string; after: string }[];
  gains: string[];
  loses: string[];
  /** Why it cannot go there, or null. */
  refused: string | null;
}

/** Works out what a move would change; nothing is written. */
export async function previewMove(
  db: Queryable,
  viewer: Viewer,
  { id, parentId }: { id: string; parentId: string | null },
): Promise<MovePreview | null> {
  const { places } = viewer;
  const moved = places.sections.get(id);
  if (!moved || (parentId && !places.sections.has(parentId))) return null;
  const within = below(places, id);
  if (parentId && within.includes(parentId))
    return {
      pieces: 0,
      workflows: [],
      gains: [],
      loses: [],
      refused: `${moved.name} cannot go under itself or a section below it.`,
    };
  const then: Places = { ...places, sections: new Map([...places.sections, [id, { ...moved, parentId }]]) };
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const applied = (on: Places, at: string) => appliedWorkflow(on, at, null, today)?.binding.workflow ?? "none";
  const workflows = within.map((at) => ({
    section: places.sections.get(at)?.name ?? "",
    before: applied(places, at),
    after: applied(then, at),
  }));
  const [old, next] = [lineage(places, id), lineage(then, id)].map((line) => line.map((one) => one.id));
  const holders = await heldFor(db);
  const reaching = (ids: string[] = [], but: string[] = []) =>
    holders
      .filter((one) => ids.includes(one.sectionId) && !but.includes(one.sectionId))
      .map((one) => `${one.name} (${one.role})`);
  const [counted] = await db
    .select({ pieces: count() })
    .from(piece)
    .where(and(eq(piece.inFlight, true), isNull(piece.deletedAt), inArray(piece.sectionId, within)));
  return {
    pieces: counted?.pieces ?? 0,
    workflows: workflows.filter((one) => one.before !== one.after),
    gains: reaching(next, old),
    loses: reaching(old, next),
    refused: null,
  };
}

/** Who was given a role for a section, by name. */
async function heldFor(db: Queryable) {
  const rows = await db
    .select({ sectionId: accessGrant.scopeId, person: person.name, group: personGroup.name, role: role.name })
    .from(accessGrant)
    .innerJoin(role, eq(role.id, accessGrant.roleId))
    .leftJoin(person, eq(person.id, accessGrant.personId))
    .leftJoin(personGroup, eq(personGroup.id, accessGrant.groupId))
    .where(and(eq(accessGrant.scope, "section"), isNull(accessGrant.until)))
    .orderBy(asc(person.name));
  return rows.map((row) => ({
    sectionId: row.sectionId ?? "",
    name: row.person ?? `the group ${row.group}`,
    role: row.role,
  }));
}

const GONE = { code: "unknown-section", field: "parentId", sentence: "That section is gone." };
const TAKEN = { code: "taken", field: "name", sentence: "There is a section of that name there." };

async function lockSection(
  { tx }: Administering,
  { id, revision }: { id: string; revision: number },
): Promise<Result<Section>> {
  const [row] = await tx.select().from(section).where(eq(section.id, id)).for("update");
  if (!row) return refuse({ code: "not-found", sentence: "There is no such section." });
  if (row.revision === revision) return accept(row);
  return refuse({ code: "stale", sentence: `${row.name} was changed meanwhile. Look at it as it is now.` });
}

const childrenOf = (places: Places, parentId: string | null) =>
  [...places.sections.values()].filter((one) => one.parentId === parentId);

const nameTaken = (places: Places, name: string, parentId: string | null, but: string) =>
  childrenOf(places, parentId).some((one) => one.id !== but && one.name.toLowerCase() === name.toLowerCase());

const nameOf = (places: Places, id: string | null) => (id ? (places.sections.get(id)?.name ?? null) : null);
