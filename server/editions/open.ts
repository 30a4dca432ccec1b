import { eq, inArray } from "drizzle-orm";
import { standInFor } from "#core/people/absence.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import type { EditionPlan } from "#core/release/edition.ts";
import { opens } from "#core/release/window.ts";
import { localDate } from "#core/time/local.ts";
import { loadEverybody, type Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, editionSignature } from "../db/schema/index.ts";
import { lockFacts, type PieceFacts } from "../piece/facts.ts";
import { editionName } from "../release/ahead.ts";
import { type Channel, loadChannel, seesTo } from "../release/channels.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { type Roster, teamOf } from "../team/queries.ts";
import type { Change } from "../write.ts";

export type EditionRow = typeof edition.$inferSelect;
export type ItemRow = typeof editionItem.$inferSelect;

/** A channel that gathers editions. */
export interface Gathering extends Channel {
  editions: EditionPlan;
}

/** An edition, locked, with its channel and who acts on it. */
export interface OpenedEdition {
  row: EditionRow;
  channel: Gathering;
  items: ItemRow[];
  signatures: (typeof editionSignature.$inferSelect)[];
  places: Places;
  actor: Person;
}

/** What is not over: it can still be filled, signed or released. */
export const UNDER_WAY = ["gathering", "signed", "held"] as const;

const NOT_FOUND: Refusal = { code: "not-found", sentence: "There is no such edition." };

/** Why a person may not see to a channel's editions, with who may. */
export async function notTheirs(db: Queryable, channel: Channel, places: Places, now: number) {
  const able = [...(await loadEverybody(db)).values()].filter((one) => seesTo(one, channel, places, now));
  const sentence = `No role of yours lets you see to the editions of ${channel.name}.`;
  return refuse({ code: "not-granted", sentence, who: able.slice(0, 5).map((one) => one.name) });
}

/** An edition for a command of somebody who sees to it, as `openEdition` locks it. */
export async function openToFill(change: Change, editionId: string, revision?: number): Promise<Result<OpenedEdition>> {
  const opened = await openEdition(change, editionId, revision);
  if (!opened.ok) return opened;
  const { actor, channel, places } = opened.value;
  return seesTo(actor, channel, places, change.now) ? opened : notTheirs(change.tx, channel, places, change.now);
}

/**
 * Locks an edition; whether the actor may do what follows is asked there. The pieces a command touches are locked
 * before, as everywhere.
 *
 * @param revision the edition's revision the person saw, where an overlooked change matters
 */
export async function openEdition(
  change: Change,
  editionId: string,
  revision?: number,
): Promise<Result<OpenedEdition>> {
  const { tx, actor } = change;
  const [row] = await tx.select().from(edition).where(eq(edition.id, editionId)).for("update");
  if (!row || !actor) return refuse(NOT_FOUND);
  const [channel, places] = await Promise.all([loadChannel(tx, row.channel), loadPlaces(tx)]);
  if (!isGathering(channel)) return refuse(NOT_FOUND);
  if (revision !== undefined && revision !== row.revision)
    return refuse({
      code: "stale",
      sentence: "Somebody changed the edition meanwhile. Look at it as it is now and try again.",
    });
  const [items, signatures] = await Promise.all([itemsOf(tx, [row.id]), signaturesOf(tx, row.id)]);
  return accept({ row, channel, items, signatures, places, actor });
}

export const isGathering = (channel: Channel): channel is Gathering => channel.editions !== null;

/** What is in editions, in order. */
export const itemsOf = (db: Queryable, editionIds: readonly string[]): Promise<ItemRow[]> =>
  db
    .select()
    .from(editionItem)
    .where(inArray(editionItem.editionId, [...editionIds]))
    .orderBy(editionItem.position, editionItem.pieceId);

export const signaturesOf = (db: Queryable, editionId: string) =>
  db
    .select()
    .from(editionSignature)
    .where(eq(editionSignature.editionId, editionId))
    .orderBy(editionSignature.at, editionSignature.signerId);

/** An edition as events name it. */
export const named = ({ row, channel }: Pick<OpenedEdition, "row" | "channel">) => ({
  channel: row.channel,
  number: row.number,
  edition: editionName(channel.editions, row.number),
});

/** Whether everybody who signs editions of a channel has signed; where nobody is named, anybody who sees to them. */
export const isSigned = (
  { people }: Pick<Channel, "people">,
  signatures: readonly Pick<typeof editionSignature.$inferSelect, "signerId">[],
): boolean => signatures.length > 0 && people.every((id) => signatures.some((one) => one.signerId === id));

/** When an edition that was held goes out: at its date, or when its channel opens next; null where it never does. */
export const goesOut = ({ row, channel }: Pick<OpenedEdition, "row" | "channel">, now: number): number | null =>
  row.at > now ? row.at : opens(channel.windows, now);

/** The pieces of an edition, locked before it is. */
export async function lockContents(change: Change, editionId: string): Promise<PieceFacts[]> {
  const { tx } = change;
  const peek = await itemsOf(tx, [editionId]);
  return lockFacts(
    tx,
    await loadPlaces(tx),
    peek.map((item) => item.pieceId),
  );
}

/** Why the contents of an edition cannot be changed now, or null. */
export function whyLocked({ row, signatures, channel }: OpenedEdition): Refusal | null {
  const { edition: name } = named({ row, channel });
  if (row.status === "released") return { code: "released", sentence: `${name} has left. It stays as it went out.` };
  if (row.status === "dropped") return { code: "dropped", sentence: `${name} was dropped.` };
  return signatures.length > 0
    ? {
        code: "signed",
        sentence: `${name} is signed as it is. Open it again first; the signatures are then taken back.`,
      }
    : null;
}

/** Whom a person may sign for, by id: themselves where they sign, and those away whom they stand in for. @param signers who signs editions of the channel; empty where anybody who sees to them does */
export function signsFor(
  person: Pick<Person, "id">,
  signers: readonly string[],
  roster: Roster,
  now: number,
  zone: string,
): string[] {
  if (signers.length === 0) return [person.id];
  const team = teamOf(roster, localDate(now, zone), NOBODY_WAITS);
  const members = [...team.people.values()].map((one) => ({
    id: one.id,
    key: one.key,
    name: one.name,
    active: one.active,
    roles: [],
    load: 0,
    away: team.away.has(one.id),
    standInId: team.standIns.get(one.id) ?? null,
  }));
  return signers.filter((id) => {
    const signer = members.find((one) => one.id === id);
    if (!signer?.active) return false;
    return id === person.id || (signer.away && standInFor(signer, members, () => false)?.id === person.id);
  });
}

const NOBODY_WAITS = { load: () => 0, firstDue: new Map<string, number>() };
