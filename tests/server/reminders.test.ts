import { and, asc, eq, inArray } from "drizzle-orm";
import { ledger, notice, person, piece, round, seat, task } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { decide } from "#server/passage/deciding.ts";
import { changeDue } from "#server/passage/routing.ts";
import { worker } from "../support/worker.ts";
import { accepted, begin, bindReview, look, MORNING, makeWorld, send, type World } from "../support/world.ts";

const DAY = 86_400_000;
/** A review that takes a working day is due on Wednesday evening; so long after that it is late in any zone. */
const REMINDED = MORNING + DAY;
const LATE = MORNING + 3 * DAY;

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const tick = (now: number) => doDue(worker(world, now), "reminder");

const CALLS = ["review.reminded", "review.overdue", "seat.moved"];

/** What was called on a piece, oldest first. */
async function calls(id: string): Promise<string[]> {
  const rows = await world.db.select().from(ledger).where(eq(ledger.pieceId, id)).orderBy(asc(ledger.seq));
  return rows.map((row) => row.action).filter((action) => CALLS.includes(action));
}

/** Who was told of an event of a piece. */
async function told(id: string, action: string): Promise<string[]> {
  const rows = await world.db
    .select({ personId: notice.personId, part: notice.part })
    .from(notice)
    .innerJoin(ledger, eq(ledger.seq, notice.seq))
    .where(and(eq(ledger.action, action), eq(notice.pieceId, id)));
  const people = new Map(["wim", "tobia", "petra", "ilda", "jorun"].map((key) => [world.id(key), key]));
  return rows.map(({ personId, part }) => `${part} ${people.get(personId) ?? "somebody"}`).sort();
}

async function inReview(more: Record<string, unknown>) {
  await bindReview(world, "any", [{ person: "wim" }], more);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  return id;
}

const sitting = async (id: string) => {
  const rows = await world.db.select({ personId: seat.personId }).from(seat).where(eq(seat.pieceId, id));
  return rows.map((row) => row.personId);
};

test("who has not decided is reminded before it is due, once, whichever node looks and however often", async () => {
  const id = await inReview({ remind: ["4h"] });
  await tick(MORNING);
  expect(await calls(id)).toEqual([]);
  const { dueAt } = (await look(world, id)).piece;
  await Promise.all([tick((dueAt ?? 0) - 3_600_000), tick((dueAt ?? 0) - 3_600_000)]);
  await tick(LATE);
  expect(await calls(id)).toEqual(["review.reminded"]);
  expect(await told(id, "review.reminded")).toEqual(["called wim"]);
});

test("who decided is not reminded, and nothing is left to do", async () => {
  const id = await inReview({ remind: ["4h"], overdue: { after: "1h", do: "escalate", to: "role:chief" } });
  const { version } = await look(world, id);
  accepted(
    await decide(world.act("wim"), {
      pieceId: id,
      verdict: "approve",
      note: "",
      versionHash: version.hash,
      sends: false,
    }),
  );
  const rounds = await world.db.select({ id: round.id }).from(round).where(eq(round.pieceId, id));
  const left = await world.db
    .select()
    .from(task)
    .where(
      inArray(
        task.subject,
        rounds.map((one) => one.id),
      ),
    );
  expect(left).toEqual([]);
  await tick(LATE);
  expect(await calls(id)).toEqual([]);
});

test("a clock that jumps past all of it makes each call once; whom the workflow names is told", async () => {
  const id = await inReview({ remind: ["1h", "4h"], overdue: { after: "1h", do: "escalate", to: "role:chief" } });
  await tick(LATE + 7 * DAY);
  await tick(LATE + 8 * DAY);
  expect(await calls(id)).toEqual(["review.reminded", "review.overdue"]);
  expect(await told(id, "review.overdue")).toContain("told ilda");
});

test("a late seat goes to the stand-in, on record, and all three are told", async () => {
  const id = await inReview({ overdue: { after: "1h", do: "stand-in" } });
  const wim = eq(person.id, world.id("wim"));
  await world.db
    .update(person)
    .set({ standInId: world.id("jorun") })
    .where(wim);
  await tick(LATE);
  await world.db.update(person).set({ standInId: null }).where(wim);
  expect(await calls(id)).toEqual(["seat.moved", "review.overdue"]);
  expect(await sitting(id)).toEqual([world.id("jorun")]);
  expect(await told(id, "review.overdue")).toEqual(["relieved wim"]);
  expect(await told(id, "seat.moved")).toEqual(expect.arrayContaining(["author tobia", "called jorun"]));
});

test("where nobody stands in the seat stays, and who answers for the piece's way is told", async () => {
  const id = await inReview({ overdue: { after: "1h", do: "stand-in" } });
  await tick(LATE);
  expect(await calls(id)).toEqual(["review.overdue"]);
  expect(await sitting(id)).toEqual([world.id("wim")]);
  expect(await told(id, "review.overdue")).toEqual(expect.arrayContaining(["late wim", "told ilda", "told tobia"]));
});

test("a late seat passes to the least busy of those named", async () => {
  const id = await inReview({ overdue: { after: "1h", do: "pass", to: "role:chief" } });
  await tick(LATE);
  expect(await calls(id)).toEqual(["seat.moved", "review.overdue"]);
  expect(await sitting(id)).toEqual([world.id("ilda")]);
  expect(await told(id, "review.overdue")).toEqual(["relieved wim"]);
});

test("another due date is counted anew: what was late is reminded of again before it", async () => {
  const id = await inReview({ remind: ["4h"], overdue: { after: "1h", do: "escalate", to: "role:chief" } });
  await tick(REMINDED + DAY);
  const before = await calls(id);
  const { revision } = (await look(world, id)).piece;
  const now = REMINDED + DAY;
  accepted(await changeDue(world.act("ilda", now), { pieceId: id, revision, dueAt: now + 3 * DAY }));
  await tick(now);
  expect(await calls(id)).toEqual(before);
  await tick(now + 3 * DAY - 1_000);
  expect(await calls(id)).toEqual([...before, "review.reminded"]);
  const [row] = await world.db.select().from(piece).where(eq(piece.id, id));
  expect(row?.dueAt).toBe(now + 3 * DAY);
});
