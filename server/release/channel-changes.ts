import { and, eq, gt, inArray } from "drizzle-orm";
import { z } from "zod";
import { channelChanged, channelRetired, releaseCancelled } from "#core/events/release.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { NOTHING_USUAL, SITE } from "#core/release/channel.ts";
import { usualSchema } from "#core/release/channel-format.ts";
import { editionPlanSchema } from "#core/release/edition.ts";
import { lookoutSchema } from "#core/release/findings.ts";
import { isOpen, opens } from "#core/release/window.ts";
import { windowsSchema } from "#core/release/windows-format.ts";
import { freeKey } from "#core/words/keys.ts";
import { counted } from "#core/words/say.ts";
import { administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import type { Queryable, Transaction } from "../db/client.ts";
import { channel, edition, person, piece, release } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import type { Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";
import { layAhead } from "./ahead.ts";
import { BESIDE, type Channel, leavesAt } from "./channels.ts";
import { OPEN } from "./plans.ts";

/** So many channels a publication has. */
const MOST = 20;

export const channelInput = z.object({
  /** Empty for a new one. */
  key: z.string().max(20),
  name: z.string().trim().min(1, "A channel needs a name.").max(80, "At most 80 characters fit."),
  windows: windowsSchema,
  lookout: lookoutSchema,
  people: z.array(z.uuid()).max(30).default([]),
  editions: editionPlanSchema.nullable().default(null),
  usual: usualSchema.default(NOTHING_USUAL),
  /** The number its next edition gets, where it gathers any. */
  nextNumber: z.int().min(1).max(1_000_000).default(1),
  revision: z.number().int(),
});
type Wanted = z.output<typeof channelInput>;

/**
 * Sets when a channel lets anything leave, how it gathers editions, who lets things out, and what the team looks
 * out for there; what is planned for a closed time moves to the next open one.
 */
export function saveChannel(
  act: Act,
  sent: z.input<typeof channelInput>,
): Promise<Result<{ key: string; moved: number }>> {
  const wanted = channelInput.parse(sent);
  return administering(act, "publication.edit", async (change) => {
    const { tx } = change;
    const known = await tx.select().from(channel).for("update");
    const row = known.find((one) => one.key === wanted.key);
    const closed = await whyNotSave(tx, wanted, row, known, change.now);
    if (closed) return refuse(closed);
    const key = wanted.key || freeKey(wanted.name.slice(0, 16), known, "channel");
    const { name, lookout, people, editions, usual, windows } = wanted;
    // What is more than a number is counted by the editions themselves.
    const nextNumber = Math.max(wanted.nextNumber, row?.nextNumber ?? 1);
    const set = { name, windows, lookout, people, editions, usual, nextNumber, revision: (row?.revision ?? 0) + 1 };
    const position = key === SITE ? 0 : known.length + 1;
    await tx
      .insert(channel)
      .values({ key, position, ...set })
      .onDuplicateKeyUpdate({ set });
    const moved = await moveInto(tx, { key, windows }, change.now);
    await layAhead(change, { key, windows, editions }, (await loadPlaces(tx)).calendar);
    change.happened(
      channelChanged,
      { key, name, windows, lookout, moved, people, editions, usual },
      { before: row ?? null },
    );
    return accept({ key, moved });
  });
}

/** What a channel cannot be made to, or null. */
async function whyNotSave(
  tx: Transaction,
  { key, windows, people, editions, revision }: Wanted,
  row: typeof channel.$inferSelect | undefined,
  known: readonly { retiredAt: number | null }[],
  now: number,
): Promise<Refusal | null> {
  if ((row?.revision ?? 0) !== revision || row?.retiredAt || (key !== "" && key !== SITE && !row))
    return {
      code: "stale",
      sentence: "The channel was changed meanwhile. Look at it as it is now; what you chose is still here.",
    };
  if (key === "" && known.filter((one) => one.retiredAt === null).length >= MOST)
    return { code: "too-many", sentence: `There are ${MOST} channels. Give one up first.` };
  if (opens(windows, now) === null)
    return {
      code: "never-open",
      field: "open",
      sentence: "Then nothing could leave at all: leave it open at some time.",
    };
  if (key === SITE && editions !== null)
    return { code: "site", sentence: "The reader site takes pieces one by one; editions are for other channels." };
  const parts = editions?.parts.map((part) => part.key) ?? [];
  if (new Set(parts).size < parts.length || editions?.takes.some(({ part }) => !parts.includes(part)))
    return {
      code: "parts",
      field: "parts",
      sentence: "Each part has a name of its own, and what belongs in goes into one.",
    };
  const there =
    people.length > 0 ? await tx.select({ id: person.id }).from(person).where(inArray(person.id, people)) : [];
  return there.length < new Set(people).size
    ? { code: "not-found", field: "people", sentence: "Somebody you named is not here any more." }
    : null;
}

export const retireInput = z.object({
  key: z.string().min(1).max(20),
  revision: z.coerce.number().int(),
  /** Whether what is planned through it ends with it. */
  ends: z.stringbool().default(false),
});

/** Gives a channel up: nothing is planned through it any more. What went out stays on record. */
export function retireChannel(act: Act, wanted: z.output<typeof retireInput>): Promise<Result<{ ended: number }>> {
  return administering(act, "publication.edit", async (change) => {
    const { tx, now } = change;
    const [row] = await tx.select().from(channel).where(eq(channel.key, wanted.key)).for("update");
    if (!row || row.retiredAt || row.revision !== wanted.revision)
      return refuse({ code: "stale", sentence: "The channel was changed meanwhile. Look at it as it is now." });
    if (row.key === SITE) return refuse({ code: "site", sentence: "The reader site stays: it is where readers read." });
    const plans = await tx
      .select({ id: release.id, pieceId: release.pieceId, at: release.at, status: release.status })
      .from(release)
      .where(and(eq(release.channel, row.key), inArray(release.status, [...OPEN])))
      .for("update");
    const editions = await tx
      .select({ id: edition.id })
      .from(edition)
      .where(and(eq(edition.channel, row.key), inArray(edition.status, ["gathering", "signed", "held"])))
      .for("update");
    if (plans.length + editions.length > 0 && !wanted.ends) {
      const there = [counted(plans.length, "planned release"), counted(editions.length, "edition")];
      return refuse({
        code: "still-dates",
        sentence: `Through it there are still ${there.join(" and ")}. Say that they end with it.`,
      });
    }
    const ids = plans.map((plan) => plan.id);
    const dropped = editions.map((one) => one.id);
    if (ids.length > 0)
      await tx.update(release).set({ status: "cancelled", holds: [] }).where(inArray(release.id, ids));
    if (dropped.length > 0) await tx.update(edition).set({ status: "dropped" }).where(inArray(edition.id, dropped));
    await cancel(tx, "release", ids);
    await cancel(tx, "edition", dropped);
    for (const { id, pieceId, at, status } of plans)
      change.happened(
        releaseCancelled,
        { why: "its channel was given up" },
        { pieceId, subjectId: id, before: { at, status } },
      );
    await tx
      .update(channel)
      .set({ retiredAt: now, revision: row.revision + 1 })
      .where(eq(channel.key, row.key));
    change.happened(channelRetired, { key: row.key, name: row.name, ended: ids.length + dropped.length });
    return accept({ ended: ids.length + dropped.length });
  });
}

/** The planned releases a viewer may see that other windows would move, and when they would leave; null for never. */
export async function wouldMove(db: Queryable, viewer: Viewer, { key, windows }: Pick<Channel, "key" | "windows">) {
  const plans = await plansOutside(db, { key, windows }, viewer.now);
  const rows = await db
    .select({ id: piece.id, slug: piece.slug, title: piece.title })
    .from(piece)
    .where(
      and(
        visible(viewer),
        inArray(
          piece.id,
          plans.map((plan) => plan.pieceId),
        ),
      ),
    );
  const shown = new Map(rows.map((row) => [row.id, row]));
  const moves = plans.flatMap((plan) => {
    const row = shown.get(plan.pieceId);
    const to = opens(windows, Math.max(viewer.now, plan.wishedAt ?? plan.at));
    return row ? [{ slug: row.slug, title: row.title, at: plan.at, to }] : [];
  });
  return accept(moves);
}

/** Moves what is planned for a closed time to the next open one. @returns how many */
async function moveInto(tx: Transaction, of: Pick<Channel, "key" | "windows">, now: number): Promise<number> {
  const plans = await plansOutside(tx, of, now);
  for (const { id, at, wishedAt, status } of plans) {
    const next = await leavesAt(tx, of, Math.max(now, wishedAt ?? at), id);
    if (next === null) continue;
    await tx
      .update(release)
      .set({ at: next, wishedAt: wishedAt ?? at })
      .where(eq(release.id, id));
    if (status === "planned") await schedule(tx, { kind: "release", subject: id, dueAt: next });
  }
  return plans.length;
}

/** The planned and proposed releases of a channel that would leave while it is closed. */
export async function plansOutside(db: Queryable, { key, windows }: Pick<Channel, "key" | "windows">, now: number) {
  const plans = await db
    .select({
      id: release.id,
      pieceId: release.pieceId,
      at: release.at,
      wishedAt: release.wishedAt,
      status: release.status,
      outside: release.outside,
    })
    .from(release)
    .where(and(eq(release.channel, key), inArray(release.status, ["proposed", "planned"]), gt(release.at, now)))
    .orderBy(release.at, release.id)
    .limit(BESIDE);
  return plans.filter((plan) => !plan.outside && !isOpen(windows, plan.at));
}
