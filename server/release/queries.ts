import { and, asc, eq, gte, inArray, isNull, ne, sql } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import type { Hold } from "#core/release/preflight.ts";
import { lineage, pathName } from "#core/sections/tree.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, release, version } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { OPEN } from "./plans.ts";

const DAY = 86_400_000;

/** One line of the schedule. */
export interface ScheduleRow {
  pieceId: string;
  slug: string;
  title: string;
  kind: string;
  section: string;
  revision: number;
  /** When it leaves or left; for a piece not yet planned, the date wished for. */
  at: number | null;
  status: "proposed" | "planned" | "held" | "done" | "ready" | "wished";
  holds: Hold[];
  by: string | null;
  version: number | null;
  live: boolean;
  /** Whether the viewer may plan and take back here, and whether they may let out what is proposed. */
  schedulable: boolean;
  confirmable: boolean;
}

/** What leaves when: planned and held releases, what left in the last week, and what is ready or wished for without a plan. */
export async function listSchedule(db: Queryable, viewer: Viewer): Promise<ScheduleRow[]> {
  const columns = {
    pieceId: piece.id,
    slug: piece.slug,
    title: piece.title,
    kind: kind.name,
    kindId: piece.kindId,
    sectionId: piece.sectionId,
    stateKind: piece.stateKind,
    revision: piece.revision,
    live: piece.liveVersionId,
  };
  const [plans, unplanned] = await Promise.all([
    db
      .select({
        ...columns,
        at: release.at,
        doneAt: release.doneAt,
        status: release.status,
        holds: release.holds,
        by: person.name,
        version: version.number,
      })
      .from(release)
      .innerJoin(piece, eq(piece.id, release.pieceId))
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .innerJoin(person, eq(person.id, release.plannedBy))
      .innerJoin(version, eq(version.id, release.versionId))
      .where(
        and(
          visible(viewer),
          sql`(${inArray(release.status, [...OPEN])} OR ${and(eq(release.status, "done"), gte(release.at, viewer.now - 7 * DAY))})`,
        ),
      )
      .orderBy(asc(release.at), asc(release.id))
      .limit(500),
    db
      .select({ ...columns, at: piece.publishAt })
      .from(piece)
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .leftJoin(release, and(eq(release.pieceId, piece.id), inArray(release.status, [...OPEN])))
      .where(
        and(
          visible(viewer),
          isNull(release.id),
          ne(piece.stateKind, "live"),
          ne(piece.stateKind, "closed"),
          sql`(${eq(piece.stateKind, "ready")} OR ${gte(piece.publishAt, viewer.now - 30 * DAY)})`,
        ),
      )
      .orderBy(sql`${piece.publishAt} IS NULL`, asc(piece.publishAt), asc(piece.title))
      .limit(500),
  ]);
  const shared = (row: (typeof unplanned)[number]) => ({
    pieceId: row.pieceId,
    slug: row.slug,
    title: row.title,
    kind: row.kind,
    section: pathName(viewer.places, row.sectionId),
    revision: row.revision,
    live: row.live !== null,
    schedulable: row.stateKind === "ready" && may("piece.schedule", row),
    confirmable: false,
  });
  const may = (permission: Permission, row: (typeof unplanned)[number]) =>
    can(
      viewer,
      permission,
      { sectionIds: lineage(viewer.places, row.sectionId).map((one) => one.id), kindId: row.kindId, piece: null },
      viewer.now,
    ).allowed;
  return [
    ...plans.map(
      (row): ScheduleRow => ({
        ...shared(row),
        at: row.doneAt ?? row.at,
        status: row.status as ScheduleRow["status"],
        confirmable: row.status === "proposed" && may("piece.release", row),
        holds: row.holds,
        by: row.by,
        version: row.version,
      }),
    ),
    ...unplanned.map(
      (row): ScheduleRow => ({
        ...shared(row),
        at: row.at,
        status: row.stateKind === "ready" ? "ready" : "wished",
        holds: [],
        by: null,
        version: null,
      }),
    ),
  ];
}
