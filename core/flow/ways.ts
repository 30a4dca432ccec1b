import type { Stay } from "./measure.ts";

/** Where a piece was, and when: one corner of its way on the sheet. */
export interface Corner {
  at: number;
  /** The stop's place on the line. */
  stop: number;
  /** Which of the rows of that stop is the piece's. */
  row: number;
}

/** A line's sheet: how many rows each stop needs, and the ways of the pieces over them; who begins anew has another. */
export interface Sheet {
  rows: number[];
  ways: { piece: string; corners: Corner[] }[];
}

/** A stop has so many rows at most; more pieces than that share them. */
const ROWS = 14;

/**
 * Lays out the ways of pieces over time: level while a piece waits at a stop, falling when it moves on, rising when it
 * comes back. At a stop each piece has a row of its own for as long as it is there, the highest that is free. At the
 * last stop a way ends; a piece that sets out from there once more begins another.
 *
 * @param line the keys of the stops, in order; stays elsewhere are left out
 * @param stays in any order
 * @param until where the sheet ends, epoch milliseconds: what has not left reaches there
 */
export function waysOf(line: readonly string[], stays: readonly Stay[], until: number): Sheet {
  const places = new Map(line.map((key, i) => [key, i]));
  const taken: number[][] = line.map(() => []);
  const ways: Sheet["ways"] = [];
  const going = new Map<string, Corner[]>();
  for (const { piece, state, arrivedAt, leftAt = until } of [...stays].sort((a, b) => a.arrivedAt - b.arrivedAt)) {
    const stop = places.get(state);
    const rows = stop === undefined ? undefined : taken[stop];
    if (stop === undefined || !rows) continue;
    const ends = stop === line.length - 1;
    const free = rows.findIndex((until) => until <= arrivedAt);
    const row = ends ? 0 : free < 0 ? rows.length : free;
    rows[row] = leftAt;
    let corners = going.get(piece);
    if (!corners) {
      corners = [];
      going.set(piece, corners);
      ways.push({ piece, corners });
    }
    const stays = ends ? arrivedAt : Math.max(arrivedAt, leftAt);
    corners.push({ at: arrivedAt, stop, row: row % ROWS }, { at: stays, stop, row: row % ROWS });
    if (ends) going.delete(piece);
  }
  return {
    rows: taken.map((rows) => Math.max(1, Math.min(ROWS, rows.length))),
    ways,
  };
}
