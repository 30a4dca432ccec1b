import type { Logger } from "pino";
import type { Database } from "../db/client.ts";

/** What a node's jobs need. */
export interface Worker {
  db: Database;
  /** This node's name on leases. */
  node: string;
  now(): Promise<number>;
  baseUrl: string;
  smtpUrl: string | null;
  log: Logger;
}

/** One kind of waiting work: takes up what is due, answers how many it dealt with. */
export type Job = (worker: Worker) => Promise<number>;
