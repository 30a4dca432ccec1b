import type { Logger } from "pino";
import { v7 } from "uuid";
import type { Database } from "../db/client.ts";
import type { Act } from "../write.ts";

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
});

/** One kind of waiting work: takes up what is due, answers how many it dealt with. */
export type Job = (worker: Worker) => Promise<number>;
