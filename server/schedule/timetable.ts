import { and, asc, eq, gte, inArray, isNotNull, isNull, lt, notExists, notInArray, type SQL, sql } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import { SITE } from "#core/release/channel.ts";
import { lookOver } from "#core/release/findings.ts";
import { sayHold } from "#core/release/preflight.ts";
import { below, lineage } from "#core/sections/tree.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, kind, person, piece, release, released, version } from "../db/schema/index.ts";
import { UNDER_WAY } from "../editions/open.ts";
import { waysAhead } from "../pieces/ahead.ts";
import { drawRows, rowColumns } from "../pieces/rows.ts";
import { type Channel, loadChannels } from "../release/channels.ts";
import { OPEN } from "../release/plans.ts";
import type { Viewer } from "../viewer.ts";
import { editionMarks } from "./editions.ts";
import type { Mark, MarkKind, TimetableWanted } from "./mark.ts";

/** So many marks a timetable holds, so many wishes, so many rows the list below it; so many wait beside it. */
const [MARKS, WISHES, LISTED, ASIDE] = [4_000, 400, 200, 30];

const columns = {
  pieceId: piece.id,
  slug: piece.slug,
  title: piece.title,
  revision: piece.revision,
  sectionId: piece.sectionId,
  kindId: piece.kindId,
  authorId: piece.authorId,
  live: piece.liveVersionId,
};
type Row = { [K in keyof typeof columns]: K extends "revision" ? number : string | (K extends "live" ? null : never) };

/** Everything that leaves, left, is wished for or ends in a span, as far as the viewer may see it, and what to look at in it. */
export async function timetable(db: Queryable, viewer: Viewer, wanted: TimetableWanted) {
  const { from, until } = wanted;
  const narrowed = narrowing(viewer, wanted);
  const channels = await loadChannels(db);
  const site = channels[0] as Channel;
  const [plans, wishes, ends, editions] = await Promise.all([
    db
      .select({
        ...columns,
        at: sql<number>`COALESCE(${release.doneAt}, ${release.at})`.mapWith(release.at),
        channel: release.channel,
        status: release.status,
        holds: release.holds,
        by: person.name,
      })
      .from(release)
      .innerJoin(piece, eq(piece.id, release.pieceId))
      .innerJoin(person, eq(person.id, release.plannedBy))
      .where(and(narrowed, inArray(release.status, [...OPEN, "done"]), gte(release.at, from), lt(release.at, until)))
      .orderBy(asc(release.at), asc(release.id))
      .limit(MARKS),
    db
      .select({
        ...columns,
        at: piece.publishAt,
        stateKey: piece.stateKey,
        stateKind: piece.stateKind,
        since: piece.since,
        dueAt: piece.dueAt,
        revisionId: piece.workflowRevisionId,
      })
      .from(piece)
      .leftJoin(release, and(eq(release.pieceId, piece.id), inArray(release.status, [...OPEN])))
      .where(
        and(
          narrowed,
          eq(piece.inFlight, true),
          isNull(release.id),
          notInEdition,
          gte(piece.publishAt, from),
          lt(piece.publishAt, until),
        ),
      )
      .orderBy(asc(piece.publishAt), asc(piece.id))
      .limit(WISHES),
    db
      .select({ ...columns, at: released.endsAt, channel: released.channel })
      .from(released)
      .innerJoin(piece, eq(piece.id, released.pieceId))
      .where(
        and(
          narrowed,
          isNull(released.until),
          isNotNull(released.endsAt),
          gte(released.endsAt, from),
          lt(released.endsAt, until),
        ),
      )
      .limit(WISHES),
    editionMarks(db, viewer, channels, wanted),
  ]);
  const ways = await waysAhead(db, viewer, wishes);
  const subjects = await subjectsOf(db, site.lookout.subject, [...plans, ...wishes]);
  const places = reached(viewer);
  const mark = (row: Row, what: MarkKind, at: number, more: Partial<Mark> = {}): Mark => ({
    id: row.pieceId,
    pieceId: row.pieceId,
    to: `/pieces/${row.slug}`,
    channel: SITE,
    title: row.title,
    revision: row.revision,
    what,
    at,
    kindId: row.kindId,
    sectionId: row.sectionId,
    sectionIds: places.above(row.sectionId),
    authorId: row.authorId,
    subject: subjects.get(row.pieceId) ?? "",
    way: null,
    ready: what !== "wished",
    expected: null,
    replaces: row.live !== null,
    holds: [],
    by: null,
    movable: what !== "left" && what !== "ends" && places.may("piece.schedule", row),
    confirmable: what === "proposed" && places.may("piece.release", row),
    edition: null,
    ...more,
  });
  const marks = [
    ...plans.map(({ at, status, holds, by, channel, ...row }) =>
      mark(row, status === "done" ? "left" : (status as MarkKind), at, {
        ...(channel !== SITE && { id: `${channel} ${row.pieceId}` }),
        channel,
        holds: holds.map(sayHold),
        by,
        replaces: channel === SITE && status !== "done" && row.live !== null,
      }),
    ),
    ...wishes.map((row) =>
      mark(row, "wished", row.at ?? 0, row.stateKind === "ready" ? { ready: true } : (ways.get(row.pieceId) ?? {})),
    ),
    ...ends.map(({ channel, ...row }) =>
      mark(row, "ends", row.at ?? 0, { id: `end ${channel} ${row.pieceId}`, channel, replaces: false }),
    ),
    ...editions,
  ].sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1));
  const zone = viewer.calendar.timeZone;
  const ahead = { from: Math.max(from, Math.min(viewer.now, until)), until };
  const findings = channels.flatMap(({ key, lookout }) => {
    const leavings = marks.filter((one) => one.channel === key && one.what !== "ends");
    return lookOver(leavings, lookout, ahead, zone).map((finding) => ({ ...finding, channel: key }));
  });
  return {
    marks,
    findings: findings.sort((a, b) => a.from - b.from),
    channels: channels.map(({ key, name, windows, windowed, lookout, usual, editions: gathers }) => ({
      key,
      name,
      windows,
      windowed,
      lookout,
      usual,
      gathers: gathers !== null,
    })),
  };
}

/** Whether a piece leaves with no edition. @param more what else holds of such an edition */
const inNoEdition = (more?: SQL) =>
  notExists(
    sql`(SELECT 1 FROM ${editionItem} JOIN ${edition} ON ${edition.id} = ${editionItem.editionId} WHERE ${and(eq(editionItem.pieceId, piece.id), inArray(edition.status, [...UNDER_WAY]), more)})`,
  );
/** What leaves with an edition at that time is shown by the edition. */
const notInEdition = inNoEdition(sql`${edition.at} = ${piece.publishAt}`);

function narrowing(viewer: Viewer, { section: sectionKey, kind: kindKey }: TimetableWanted): SQL | undefined {
  const root = [...viewer.places.sections.values()].find((one) => one.key === sectionKey);
  return and(
    visible(viewer),
    root ? inArray(piece.sectionId, below(viewer.places, root.id)) : undefined,
    kindKey ? sql`${piece.kindId} IN (SELECT ${kind.id} FROM ${kind} WHERE ${kind.key} = ${kindKey})` : undefined,
  );
}

/** What a viewer may do where: asked once for each place, however many pieces lie there. */
function reached(viewer: Viewer) {
  const lines = new Map<string, string[]>();
  const answers = new Map<string, boolean>();
  const above = (sectionId: string): string[] => {
    const found = lines.get(sectionId) ?? lineage(viewer.places, sectionId).map((one) => one.id);
    lines.set(sectionId, found);
    return found;
  };
  const may = (permission: Permission, { sectionId, kindId }: Pick<Row, "sectionId" | "kindId">): boolean => {
    const key = `${permission} ${sectionId} ${kindId}`;
    const answer =
      answers.get(key) ??
      can(viewer, permission, { sectionIds: above(sectionId), kindId, piece: null }, viewer.now).allowed;
    answers.set(key, answer);
    return answer;
  };
  return { above, may };
}

/** What some pieces hold in the field that is looked at. */
async function subjectsOf(db: Queryable, field: string | null, rows: readonly { pieceId: string }[]) {
  if (field === null || rows.length === 0) return new Map<string, string>();
  const path = `$.fields."${field.replaceAll('"', "")}"`;
  const found = await db
    .select({ id: piece.id, subject: sql<string | null>`JSON_UNQUOTE(JSON_EXTRACT(${version.content}, ${path}))` })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(
      inArray(
        piece.id,
        rows.map((row) => row.pieceId),
      ),
    );
  return new Map(found.map(({ id, subject }) => [id, String(subject ?? "").slice(0, 120)]));
}

/** The pieces of some marks as rows of a list, with their ways. */
export async function rowsOf(db: Queryable, viewer: Viewer, marks: readonly Mark[]) {
  const ids = [...new Set(marks.slice(0, LISTED).flatMap((one) => one.pieceId ?? []))];
  if (ids.length === 0) return [];
  const raw = await db
    .select(rowColumns)
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .where(and(visible(viewer), inArray(piece.id, ids)));
  return drawRows(db, viewer, raw);
}

/** What waits beside a timetable: dates to confirm, and what is ready and not planned. */
export async function besideTimetable(
  db: Queryable,
  viewer: Viewer,
  wanted: Pick<TimetableWanted, "section" | "kind">,
) {
  const narrowed = narrowing(viewer, { ...wanted, from: 0, until: 0 });
  const [proposed, undated] = await Promise.all([
    db
      .select({ ...columns, at: release.at, by: person.name, channel: release.channel })
      .from(release)
      .innerJoin(piece, eq(piece.id, release.pieceId))
      .innerJoin(person, eq(person.id, release.plannedBy))
      .where(and(narrowed, eq(release.status, "proposed")))
      .orderBy(asc(release.at), asc(piece.id))
      .limit(ASIDE),
    db
      .select({ ...columns, kind: kind.name, since: piece.since, wish: piece.publishAt })
      .from(piece)
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .leftJoin(release, and(eq(release.pieceId, piece.id), inArray(release.status, [...OPEN])))
      .where(
        and(
          narrowed,
          eq(piece.stateKind, "ready"),
          isNull(release.id),
          inNoEdition(),
          notInArray(piece.stateKind, ["live", "closed"]),
        ),
      )
      .orderBy(asc(piece.since), asc(piece.id))
      .limit(ASIDE),
  ]);
  const { may } = reached(viewer);
  return {
    proposed: proposed.map((row) => ({ ...row, confirmable: may("piece.release", row) })),
    undated: undated.map((row) => ({ ...row, schedulable: may("piece.schedule", row) })),
  };
}
