import { v7 } from "uuid";
import { localDate } from "#core/time/local.ts";
import { lateGuestsOn, piecesOfLateGuests, piecesOutOfSeat, relieve, voidSeats } from "../review/relief.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, type Change, write } from "../write.ts";
import type { Job } from "./job.ts";

/**
 * Moves seats when an absence begins or ends, and takes those of guests whose link is over out of the
 * count. Each piece is a write of its own, decided under its lock, so several nodes may do it at once.
 */
export const seatsDue: Job = async (worker) => {
  const { db } = worker;
  const now = await worker.now();
  const { calendar } = await loadPlaces(db);
  const act = (): Act => ({
    db,
    personId: null,
    now,
    origin: `job seats on ${worker.node}`,
    requestId: v7(),
    baseUrl: worker.baseUrl,
  });
  const moving = await piecesOutOfSeat(db, localDate(now, calendar.timeZone));
  for (const id of moving) await write(act(), (change) => relieve(change, id));
  const late = await piecesOfLateGuests(db, now);
  const leave = async (change: Change, id: string) =>
    voidSeats(change, id, await lateGuestsOn(change.tx, id, change.now));
  for (const id of late) await write(act(), (change) => leave(change, id));
  return 0;
};
