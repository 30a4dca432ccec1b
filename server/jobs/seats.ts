import { localDate } from "#core/time/local.ts";
import { piecesOfLateGuests, piecesOutOfSeat, relieve, voidLateSeats } from "../review/relief.ts";
import { loadPlaces } from "../sections/places.ts";
import { write } from "../write.ts";
import { actOf, type Job } from "./job.ts";

/**
 * Moves seats when an absence begins or ends, and takes those of guests whose link is over out of the
 * count. Each piece is a write of its own, decided under its lock, so several nodes may do it at once.
 */
export const seatsDue: Job = async (worker) => {
  const { db } = worker;
  const now = await worker.now();
  const { calendar } = await loadPlaces(db);
  const act = () => actOf(worker, "seats", now);
  const moving = await piecesOutOfSeat(db, localDate(now, calendar.timeZone));
  for (const id of moving) await write(act(), (change) => relieve(change, id));
  for (const id of await piecesOfLateGuests(db, now)) await write(act(), (change) => voidLateSeats(change, id));
  return 0;
};
