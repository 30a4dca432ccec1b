import { sweepFiles } from "../files/sweep.ts";
import { sweepUnconfirmed } from "../intake/requests.ts";
import type { Job } from "./job.ts";

const DAY = 24 * 3_600_000;

/** Once a day: files nobody names any more are taken away, and requests whose address nobody confirmed. */
export const sweep: Job = {
  lease: 10 * 60_000,
  batch: 1,
  async run({ db, files, log }, _, now) {
    const cleared = await sweepFiles(db, files);
    if (cleared > 0) log.info({ cleared }, "files nobody names any more were taken away");
    await sweepUnconfirmed(db, now);
    return now + DAY;
  },
};
