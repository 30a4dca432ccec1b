import { and, gte, inArray, lte } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { ASKS, asks, type EventKind, type Happening } from "#core/events/event.ts";
import { topicOf } from "#core/events/topic.ts";
import { standInFor } from "#core/people/absence.ts";
import { localDate } from "#core/time/local.ts";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { absence, notice, piece } from "../db/schema/index.ts";
import { loadPieces } from "../piece/facts.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { asCandidates, loadTeam } from "../team/queries.ts";
import { type Heard, sayInChannels } from "./channels.ts";
import { piecesOf, route, send, type Told } from "./routing.ts";

/**
 * Lays notices in the app and messages in the outbox, inside the write they speak of. Each part of a write
 * tells a person one thing, the one that asks most of them, and nobody what they did themselves.
 *
 * @param first the number of the first happening on the ledger; the others follow it
 * @param parts what happened, in the order of the ledger
 */
export async function deliver(
  tx: Transaction,
  act: { personId: string | null; now: number; batch?: string | undefined },
  first: number,
  parts: readonly (readonly Happening[])[],
): Promise<void> {
  let seq = first;
  const heard: Heard[] = [];
  const rows = parts.flatMap((happenings) => {
    const met = new Set<string>(act.personId ? [act.personId] : []);
    const told = happenings.flatMap(({ kind, payload, pieceId, told: tells }) => {
      const numbered = { pieceId, seq: seq++ };
      return tells.map((one) => ({ ...one, ...numbered, asks: asksOf(kind, one.part, payload), kind }));
    });
    const pressing = told.toSorted((a, b) => ASKS.indexOf(a.asks) - ASKS.indexOf(b.asks));
    heard.push(...pressing.map(({ kind, asks, ...one }) => ({ ...one, topic: topicOf(asks, kind.remark) })));
    return pressing.flatMap(({ to, params, pieceId, seq, part, asks, kind }) =>
      to
        .filter((personId) => !met.has(personId) && met.add(personId))
        .map(
          (personId): Told => ({
            id: newId(),
            personId,
            pieceId: (params?.pieceId as string | undefined) ?? pieceId ?? null,
            batchId: act.batch ?? null,
            seq,
            part,
            params,
            at: act.now,
            topic: topicOf(asks, kind.remark),
          }),
        ),
    );
  });
  const places = await loadPlaces(tx);
  const pieces = await piecesOf(tx, [...rows, ...heard]);
  await sayInChannels(tx, act, { places, pieces, heard });
  if (rows.length === 0) return;
  rows.push(...(await forStandIns(tx, act, places, rows)));
  const made = await route(tx, act, places, pieces, rows);
  await send(tx, made);
  await insertAll(tx, notice, rows);
}

/** What is told somebody who is away and asks for an act is told whoever stands in for them too, where they may see the piece. */
async function forStandIns(
  tx: Transaction,
  { now }: { now: number },
  places: Places,
  rows: readonly Told[],
): Promise<Told[]> {
  const today = localDate(now, places.calendar.timeZone);
  const asking = rows.filter((row) => row.pieceId && (row.topic === "work" || row.topic === "mend"));
  if (asking.length === 0) return [];
  const gone = await tx
    .select({ id: absence.personId })
    .from(absence)
    .where(
      and(
        inArray(absence.personId, [...new Set(asking.map((row) => row.personId))]),
        lte(absence.from, today),
        gte(absence.until, today),
      ),
    );
  if (gone.length === 0) return [];
  const team = await loadTeam(tx, today);
  const away = new Set(gone.map((one) => one.id));
  const covered = asking.filter((row) => away.has(row.personId));
  const pieces = await loadPieces(
    tx,
    places,
    inArray(
      piece.id,
      covered.map((row) => row.pieceId ?? ""),
    ),
  );
  const taken = new Set(rows.map((row) => `${row.seq} ${row.part} ${row.personId}`));
  return covered.flatMap((row) => {
    const target = pieces.find((one) => one.piece.id === row.pieceId)?.target;
    if (!target) return [];
    const people = asCandidates(team, target, now);
    const absent = people.find((one) => one.id === row.personId);
    const standIn = absent && standInFor(absent, people, () => false);
    const holder = standIn && team.people.get(standIn.id);
    if (!absent || !holder || !can(holder, "piece.read", target, now).allowed) return [];
    const key = `${row.seq} ${row.part} ${holder.id}`;
    if (taken.has(key)) return [];
    taken.add(key);
    return { ...row, id: newId(), personId: holder.id, params: { ...row.params, standsInFor: absent.name } };
  });
}

const asksOf = (kind: EventKind, part: string, payload: unknown) => {
  const telling = kind.tells[part];
  if (!telling) throw new Error(`${kind.name} tells no ${part}`);
  return asks(telling, payload as never);
};
