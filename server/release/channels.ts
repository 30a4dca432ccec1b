import { and, eq, getTableColumns, gt, inArray, ne, sql } from "drizzle-orm";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { NOTHING_USUAL, SITE, type Usual } from "#core/release/channel.ts";
import type { EditionPlan } from "#core/release/edition.ts";
import { type Lookout, NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { alwaysOpen, leaveBeside, opens, type Windows } from "#core/release/window.ts";
import { windowsSchema } from "#core/release/windows-format.ts";
import { lineage } from "#core/sections/tree.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { channel, publication, release } from "../db/schema/index.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { OPEN } from "./plans.ts";

const MINUTE = 60_000;
/** So many planned releases are looked at to keep the spacing to them. */
export const BESIDE = 5_000;

/** A channel as it stands; one nobody has set anything for is always open. */
export interface Channel {
  key: string;
  name: string;
  windows: Windows;
  /** Whether somebody set windows at all. */
  windowed: boolean;
  lookout: Lookout;
  /** Who lets anything out through it and signs its editions, by id; empty for whoever may release the piece. */
  people: readonly string[];
  /** How it gathers editions; null where pieces leave through it one by one. */
  editions: EditionPlan | null;
  /** What holds of what leaves through it one by one, where nothing else is said. */
  usual: Usual;
  retired: boolean;
  revision: number;
}

const columns = {
  ...getTableColumns(channel),
  /** Its windows are read in the publication's zone, whichever they were written in. */
  zone: sql<string>`(SELECT JSON_VALUE(${publication.calendar}, '$.timeZone') FROM ${publication} LIMIT 1)`,
};

/** The channels there are, the reader site first. @param retired whether those given up are among them */
export async function loadChannels(db: Queryable, retired = false): Promise<Channel[]> {
  const rows = await db.select(columns).from(channel).orderBy(channel.position, channel.name);
  const site = rows.find((row) => row.key === SITE);
  const others = rows.filter((row) => row.key !== SITE && (retired || row.retiredAt === null));
  return [site ? asChannel(site) : await unset(db, SITE), ...others.map(asChannel)];
}

/** One channel, also one that was given up. Of a key that names none there is a channel nobody has set anything for. */
export async function loadChannel(db: Queryable, key: string): Promise<Channel> {
  const [row] = await db.select(columns).from(channel).where(eq(channel.key, key));
  return row ? asChannel(row) : unset(db, key);
}

type Row = typeof channel.$inferSelect & { zone: string };

const asChannel = ({
  key,
  name,
  windows,
  lookout,
  people,
  editions,
  usual,
  retiredAt,
  revision,
  zone,
}: Row): Channel => ({
  key,
  name,
  windows: same(key, windows ? { ...windows, zone } : alwaysOpen(zone)),
  windowed: windows !== null,
  lookout: lookout ?? NOTHING_LOOKED_FOR,
  people: people ?? [],
  editions,
  usual: usual ?? NOTHING_USUAL,
  retired: retiredAt !== null,
  revision,
});

const unset = async (db: Queryable, key: string): Promise<Channel> => ({
  ...blankChannel((await loadPlaces(db)).calendar.timeZone),
  key,
  name: "Reader site",
});

/** A channel that has yet to be made. @param zone the publication's */
export const blankChannel = (zone: string): Channel => ({
  key: "",
  name: "",
  windows: alwaysOpen(zone),
  windowed: false,
  lookout: NOTHING_LOOKED_FOR,
  people: [],
  editions: null,
  usual: NOTHING_USUAL,
  retired: false,
  revision: 0,
});

/** The number the next edition of a channel gets. */
export async function nextNumberOf(db: Queryable, key: string): Promise<number> {
  const [row] = await db.select({ next: channel.nextNumber }).from(channel).where(eq(channel.key, key));
  return row?.next ?? 1;
}

const last = new Map<string, { text: string; windows: Windows }>();
/** The same windows object while its text is the same, so that its computed days are kept. */
function same(key: string, stored: Windows): Windows {
  const text = JSON.stringify(stored);
  const known = last.get(key);
  if (known?.text === text) return known.windows;
  const windows = windowsSchema.parse(stored);
  last.set(key, { text, windows });
  return windows;
}

/** Whether a channel lets somebody let things out through it; what they may do where the piece lies is asked beside. */
export const letsOut = ({ people }: Pick<Channel, "people">, personId: string): boolean =>
  people.length === 0 || people.includes(personId);

/** Whether a person fills and orders the editions of a channel: for the publication, or for a section it takes from. */
export function seesTo(person: Person, { editions }: Pick<Channel, "editions">, places: Places, now: number): boolean {
  if (can(person, "edition.edit", PUBLICATION, now).allowed) return true;
  return (editions?.takes ?? []).some(({ section }) => {
    if (section === null || !places.sections.has(section)) return false;
    const sectionIds = lineage(places, section).map((one) => one.id);
    return can(person, "edition.edit", { sectionIds, kindId: null, piece: null }, now).allowed;
  });
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
