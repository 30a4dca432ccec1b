import pino from "pino";
import type { Worker } from "#server/jobs/job.ts";
import type { World } from "./world.ts";

/** A node's worker at a given instant. */
export const worker = (world: World, now: number): Worker => ({
  db: world.db,
  node: "test",
  now: async () => now,
  baseUrl: "http://elenco.test",
  files: world.files,
  smtpUrl: null,
  log: pino({ level: "silent" }),
});
