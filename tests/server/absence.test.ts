import { and, eq } from "drizzle-orm";
import { absence, ledger, person, seat } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { decide } from "#server/passage/deciding.ts";
import { addAbsences, nameStandIn, removeAbsence, standInChain } from "#server/people/absence.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  DAY,
  heard,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const TODAY = "2026-11-24";
const away = (who: string, from = TODAY, until = "2026-11-27", by = who) =>
  addAbsences(world.act(by), { personId: world.id(who), days: [{ from, until }] });
const standIn = (who: string, other: string | null, by = who) =>
  nameStandIn(world.act(by), { personId: world.id(who), standInId: other && world.id(other) });

/** Who sits in a piece's round, as `petra for ansel`, with flags. */
async function seats(id: string): Promise<string[]> {
  const people = await world.db.select({ id: person.id, key: person.key }).from(person);
  const key = (personId: string | null) => people.find((one) => one.id === personId)?.key;
  const rows = await world.db.select().from(seat).where(eq(seat.pieceId, id)).orderBy(seat.position);
  return rows.map((row) =>
    [key(row.personId), row.forPersonId && `for ${key(row.forPersonId)}`, row.flag && "flagged"]
      .filter(Boolean)
      .join(" "),
  );
}

async function inReview(seated: unknown[], rule = "all", author = "tobia", more = {}) {
  await bindReview(world, rule, seated, more);
  const { id } = await begin(world, "Waiting", author);
  accepted(await send(world, id, author, "send"));
  return id;
}

test("an absence that begins today moves open seats to the stand-in, told and on record, and they come back", async () => {
  const id = await inReview([{ person: "wim" }]);
  accepted(await standIn("wim", "jorun"));
  accepted(await away("wim"));
  expect(await seats(id)).toEqual(["jorun for wim"]);
  const headlines = async (who: string) => (await heard(world, who)).map((one) => one.headline).join();
  expect(await headlines("jorun")).toContain("waits on you for Wim Aldera");
  expect(await headlines("tobia")).toContain("Jorun Faas reviews “Waiting” for Wim Aldera");
  const [row] = await world.db
    .select()
    .from(absence)
    .where(eq(absence.personId, world.id("wim")));
  accepted(await removeAbsence(world.act("wim"), { personId: world.id("wim"), absenceId: row?.id ?? "" }));
  expect(await seats(id)).toEqual(["wim"]);
  const moved = await world.db
    .select()
    .from(ledger)
    .where(and(eq(ledger.action, "seat.moved"), eq(ledger.pieceId, id)));
  expect(moved).toHaveLength(2);
});

test("one that begins later moves them when its day comes, and back when it is over; what was decided stays", async () => {
  const id = await inReview([{ person: "wim" }, { person: "petra" }]);
  accepted(await standIn("wim", "jorun"));
  accepted(await away("wim", "2026-11-25", "2026-11-26"));
  await doDue(worker(world, MORNING), "absence");
  expect(await seats(id)).toEqual(["wim", "petra"]);
  await doDue(worker(world, MORNING + DAY), "absence");
  expect(await seats(id)).toEqual(["jorun for wim", "petra"]);
  const { version } = await look(world, id);
  accepted(
    await decide(world.act("jorun", MORNING + DAY), {
      pieceId: id,
      versionHash: version.hash,
      verdict: "approve",
      note: "",
    }),
  );
  const [entry] = await world.db.select().from(ledger).where(eq(ledger.action, "review.decided"));
  expect(entry?.forId).toBe(world.id("wim"));
  await doDue(worker(world, MORNING + 3 * DAY), "absence");
  expect(await seats(id)).toEqual(["jorun for wim", "petra"]);
});

test("a chain of stand-ins who are away too is followed; a circle ends with the seat where it was, marked", async () => {
  const id = await inReview([{ person: "wim" }]);
  accepted(await standIn("wim", "jorun"));
  accepted(await standIn("jorun", "petra"));
  accepted(await away("jorun"));
  accepted(await away("wim"));
  expect(await seats(id)).toEqual(["petra for wim"]);
  expect(await standInChain(world.db, world.id("wim"), MORNING)).toEqual({
    names: ["Jorun Faas", "Petra Holmqvist"],
    ends: "somebody",
  });
  accepted(await standIn("petra", "wim"));
  accepted(await away("petra"));
  expect(await seats(id)).toEqual(["wim flagged"]);
  expect((await standInChain(world.db, world.id("wim"), MORNING)).ends).toBe("circle");
  await doDue(worker(world, MORNING), "absence");
  expect(await seats(id)).toEqual(["wim flagged"]);
  await doDue(worker(world, MORNING + 5 * DAY), "absence");
  expect(await seats(id)).toEqual(["wim"]);
});

test("never onto the author, and nobody sits twice", async () => {
  const id = await inReview([{ person: "wim" }, { person: "petra" }], "all", "mina");
  accepted(await standIn("wim", "mina", "ilda"));
  accepted(await standIn("mina", "petra", "ilda"));
  accepted(await away("wim"));
  expect(await seats(id)).toEqual(["wim flagged", "petra"]);
});

test("a stand-in named while one is away takes the seat that was left", async () => {
  const id = await inReview([{ person: "wim" }]);
  accepted(await away("wim"));
  expect(await seats(id)).toEqual(["wim flagged"]);
  accepted(await standIn("wim", "petra", "ilda"));
  expect(await seats(id)).toEqual(["petra for wim"]);
});

test("days that touch become one stretch, and what cannot be is refused", async () => {
  accepted(await away("wim", "2026-12-01", "2026-12-03"));
  accepted(await away("wim", "2026-12-04", "2026-12-06"));
  accepted(await away("wim", "2026-12-02", "2026-12-02"));
  const rows = await world.db
    .select()
    .from(absence)
    .where(eq(absence.personId, world.id("wim")));
  expect(rows.map(({ from, until }) => [from, until])).toEqual([["2026-12-01", "2026-12-06"]]);
  expect(codeOf(await away("wim", "2026-12-09", "2026-12-08"))).toBe("empty-period");
  expect(codeOf(await away("wim", "2026-12-09", "2028-12-08"))).toBe("too-long");
  expect(codeOf(await away("wim", "2026-12-09", "2026-12-10", "noor"))).toBe("not-granted");
  expect(codeOf(await standIn("wim", "wim"))).toBe("self");
  expect(codeOf(await standIn("wim", "jorun", "noor"))).toBe("not-granted");
});
