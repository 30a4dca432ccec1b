import { and, asc, eq, gte, inArray, lt, ne } from "drizzle-orm";
import { sayHold } from "#core/release/preflight.ts";
import { groupBy } from "#core/words/group.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, piece } from "../db/schema/index.ts";
import { isGathering } from "../editions/open.ts";
import { waysAhead } from "../pieces/ahead.ts";
import { editionName } from "../release/ahead.ts";
import { type Channel, seesTo } from "../release/channels.ts";
import type { Viewer } from "../viewer.ts";
import type { Mark, TimetableWanted } from "./mark.ts";

/** So many editions a timetable holds. */
const MOST = 300;

/** The editions of a span as marks: how far each is filled, as far as the viewer may see what is in it. Narrowed to a section or kind there are none. */
export async function editionMarks(
  db: Queryable,
  viewer: Viewer,
  channels: readonly Channel[],
  { from, until, section, kind }: TimetableWanted,
): Promise<Mark[]> {
  const gathering = channels.filter(isGathering);
  if (gathering.length === 0 || section || kind) return [];
  const rows = await db
    .select()
    .from(edition)
    .where(
      and(
        inArray(
          edition.channel,
          gathering.map((one) => one.key),
        ),
        ne(edition.status, "dropped"),
        gte(edition.at, from),
        lt(edition.at, until),
      ),
    )
    .orderBy(asc(edition.at))
    .limit(MOST);
  if (rows.length === 0) return [];
  const items = await db
    .select({
      editionId: editionItem.editionId,
      pieceId: piece.id,
      title: piece.title,
      stateKey: piece.stateKey,
      stateKind: piece.stateKind,
      since: piece.since,
      dueAt: piece.dueAt,
      revisionId: piece.workflowRevisionId,
      at: edition.at,
    })
    .from(editionItem)
    .innerJoin(edition, eq(edition.id, editionItem.editionId))
    .innerJoin(piece, eq(piece.id, editionItem.pieceId))
    .where(
      and(
        visible(viewer),
        inArray(
          editionItem.editionId,
          rows.map((row) => row.id),
        ),
      ),
    );
  const ways = await waysAhead(
    db,
    viewer,
    items.filter((item) => item.stateKind !== "ready" && item.stateKind !== "live"),
  );
  const contents = groupBy(items, (item) => item.editionId);
  return rows.map((row): Mark => {
    const of = gathering.find((one) => one.key === row.channel) as (typeof gathering)[number];
    const inIt = contents.get(row.id) ?? [];
    const coming = inIt.flatMap(({ pieceId, title }) => {
      const ahead = ways.get(pieceId);
      return ahead ? [{ title, way: ahead.way, expected: ahead.expected }] : [];
    });
    const late = coming.map((one) => one.expected).filter((at) => at !== null);
    const name = editionName(of.editions, row.number);
    return {
      id: `edition ${row.id}`,
      pieceId: null,
      to: `/editions/${row.channel}/${row.number}`,
      channel: row.channel,
      title: name,
      revision: row.revision,
      what: row.status === "released" ? "left" : row.status === "held" ? "held" : "edition",
      at: row.releasedAt ?? row.at,
      kindId: "",
      sectionId: "",
      sectionIds: [],
      authorId: "",
      subject: "",
      way: null,
      ready: row.status === "signed",
      expected: late.length > 0 ? Math.max(...late) : null,
      replaces: false,
      holds: row.holds.filter((one) => one.pieceId === null).flatMap((one) => one.holds.map(sayHold)),
      by: null,
      movable: row.status !== "released" && seesTo(viewer, of, viewer.places, viewer.now),
      confirmable: false,
      edition: {
        id: row.id,
        ready: inIt.length - coming.length,
        of: inIt.length,
        coming: coming.map(({ title, way }) => ({ title, way })),
      },
    };
  });
}
