import type { Logger } from "pino";
import { v7 } from "uuid";
import type { Database } from "../db/client.ts";
import type { Act } from "../write.ts";
import type { Task } from "./claim.ts";

/** What a node's jobs need. */
export interface Worker {
  db: Database;
  /** This node's name on leases. */
  node: string;
  now(): Promise<number>;
  baseUrl: string;
  /** The folder in which files are kept. */
  files: string;
  smtpUrl: string | null;
  /** Whether stand-ins for outside services are switched on. */
  standIns: boolean;
  log: Logger;
}

/** What a job's write begins with: nobody acts, and the record says which job on which node. */
export const actOf = ({ db, node, baseUrl, files }: Worker, job: string, now: number): Act => ({
  db,
  personId: null,
  now,
  origin: `job ${job} on ${node}`,
  requestId: v7(),
  baseUrl,
  files,
  proven: true,
});

/**
 * How one kind of task is done. That it happens once is decided inside the command it runs, under
 * the row's lock: the claim only spreads the work.
 */
export interface Job {
  /** How long a claim holds, in milliseconds, and how many are claimed at once. */
  lease: number;
  batch: number;
  /** Does all that was claimed at once; where it fails none of it has happened, and each is done alone. */
  together?(worker: Worker, tasks: readonly Task[], now: number): Promise<void>;
  /** Does what was claimed. @returns when to do it again, by the publication's time, or null when it is done */
  run(worker: Worker, task: Task, now: number): Promise<number | null>;
}
