import { and, asc, isNotNull, isNull } from "drizzle-orm";
import { z } from "zod";
import { below } from "#core/sections/tree.ts";
import { filesBelow } from "#core/text/html.ts";
import { startOf } from "#core/time/local.ts";
import type { Queryable } from "../db/client.ts";
import { piece } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { placeIn } from "./feeds.ts";
import { listReleased, type Narrowed } from "./queries.ts";
import { teased } from "./shown.ts";

/** So many pieces stand on one page of a list. */
const PAGE = 30;

/** A page of what readers can read, the newest first; null where the address names no place to begin. @param after where the page before ended */
export async function readerList(db: Queryable, narrowed: Narrowed, after: string | null) {
  const place = placeIn(after);
  if (place === null) return null;
  const [rows, places] = await Promise.all([listReleased(db, PAGE + 1, place, narrowed), loadPlaces(db)]);
  const shown = rows.slice(0, PAGE);
  const last = shown.at(-1);
  return {
    pieces: shown.map((one) => ({ slug: one.slug, ...teased(one, filesBelow(`/read/${one.slug}`)) })),
    next: rows.length > PAGE && last ? `${last.firstLiveAt}_${last.id}` : null,
    sections: [...places.sections.values()]
      .filter((one) => one.parentId === null)
      .map(({ key, name }) => ({ key, name })),
  };
}

/** A section by its key, with all below it; null where there is none. */
export async function sectionNamed(db: Queryable, key: string) {
  const places = await loadPlaces(db);
  const found = [...places.sections.values()].find((one) => one.key === key);
  return found ? { name: found.name, ids: below(places, found.id) } : null;
}

const MONTH = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/);
const NAME = new Intl.DateTimeFormat("en-GB", { month: "long", year: "numeric", timeZone: "UTC" });
const nameOf = (month: string) => NAME.format(Date.parse(`${month}-01T00:00Z`));

/** A month of the archive, `2026-11`, in the publication's zone; null where it is none. */
export async function monthNamed(db: Queryable, text: string) {
  const month = MONTH.safeParse(text).data;
  if (!month) return null;
  const { calendar } = await loadPlaces(db);
  const [year = 0, number = 0] = month.split("-").map(Number);
  const next = number === 12 ? `${year + 1}-01` : `${year}-${String(number + 1).padStart(2, "0")}`;
  return {
    name: nameOf(month),
    from: startOf(`${month}-01`, calendar.timeZone),
    until: startOf(`${next}-01`, calendar.timeZone),
  };
}

/** The months in which anything readers can read first came out, the newest first, with how much. */
export async function archiveMonths(db: Queryable) {
  const { calendar } = await loadPlaces(db);
  const rows = await db
    .select({ at: piece.firstLiveAt })
    .from(piece)
    .where(and(isNotNull(piece.firstLiveAt), isNotNull(piece.liveVersionId), isNull(piece.deletedAt)))
    .orderBy(asc(piece.firstLiveAt));
  const format = new Intl.DateTimeFormat("en-CA", { year: "numeric", month: "2-digit", timeZone: calendar.timeZone });
  const counts = new Map<string, number>();
  for (const { at } of rows) {
    const month = format.format(at ?? undefined);
    counts.set(month, (counts.get(month) ?? 0) + 1);
  }
  return [...counts]
    .map(([month, pieces]) => ({ month, name: nameOf(month), pieces }))
    .sort((a, b) => (a.month < b.month ? 1 : -1));
}
