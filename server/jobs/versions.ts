import { asc, lte } from "drizzle-orm";
import { piece } from "../db/schema/index.ts";
import { thinVersions } from "../text/thinning.ts";
import { actOf, type Job } from "./job.ts";

const BATCH = 20;

/** Thins out old versions nobody relies on. What goes is decided under each piece's lock, so several nodes may do it at once. */
export const versionsDue: Job = async (worker) => {
  const now = await worker.now();
  const rows = await worker.db
    .select({ id: piece.id })
    .from(piece)
    .where(lte(piece.thinAt, now))
    .orderBy(asc(piece.thinAt))
    .limit(BATCH);
  for (const { id } of rows) await thinVersions(actOf(worker, "versions", now), id);
  return rows.length;
};
