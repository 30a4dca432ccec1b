import pino from "pino";
import { newId } from "#server/db/schema/columns.ts";
import type { Worker } from "#server/jobs/job.ts";
import type { World } from "./world.ts";

/** A node's worker at a given instant. */
export const worker = (world: World, now: number, more: Partial<Worker> = {}): Worker => ({
  db: world.db,
  node: newId(),
  now: async () => now,
  baseUrl: "http://elenco.test",
  files: world.files,
  smtpUrl: null,
  standIns: true,
  log: pino({ level: "silent" }),
  ...more,
});
