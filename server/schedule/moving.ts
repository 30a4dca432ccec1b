import { and, eq, inArray } from "drizzle-orm";
import { z } from "zod";
import type { Result } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { channel as channelTable, edition, piece, release } from "../db/schema/index.ts";
import { moveEdition } from "../editions/commands.ts";
import { editionName } from "../release/ahead.ts";

import { confirmInput, confirmRelease, planRelease } from "../release/commands.ts";
import { OPEN } from "../release/plans.ts";
import { wishFor } from "../release/wishes.ts";
import type { Act } from "../write.ts";

/** So many are moved or confirmed in one go. */
const MOST = 50;

/** A piece through a channel, or a whole edition. */
const moved = z.union([
  z.object({ pieceId: z.uuid(), channel: z.string().max(20).default(SITE), revision: z.int(), at: z.int() }),
  z.object({ editionId: z.uuid(), revision: z.int(), at: z.int() }),
]);
export const movesInput = z.array(moved).min(1).max(MOST);
export const confirmationsInput = z
  .array(confirmInput.extend({ revision: z.int() }))
  .min(1)
  .max(MOST);

/** What became of one of several: when it leaves now, or why nothing was done. */
export interface Moved {
  /** The mark's id in the timetable. */
  id: string;
  title: string;
  /** When it was to leave before, epoch milliseconds; null for no date. */
  before: number | null;
  refused: string | null;
}

/** Moves pieces to other times, each in a write of its own: the release of what is ready, the wish of what is on its way. */
export async function moveAll(act: Act, moves: z.input<typeof movesInput>): Promise<Moved[]> {
  const done: Moved[] = [];
  for (const move of moves) {
    if ("editionId" in move) {
      const before = await editionOf(act, move.editionId);
      done.push(became(`edition ${move.editionId}`, before, await moveEdition(act, move)));
      continue;
    }
    const plan = await planOf(act, move);
    const result = await (plan.ready ? planRelease(act, move) : wishFor(act, move));
    done.push(became(idOf(move), plan, result));
  }
  return done;
}

const idOf = ({ pieceId, channel = SITE }: { pieceId: string; channel?: string | undefined }) =>
  channel === SITE ? pieceId : `${channel} ${pieceId}`;

async function editionOf({ db }: Act, editionId: string): Promise<Pick<Before, "title" | "at">> {
  const [row] = await db
    .select({ at: edition.at, number: edition.number, plan: channelTable.editions })
    .from(edition)
    .innerJoin(channelTable, eq(channelTable.key, edition.channel))
    .where(eq(edition.id, editionId));
  return { title: row?.plan ? editionName(row.plan, row.number) : "", at: row?.at ?? null };
}

/** Confirms proposed dates, each in a write of its own. */
export async function confirmAll(act: Act, orders: z.input<typeof confirmationsInput>): Promise<Moved[]> {
  const done: Moved[] = [];
  for (const order of orders) {
    const plan = await planOf(act, order);
    done.push(became(idOf(order), plan, await confirmRelease(act, order)));
  }
  return done;
}

interface Before {
  title: string;
  ready: boolean;
  at: number | null;
}

/** What is planned or wished for a piece. The commands say whether the caller may see it; until then nothing is told of it. */
async function planOf(
  { db }: Act,
  { pieceId, channel = SITE }: { pieceId: string; channel?: string | undefined },
): Promise<Before> {
  const [row] = await db
    .select({
      title: piece.title,
      stateKind: piece.stateKind,
      publishAt: piece.publishAt,
      at: release.at,
    })
    .from(piece)
    .leftJoin(
      release,
      and(eq(release.pieceId, piece.id), eq(release.channel, channel), inArray(release.status, [...OPEN])),
    )
    .where(eq(piece.id, pieceId));
  return {
    title: row?.title ?? "",
    ready: row?.stateKind === "ready" || row?.stateKind === "live",
    at: row?.at ?? row?.publishAt ?? null,
  };
}

const became = (id: string, { title, at }: Pick<Before, "title" | "at">, result: Result<unknown>): Moved => {
  const hidden = !result.ok && result.refusal.code === "not-found";
  return {
    id,
    title: hidden ? "" : title,
    before: hidden ? null : at,
    refused: result.ok ? null : result.refusal.sentence,
  };
};
