import { localDate } from "#core/time/local.ts";
import { guestLinkOf } from "../guests/queries.ts";
import { piecesReviewedBy, piecesWithWork, relieve, voidLateSeats } from "../passage/relief.ts";
import { nextAbsenceChange } from "../people/absence.ts";
import { nextGrantChange } from "../people/grants.ts";
import { foreseeOfPlanner } from "../release/foresee.ts";
import { loadPlaces } from "../sections/places.ts";
import { write } from "../write.ts";
import { actOf, type Job } from "./job.ts";

const patient = { lease: 30_000, batch: 10 };

/** An absence began or ended: what waits on the person goes to whoever should have it today. */
export const absences: Job = {
  ...patient,
  async run(worker, { subject: personId }, now) {
    for (const pieceId of await piecesWithWork(worker.db, personId))
      await write(actOf(worker, "absences", now), (change) => relieve(change, pieceId));
    const { calendar } = await loadPlaces(worker.db);
    return nextAbsenceChange(worker.db, personId, localDate(now, calendar.timeZone), calendar.timeZone);
  },
};

/** Somebody may do other things than before: rounds they sit in, and releases they answer for, are looked at again. */
export const access: Job = {
  ...patient,
  async run(worker, { subject: personId }, now) {
    for (const pieceId of await piecesReviewedBy(worker.db, personId))
      await write(actOf(worker, "access", now), (change) => relieve(change, pieceId));
    await foreseeOfPlanner(actOf(worker, "access", now), personId);
    return nextGrantChange(worker.db, personId, now);
  },
};

/** A guest's link is over: their seat no longer counts. */
export const guests: Job = {
  ...patient,
  async run(worker, { subject: guestId }, now) {
    const link = await guestLinkOf(worker.db, guestId);
    if (!link) return null;
    if (link.revokedAt === null && link.expiresAt > now) return link.expiresAt;
    await write(actOf(worker, "guests", now), (change) => voidLateSeats(change, link.pieceId));
    return null;
  },
};
