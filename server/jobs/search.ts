import { indexPiece } from "../search/entries.ts";
import type { Job } from "./job.ts";

/** Makes a piece's words found as they stand now. */
export const search: Job = {
  lease: 30_000,
  batch: 40,
  async run(worker, { subject }) {
    await indexPiece(worker.db, subject);
    return null;
  },
};
