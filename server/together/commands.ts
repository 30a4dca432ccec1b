import { and, asc, eq, inArray, isNull, lt } from "drizzle-orm";
import { z } from "zod";
import { sayEvent } from "#core/events/catalogue.ts";
import type { Happening } from "#core/events/event.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { SHIFT_MOST } from "#core/time/shift.ts";
import { sayInstant } from "#core/time/words.ts";
import { capital } from "#core/words/say.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { bundle, bundleItem, type Doing } from "../db/schema/index.ts";
import { note } from "../piece/input.ts";
import type { Chosen } from "../pieces/lists.ts";
import { pointOutInput } from "../pieces/pointing.ts";
import { schedule } from "../tasks/schedule.ts";
import { loadViewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";
import { carry } from "./carry.ts";

/** So many pieces are done together at most. */
export const TOGETHER_MOST = 5_000;
/** So many stand in a table in which each has its own step. */
export const TABLE_MOST = 100;
/** So many are done before others have their turn. */
const PART = 20;
/** So many are done at once. */
const AT_ONCE = 4;
/** Bundles are kept so long, in milliseconds. */
const KEPT = 30 * 86_400_000;

const days = z.coerce.number().int().min(-SHIFT_MOST).max(SHIFT_MOST);

/** What is to be done to many pieces, as a form says it. */
export const doingInput = z.object({
  /** A part of {@link Doing}, a step with its name behind a colon. */
  what: z.string().min(1, "Choose what to do.").max(120),
  note,
  at: z.number().nullable().default(null),
  days: days.default(0),
  from: z.string().max(36).default(""),
  to: z.string().max(36).default(""),
  sectionId: z.string().max(36).default(""),
  editionId: z.string().max(36).default(""),
  people: pointOutInput.shape.people.min(0).default([]),
});

type Wanted = z.output<typeof doingInput>;

/** What a form asks for, whole; or what of it is missing. */
export function doingOf({
  what,
  note: said,
  at,
  days: by,
  from,
  to,
  sectionId,
  editionId,
  people,
}: Wanted): Result<Doing> {
  const missing = (field: string, sentence: string): { ok: false; refusal: Refusal } =>
    refuse({ code: "missing", field, sentence });
  if (what.startsWith("step:")) return accept({ do: "step", name: what.slice(5), note: said });
  switch (what) {
    case "approve":
      return accept({ do: what, note: said });
    case "return":
      return said.trim() ? accept({ do: what, note: said }) : missing("note", "Say why, to all of them.");
    case "due":
      return accept({ do: what, at, note: said });
    case "due-shift":
      return by === 0 ? missing("days", "By how many working days?") : accept({ do: what, days: by, note: said });
    case "plan":
      return at === null ? missing("at", "When do they leave?") : accept({ do: what, at });
    case "plan-shift":
      return by === 0 ? missing("days", "By how many working days?") : accept({ do: what, days: by });
    case "urgent":
      return accept({ do: "urgency", urgency: "urgent" });
    case "not-urgent":
      return accept({ do: "urgency", urgency: "normal" });
    case "hand":
      if (!from) return missing("from", "Whose work is it?");
      if (!to) return missing("to", "Who takes it?");
      return accept({ do: what, from, to });
    case "each":
      return accept({ do: what });
    case "point-out":
      return people.length > 0 ? accept({ do: what, people, note: said }) : missing("people", "Who is told?");
    case "edition":
      return editionId ? accept({ do: what, editionId, note: said }) : missing("editionId", "Which edition?");
    case "section":
      if (!sectionId) return missing("sectionId", "Which section?");
      return said.trim() ? accept({ do: what, sectionId, note: said }) : missing("note", "Say why they belong there.");
    default:
      return missing("what", "Choose what to do.");
  }
}

/**
 * Begins to find out what would come of doing one thing to many pieces the caller may see; nothing is done
 * yet. What the same person only looked at before is let go of.
 */
export function beginBundle(act: Act, doing: Doing, pieces: readonly Chosen[]): Promise<Result<{ id: string }>> {
  return write(act, async ({ tx, actor, now }) => {
    if (!actor || actor.guest) return refuse({ code: "not-granted", sentence: "Guests do one thing at a time." });
    if (pieces.length === 0)
      return refuse({ code: "nothing", sentence: "None of these pieces is there for you any more. Choose others." });
    if (pieces.length > TOGETHER_MOST)
      return refuse({ code: "too-many", sentence: `At most ${TOGETHER_MOST} pieces are done together.` });
    const blank = doing.do === "each";
    if (blank && pieces.length > TABLE_MOST)
      return refuse({
        code: "too-many",
        field: "what",
        sentence: `A table holds ${TABLE_MOST} pieces. Choose fewer, or do one thing to all.`,
      });
    const mine = eq(bundle.personId, actor.id);
    const stale = await tx
      .select({ id: bundle.id })
      .from(bundle)
      .where(and(mine, isNull(bundle.startedAt)));
    const old = await tx
      .select({ id: bundle.id })
      .from(bundle)
      .where(and(mine, lt(bundle.createdAt, now - KEPT)));
    const gone = [...stale, ...old].map((one) => one.id);
    if (gone.length > 0) {
      await tx.delete(bundleItem).where(inArray(bundleItem.bundleId, gone));
      await tx.delete(bundle).where(inArray(bundle.id, gone));
    }
    const id = newId();
    await tx.insert(bundle).values({ id, personId: actor.id, doing, createdAt: now });
    await insertAll(
      tx,
      bundleItem,
      pieces.map((one, position) => ({
        id: newId(),
        bundleId: id,
        position,
        pieceId: one.id,
        revision: one.revision,
        hash: one.hash,
        status: blank ? ("blank" as const) : ("waiting" as const),
        said: [],
      })),
    );
    if (!blank) await schedule(tx, { kind: "bundle", subject: id, dueAt: now });
    return accept({ id });
  });
}

/** A row of a table: what is done to one piece; without a step nothing is. */
export const rowInput = z.object({
  position: z.number().int().min(0).max(TABLE_MOST),
  step: z.string().max(120).default(""),
  personId: z.union([z.literal(""), z.uuid("Choose somebody.")]).default(""),
  at: z.number().nullable().default(null),
  note,
});
export const tableInput = z.object({ bundleId: z.uuid(), rows: z.array(rowInput).max(TABLE_MOST) });

/** Says what is done to each piece of a table, and begins to find out what would come of it; rows left blank stay out. */
export function fillTable(act: Act, { bundleId, rows }: z.output<typeof tableInput>): Promise<Result<null>> {
  return write(act, async ({ tx, actor, now }) => {
    const [row] = await tx
      .select()
      .from(bundle)
      .where(and(eq(bundle.id, bundleId), eq(bundle.personId, actor?.id ?? "")))
      .for("update");
    if (row?.doing.do !== "each" || row.startedAt !== null)
      return refuse({ code: "not-found", sentence: "This table is not there any more. Choose the pieces anew." });
    const filled = rows.filter((one) => one.step !== "");
    if (filled.length === 0) return refuse({ code: "nothing", sentence: "Choose a step for at least one of them." });
    const of = eq(bundleItem.bundleId, bundleId);
    await tx.update(bundleItem).set({ status: "blank", doing: null, said: [] }).where(of);
    for (const { position, ...said } of filled)
      await tx
        .update(bundleItem)
        .set({ status: "waiting", doing: { do: "send", ...said } })
        .where(and(of, eq(bundleItem.position, position)));
    await schedule(tx, { kind: "bundle", subject: bundleId, dueAt: now });
    return accept(null);
  });
}

export const bundleInput = z.object({ bundleId: z.uuid() });

/** Does what was looked at, piece by piece, each in a write of its own. */
export function doBundle(act: Act, { bundleId }: z.infer<typeof bundleInput>): Promise<Result<null>> {
  return write(act, async ({ tx, actor, now }) => {
    const at = and(eq(bundle.id, bundleId), eq(bundle.personId, actor?.id ?? ""));
    const [row] = await tx.select().from(bundle).where(at).for("update");
    if (!row) return refuse({ code: "not-found", sentence: "These are not there any more. Choose the pieces anew." });
    if (row.startedAt !== null) return accept(null);
    await tx.update(bundle).set({ startedAt: now }).where(at);
    await schedule(tx, { kind: "bundle", subject: bundleId, dueAt: now });
    return accept(null);
  });
}

/**
 * Goes on with a bundle: finds out of its next pieces what would happen or, once it was said to be done, does
 * it. What was done is answered under the piece's own key, so that a node that dies does nothing twice.
 *
 * @returns whether there is more to do
 */
export async function workOn(act: Act, bundleId: string): Promise<boolean> {
  const { db } = act;
  const [row] = await db.select().from(bundle).where(eq(bundle.id, bundleId));
  if (!row) return false;
  const looking = row.startedAt === null;
  const zone = (await loadViewer(db, row.personId, act.now))?.zone ?? "UTC";
  const say = ({ kind, payload }: Happening) => {
    const { dueAt, at } = payload as { dueAt?: number | null; at?: number };
    const when = dueAt ?? at;
    return `${capital(sayEvent(kind.name, payload))}${when ? `: ${sayInstant(when, zone, act.now)}` : ""}`;
  };
  const items = await db
    .select()
    .from(bundleItem)
    .where(
      and(eq(bundleItem.bundleId, bundleId), inArray(bundleItem.status, looking ? ["waiting"] : ["waiting", "would"])),
    )
    .orderBy(asc(bundleItem.position))
    .limit(PART);
  const judge = async (item: (typeof items)[number]) => {
    const would: string[] = [];
    const imagines = (happenings: readonly Happening[]) => void would.push(...happenings.map(say));
    const done = await carry(
      { ...act, personId: row.personId, batch: bundleId, ...(looking ? { imagines } : { formKey: item.id }) },
      item.doing ?? row.doing,
      item,
    );
    const said = done.ok ? would : [done.refusal.sentence, ...(done.refusal.missing ?? [])];
    const status = done.ok ? (looking ? "would" : "done") : looking ? "refused" : "failed";
    await db
      .update(bundleItem)
      .set(done.ok && !looking ? { status } : { status, said })
      .where(eq(bundleItem.id, item.id));
  };
  // While the database works on some, the next are made ready.
  for (let i = 0; i < items.length; i += AT_ONCE) await Promise.all(items.slice(i, i + AT_ONCE).map(judge));
  return items.length === PART;
}
