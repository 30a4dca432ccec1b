/** Somebody who has things to do, and how many of them are enough. */
export interface Bearer {
  key: string;
  limit: number;
}

/** Something to be done: who has it, and who else may. */
export interface Burden {
  id: string;
  holder: string;
  able: readonly string[];
}

/** What to move to whom, and by how many things people are over their limits in all once that is done. */
export interface Spread {
  moves: { item: string; to: string }[];
  over: number;
}

/** What moving a thing once more adds to the number of moves: one that comes home again is none. */
const COSTS = [-1, 0, 1] as const;

/**
 * Evens a load out: first the total by which people are over their limits is made least, then the number
 * of moves. What somebody unknown has stays with them.
 *
 * A flow of least cost by successive shortest paths (Ahuja, Magnanti and Orlin, *Network Flows*, 1993,
 * 9.7): whoever has too much hands something on, who takes it may hand something else on, and so forth to
 * somebody with room. A path may take an earlier move back.
 *
 * @returns the moves in the order of the things; `over` counts things
 */
export function spread(people: readonly Bearer[], items: readonly Burden[]): Spread {
  const place = new Map(people.map(({ key }, i) => [key, i]));
  const things = items.flatMap(({ id, holder, able }) => {
    const home = place.get(holder);
    if (home === undefined) return [];
    const others = new Set(able.flatMap((key) => place.get(key) ?? []));
    return [{ id, home, at: home, may: others.add(home) }];
  });
  type Thing = (typeof things)[number];
  const held = people.map(() => new Set<Thing>());
  for (const thing of things) held[thing.at]?.add(thing);
  const lanes = lanesOf(people.length);
  for (const thing of things) lanes.count(thing, 1);

  const excess = (i: number) => (held[i]?.size ?? 0) - (people[i]?.limit ?? 0);
  for (let path = shortest(people.length, excess, lanes.cost); path; path = shortest(people.length, excess, lanes.cost))
    // From the end with room, so that nobody hands on what they are only about to get.
    for (const [from, to] of path.reverse()) {
      const cost = lanes.cost(from, to);
      const thing = [...(held[from] ?? [])].find((one) => one.may.has(to) && costOf(one, to) === cost);
      if (!thing) throw new Error("a lane led on along which nothing could be handed");
      lanes.count(thing, -1);
      held[from]?.delete(thing);
      held[to]?.add(thing);
      thing.at = to;
      lanes.count(thing, 1);
    }
  return {
    moves: things.flatMap(({ id, home, at }) => (at === home ? [] : { item: id, to: people[at]?.key ?? "" })),
    over: people.reduce((sum, _, i) => sum + Math.max(0, excess(i)), 0),
  };
}

const costOf = ({ home, at }: { home: number; at: number }, to: number) => Number(to !== home) - Number(at !== home);

/** Between any two people, how many things could be handed on at each cost. */
function lanesOf(size: number) {
  const counts = new Int32Array(size * size * COSTS.length);
  const lane = (from: number, to: number) => (from * size + to) * COSTS.length;
  return {
    count(thing: { home: number; at: number; may: ReadonlySet<number> }, by: number) {
      for (const to of thing.may) {
        if (to === thing.at) continue;
        const i = lane(thing.at, to) + COSTS.indexOf(costOf(thing, to) as -1 | 0 | 1);
        counts[i] = (counts[i] ?? 0) + by;
      }
    },
    /** The least that handing something on costs; infinite where nothing can be. */
    cost(from: number, to: number): number {
      const at = lane(from, to);
      return COSTS.find((_, i) => (counts[at + i] ?? 0) > 0) ?? Number.POSITIVE_INFINITY;
    },
  };
}

/** The cheapest way from anybody who has too much to anybody with room, by Bellman and Ford; null where there is none. */
function shortest(
  size: number,
  excess: (i: number) => number,
  cost: (from: number, to: number) => number,
): [from: number, to: number][] | null {
  const everybody = Array.from({ length: size }, (_, i) => i);
  const dist = everybody.map((i) => (excess(i) > 0 ? 0 : Number.POSITIVE_INFINITY));
  const before = new Int32Array(size).fill(-1);
  const queue = everybody.filter((i) => dist[i] === 0);
  for (let from = queue.shift(); from !== undefined; from = queue.shift())
    for (const to of everybody) {
      const reached = (dist[from] ?? 0) + cost(from, to);
      if (to === from || reached >= (dist[to] ?? 0)) continue;
      dist[to] = reached;
      before[to] = from;
      if (!queue.includes(to)) queue.push(to);
    }
  const ends = everybody.filter((i) => excess(i) < 0 && dist[i] !== Number.POSITIVE_INFINITY);
  const end = ends.reduce<number | null>(
    (best, i) => (best === null || (dist[i] ?? 0) < (dist[best] ?? 0) ? i : best),
    null,
  );
  if (end === null) return null;
  const path: [number, number][] = [];
  for (let to = end; (before[to] ?? -1) >= 0; to = before[to] ?? -1) path.push([before[to] ?? -1, to]);
  return path.reverse();
}
