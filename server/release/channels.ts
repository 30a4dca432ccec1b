import { and, eq, gt, inArray, ne } from "drizzle-orm";
import { z } from "zod";
import { channelChanged } from "#core/events/release.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { type Lookout, lookoutSchema, NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { alwaysOpen, isOpen, leaveBeside, opens, type Windows, windowsSchema } from "#core/release/window.ts";
import { sayInstant } from "#core/time/words.ts";
import { administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import type { Queryable, Transaction } from "../db/client.ts";
import { channel, piece, release } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { schedule } from "../tasks/schedule.ts";
import type { Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";
import { OPEN } from "./plans.ts";

/** The reader site, the one channel there always is. */
export const SITE = "site";
const MINUTE = 60_000;
/** So many planned releases are looked at to keep the spacing to them. */
const BESIDE = 5_000;

/** A channel as it stands; one nobody has set anything for is always open. */
export interface Channel {
  key: string;
  name: string;
  windows: Windows;
  /** Whether somebody set windows at all. */
  windowed: boolean;
  lookout: Lookout;
  revision: number;
}

export async function loadChannel(db: Queryable, key: string): Promise<Channel> {
  const [row] = await db.select().from(channel).where(eq(channel.key, key));
  if (row?.windows)
    return { ...row, windows: same(row.windows), windowed: true, lookout: row.lookout ?? NOTHING_LOOKED_FOR };
  const { calendar } = await loadPlaces(db);
  return {
    key,
    name: row?.name ?? "Reader site",
    windows: same(alwaysOpen(calendar.timeZone)),
    windowed: false,
    lookout: row?.lookout ?? NOTHING_LOOKED_FOR,
    revision: row?.revision ?? 0,
  };
}

let last: { text: string; windows: Windows } | null = null;
/** The same windows object while its text is the same, so that its computed days are kept. */
function same(stored: Windows): Windows {
  const text = JSON.stringify(stored);
  if (last?.text !== text) last = { text, windows: windowsSchema.parse(stored) };
  return last.windows;
}

/** When a channel opens again, in words. */
export function sayOpening(windows: Windows, at: number, now: number): string {
  const next = opens(windows, at);
  return next === null ? "at no time that is known" : sayInstant(next, windows.zone, now);
}

/** When something wished for leaves beside what is planned already; null where nothing opens. @param except a release that is moved */
export async function leavesAt(
  db: Queryable,
  { key, windows }: Pick<Channel, "key" | "windows">,
  wish: number,
  except?: string,
): Promise<number | null> {
  return leaveBeside(windows, wish, await othersOf(db, { key, windows }, wish, except));
}

/** When the other releases of a channel leave that could lie too near to a wish; none where it keeps no spacing. */
export async function othersOf(
  db: Queryable,
  { key, windows }: Pick<Channel, "key" | "windows">,
  from: number,
  except?: string,
): Promise<number[]> {
  if (windows.spacing === 0) return [];
  const rows = await db
    .select({ at: release.at })
    .from(release)
    .where(
      and(
        eq(release.channel, key),
        inArray(release.status, [...OPEN]),
        gt(release.at, from - windows.spacing * MINUTE),
        except ? ne(release.id, except) : undefined,
      ),
    )
    .orderBy(release.at)
    .limit(BESIDE);
  return rows.map((row) => row.at);
}

export const channelInput = z.object({
  key: z.literal(SITE),
  name: z.string().trim().min(1, "A channel needs a name.").max(80, "At most 80 characters fit."),
  windows: windowsSchema,
  lookout: lookoutSchema,
  revision: z.number().int(),
});

/** Sets when a channel lets anything leave, and what the team looks out for there; what is planned for a closed time moves to the next open one. */
export function saveChannel(act: Act, wanted: z.output<typeof channelInput>): Promise<Result<{ moved: number }>> {
  return administering(act, "publication.edit", async (change) => {
    const { tx } = change;
    const { calendar } = await loadPlaces(tx);
    const [row] = await tx.select().from(channel).where(eq(channel.key, wanted.key)).for("update");
    if ((row?.revision ?? 0) !== wanted.revision)
      return refuse({
        code: "stale",
        sentence: "The channel was changed meanwhile. Look at it as it is now; what you chose is still here.",
      });
    const windows = { ...wanted.windows, zone: calendar.timeZone };
    if (opens(windows, change.now) === null)
      return refuse({
        code: "never-open",
        field: "open",
        sentence: "Then nothing could leave at all: leave it open at some time.",
      });
    const { key, name, lookout } = wanted;
    const set = { name, windows, lookout, revision: wanted.revision + 1 };
    await tx
      .insert(channel)
      .values({ key, ...set })
      .onDuplicateKeyUpdate({ set });
    const moved = await moveInto(tx, { key, windows }, change.now);
    change.happened(channelChanged, { key, name, windows, lookout, moved }, { before: row ?? null });
    return accept({ moved });
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
