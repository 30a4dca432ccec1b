import { setTimeout as rest } from "node:timers/promises";
import { and, eq, inArray } from "drizzle-orm";
import { commentMade } from "#core/events/remarks.ts";
import { spread } from "#core/people/spread.ts";
import type { Database } from "#server/db/client.ts";
import { piece, seat, version } from "#server/db/schema/index.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { beginBundle, doBundle, workOn } from "#server/together/commands.ts";
import type { Viewer } from "#server/viewer.ts";
import { type Act, write } from "#server/write.ts";
import { medianTimes, percentile, type Row } from "./measure.ts";

const PEOPLE = 60;
const ITEMS = 2_000;
const APPROVED = 500;
const TOLD = 10_000;
/** Until a node has looked once where the record ends, in milliseconds. */
const SETTLES = 2_000;
/** How long a reader rests between two looks, in milliseconds. */
const REST = 50;

/** Evening out 2,000 things among 60 people, beside reading them from their JSON. */
export async function evening(): Promise<Row> {
  // A simple generator, so that the numbers are the same in every run (Park and Miller, 1988).
  let seed = 7;
  const random = (below: number) => {
    seed = (seed * 16_807) % 2_147_483_647;
    return seed % below;
  };
  const key = () => `p${Math.floor(random(PEOPLE * PEOPLE) ** 0.5)}`;
  const people = Array.from({ length: PEOPLE }, (_, i) => ({ key: `p${i}`, limit: 25 + random(15) }));
  const items = Array.from({ length: ITEMS }, (_, i) => ({
    id: `i${i}`,
    holder: key(),
    able: Array.from({ length: 8 }, () => `p${random(PEOPLE)}`),
  }));
  const written = JSON.stringify({ people, items });
  const [took = 0, bare = 0] = await medianTimes([() => spread(people, items), () => JSON.parse(written)], 9);
  return {
    what: `evening out ${ITEMS} things among ${PEOPLE} people, ${spread(people, items).moves.length} moves`,
    measured: `${took.toFixed(0)} ms`,
    beside: `${bare.toFixed(1)} ms to parse them`,
    ratio: took / bare,
    aim: "≤ 200 ms",
  };
}

/** 500 pieces approved together, and how long a reader waits meanwhile, beside a quiet server. */
export async function approving(db: Database, act: Act, viewer: Viewer): Promise<Row[]> {
  const waiting = await db
    .select({ id: piece.id, revision: piece.revision, hash: version.hash })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(and(eq(piece.stateKey, "copy-edit"), eq(piece.inFlight, true)))
    .limit(APPROVED);
  await db
    .update(seat)
    .set({ personId: viewer.id, forPersonId: null, flag: null })
    .where(
      and(
        eq(seat.status, "open"),
        inArray(
          seat.pieceId,
          waiting.map(({ id }) => id),
        ),
      ),
    );
  const read = async () => {
    const begun = performance.now();
    await yourTurn(db, viewer);
    return performance.now() - begun;
  };
  const quiet: number[] = [];
  for (let i = 0; i < 30; i++) quiet.push(await read());
  const begun = await beginBundle(act, { do: "approve", note: "" }, waiting);
  if (!begun.ok) throw new Error(begun.refusal.sentence);
  const { id } = begun.value;
  await doBundle(act, { bundleId: id });
  const from = performance.now();
  let going = true;
  const working = (async () => {
    while (await workOn({ ...act, personId: null }, id));
    going = false;
  })();
  const meanwhile: number[] = [];
  while (going) {
    meanwhile.push(await read());
    await rest(REST);
  }
  await working;
  const took = performance.now() - from;
  const [before, during] = [percentile(quiet, 0.5), percentile(meanwhile, 0.5)];
  return [
    {
      what: `${waiting.length} pieces approved together`,
      measured: `${(took / 1000).toFixed(1)} s`,
      beside: `${before.toFixed(1)} ms Your turn, quiet`,
      ratio: took / before,
      aim: "≤ 30 s",
    },
    {
      what: "Your turn meanwhile",
      measured: `${during.toFixed(1)} ms`,
      beside: `${before.toFixed(1)} ms quiet`,
      ratio: during / before,
      aim: "≤ 2",
    },
  ];
}

/** 10,000 notices found their routes and laid down, beside the write with nobody told. */
export async function telling(act: Act, readers: readonly string[], pieces: readonly string[]): Promise<Row> {
  const each = Math.ceil(TOLD / readers.length);
  const laid = async (tell: boolean) => {
    const begun = performance.now();
    await write(act, async (change) => {
      for (let i = 0; i < each; i++)
        change
          .apart()
          .happened(
            commentMade,
            { body: "Once more.", version: 1 },
            { pieceId: pieces[i % pieces.length], ...(tell && { tell: { concerned: readers } }) },
          );
      return { ok: true as const, value: null };
    });
    return performance.now() - begun;
  };
  const bare = await laid(false);
  const took = await laid(true);
  return {
    what: `${each * readers.length} notices routed and laid down`,
    measured: `${(took / 1000).toFixed(1)} s`,
    beside: `${(bare / 1000).toFixed(1)} s with nobody told`,
    ratio: took / bare,
    aim: "≤ 5 s",
  };
}

/** Gives a person so many open seats of pieces in flight. @returns how many there were */
export async function seatsFor(db: Database, personId: string, seats: number): Promise<number> {
  const open = await db
    .select({ id: seat.id })
    .from(seat)
    .innerJoin(piece, eq(piece.id, seat.pieceId))
    .where(and(eq(seat.status, "open"), eq(piece.inFlight, true)))
    .limit(seats);
  const ids = open.map(({ id }) => id);
  await db.update(seat).set({ personId, forPersonId: null, flag: null }).where(inArray(seat.id, ids));
  return ids.length;
}

/** How long it takes until so many viewers on several nodes have heard of an event, beside one viewer. */
export async function heardOf(
  addresses: readonly string[],
  cookies: readonly string[],
  happen: () => Promise<unknown>,
): Promise<Row> {
  const streams = await Promise.all(
    cookies.map((cookie, i) => listen(addresses[i % addresses.length] as string, cookie)),
  );
  await rest(SETTLES);
  const begun = performance.now();
  const heard = streams.map(({ next }) => next().then(() => performance.now() - begun));
  await happen();
  const times = await Promise.all(heard);
  for (const { stop } of streams) stop();
  const [last, first] = [Math.max(...times), Math.min(...times)];
  return {
    what: `an event heard by ${cookies.length} viewers on ${addresses.length} nodes`,
    measured: `${last.toFixed(0)} ms until the last`,
    beside: `${first.toFixed(0)} ms until the first`,
    ratio: last / first,
    aim: "≤ 2000 ms",
  };
}

/** A window's stream of events; open once it has said its first word. */
async function listen(address: string, cookie: string) {
  const ending = new AbortController();
  const answer = await fetch(address, { headers: { cookie }, signal: ending.signal });
  const reader = (answer.body as ReadableStream<Uint8Array>).getReader();
  const decoder = new TextDecoder();
  /** Until something is said that is more than that it is alive. */
  const next = async () => {
    for (let said = ""; !/^(data|event):/m.test(said); ) {
      const { value, done } = await reader.read();
      if (done) throw new Error(`${address} ended`);
      said = decoder.decode(value);
    }
  };
  return { next, stop: () => ending.abort() };
}
