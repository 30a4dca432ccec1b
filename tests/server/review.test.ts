import { and, asc, eq, isNull } from "drizzle-orm";
import { person, piece, round, seat } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { decide } from "#server/passage/deciding.ts";
import { piecePage } from "#server/pieces/page.ts";
import {
  accepted,
  begin,
  bindLine,
  bindReview,
  codeOf,
  heard,
  look,
  MORNING,
  makeWorld,
  oneReview,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const PEOPLE = [{ person: "wim" }, { person: "jorun" }, { person: "petra" }];

async function inReview(
  rule: string,
  seats: unknown[] = PEOPLE,
  more: Record<string, unknown> = {},
  reviewers: string[] = [],
) {
  await bindReview(world, rule, seats, more);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send", { reviewers }));
  return id;
}

async function vote(
  pieceId: string,
  who: string,
  verdict: "approve" | "return" | "decline" | "abstain",
  note = "because",
) {
  const { version } = await look(world, pieceId);
  return decide(world.act(who), { pieceId, versionHash: version.hash, verdict, note });
}

/** The keys of those with a seat in the open round. */
async function seatsOf(pieceId: string): Promise<string[]> {
  const rows = await world.db
    .select({ key: person.key })
    .from(seat)
    .innerJoin(person, eq(person.id, seat.personId))
    .innerJoin(round, eq(round.id, seat.roundId))
    .where(and(eq(seat.pieceId, pieceId), isNull(round.closedAt)))
    .orderBy(seat.position);
  return rows.map((row) => row.key);
}

const stateOf = async (pieceId: string) => (await look(world, pieceId)).piece.stateKey;

describe("the four rules, on a real database", () => {
  test("any: the first approval passes it on", async () => {
    const id = await inReview("any");
    accepted(await vote(id, "jorun", "approve"));
    expect(await stateOf(id)).toBe("ready");
    expect(codeOf(await vote(id, "wim", "approve"))).toBe("round-closed");
  });

  test("all: every seat must approve, and one return brings it back", async () => {
    const id = await inReview("all");
    accepted(await vote(id, "wim", "approve"));
    accepted(await vote(id, "jorun", "approve"));
    expect(await stateOf(id)).toBe("check");
    accepted(await vote(id, "petra", "return", "The key is at the hut."));
    expect(await stateOf(id)).toBe("draft");
    const told = (await heard(world, "tobia", id)).find((one) => one.headline.includes("came back"));
    expect(told?.note).toBe("The key is at the hut.");
  });

  test("count: two of three suffice; too many abstentions leave it stuck, and an approval then returns nothing", async () => {
    const first = await inReview("count", PEOPLE, { count: 2 });
    accepted(await vote(first, "wim", "approve"));
    accepted(await vote(first, "petra", "approve"));
    expect(await stateOf(first)).toBe("ready");
    const second = await inReview("count", PEOPLE, { count: 2 });
    accepted(await vote(second, "wim", "abstain"));
    accepted(await vote(second, "jorun", "abstain"));
    accepted(await vote(second, "petra", "approve"));
    expect(await stateOf(second)).toBe("check");
    const [open] = await world.db.select().from(round).where(eq(round.pieceId, second));
    expect(open).toMatchObject({ outcome: null, closedAt: null, stuck: "too-few" });
    expect((await heard(world, "ilda", second))[0]).toMatchObject({
      headline: "Check: the review of “Winter room keys” is stuck",
      note: "2 approvals are asked, and too few people are left to give them.",
    });
  });

  test("in-order: nobody speaks before their turn, and each is told when it comes", async () => {
    const id = await inReview("in-order");
    expect(codeOf(await vote(id, "jorun", "approve"))).toBe("not-your-turn");
    accepted(await vote(id, "wim", "approve"));
    const seats = await world.db
      .select({ status: seat.status })
      .from(seat)
      .where(eq(seat.pieceId, id))
      .orderBy(asc(seat.position));
    expect(seats.map((one) => one.status)).toEqual(["decided", "open", "waiting"]);
    for (const who of ["wim", "jorun"])
      expect((await heard(world, who, id))[0]?.headline).toMatch(/^Check: “Winter room keys” waits on you/);
    expect(await heard(world, "petra", id)).toEqual([]);
    accepted(await vote(id, "jorun", "approve"));
    accepted(await vote(id, "petra", "approve"));
    expect(await stateOf(id)).toBe("ready");
  });

  test("declining ends the round at once, where it is offered", async () => {
    const id = await inReview("all");
    accepted(await vote(id, "petra", "decline"));
    expect(await stateOf(id)).toBe("dropped");
  });
});

test("an approval is for one version: a new text voids it and the seat is asked again", async () => {
  const id = await inReview("all");
  const { version: read } = await look(world, id);
  accepted(await vote(id, "wim", "approve"));
  accepted(await save(world, id, "petra", "The keys hang at the hut."));
  const [wim] = await world.db
    .select()
    .from(seat)
    .where(and(eq(seat.pieceId, id), eq(seat.personId, world.id("wim"))));
  expect(wim?.status).toBe("open");
  expect(
    codeOf(await decide(world.act("jorun"), { pieceId: id, versionHash: read.hash, verdict: "approve", note: "" })),
  ).toBe("stale");
  for (const who of ["jorun", "petra"]) accepted(await vote(id, who, "approve"));
  expect(await stateOf(id)).toBe("check");
  accepted(await vote(id, "wim", "approve"));
  const { piece: row, version: last } = await look(world, id);
  expect(row.stateKey).toBe("ready");
  expect(row.approvedVersionId).toBe(last.id);
});

test("of two deciding votes at one moment exactly one moves the piece", async () => {
  for (let i = 0; i < 8; i++) {
    const id = await inReview("any");
    const votes = await Promise.all([
      vote(id, "wim", "approve"),
      vote(id, "jorun", "return"),
      vote(id, "petra", "approve"),
    ]);
    expect(votes.map(codeOf).sort()).toEqual(["accepted", "round-closed", "round-closed"]);
  }
  expect((await verifyLedger(world.db)).broken).toBeNull();
});

describe("who may decide", () => {
  test("somebody without a seat is refused, with the names of those who could", async () => {
    const id = await inReview("any");
    const answer = await vote(id, "ilda", "approve");
    expect(answer).toMatchObject({
      ok: false,
      refusal: { code: "no-seat", who: ["Wim Aldera", "Jorun Faas", "Petra Holmqvist"] },
    });
  });

  test("the author's own seat is void unless the review allows it", async () => {
    const id = await inReview("all", [{ person: "tobia" }, { person: "wim" }]);
    expect(codeOf(await vote(id, "tobia", "approve"))).toBe("no-seat");
    accepted(await vote(id, "wim", "approve"));
    expect(await stateOf(id)).toBe("ready");
  });

  test("an absent person's seat goes to the stand-in, and the decision says for whom", async () => {
    const id = await inReview("any", [{ person: "ansel" }]);
    accepted(await vote(id, "petra", "approve"));
    const [sat] = await world.db.select().from(seat).where(eq(seat.pieceId, id));
    expect(sat).toMatchObject({ personId: world.id("petra"), forPersonId: world.id("ansel") });
  });

  test("a sender chooses among those the seats allow, and nobody else", async () => {
    await bindReview(world, "any", [{ role: "copy-editor", pick: "sender", number: 1 }]);
    const { id } = await begin(world);
    expect(codeOf(await send(world, id, "tobia", "send"))).toBe("reviewer-missing");
    expect(codeOf(await send(world, id, "tobia", "send", { reviewers: ["wim"] }))).toBe("reviewer-missing");
    expect(codeOf(await send(world, id, "tobia", "send", { reviewers: ["petra", "wim"] }))).toBe("not-a-candidate");
    accepted(await send(world, id, "tobia", "send", { reviewers: ["petra"] }));
  });

  test("where nobody can be chosen, it is said whom the review asks, and who could give that role", async () => {
    await bindReview(world, "any", [{ role: "lead", pick: "sender", number: 1 }]);
    const { piece: row } = await look(world, (await begin(world)).id);
    const page = await piecePage(world.db, await world.viewer("tobia"), row.slug, true);
    expect(page?.steps.map((step) => step.choose)).toEqual([
      { number: 1, people: [], lacking: { asks: ["Section lead"], who: ["Ilda Marenzi"] } },
    ]);
  });

  test("the least busy is asked: seats they hold on the piece itself do not weigh", async () => {
    const document = oneReview("count", [{ person: "jorun" }, { person: "wim" }], { count: 1 });
    const [review] = document.states.filter((state) => state.key === "check");
    const again = {
      rule: "all",
      seats: [{ role: "checker", pick: "least-busy", number: 1 }],
      approve: "on",
      return: "out",
    };
    document.states.push({ ...review, key: "again", name: "Again", review: again });
    document.transitions.push({ key: "on", name: "On", from: ["again"], to: "ready" });
    document.transitions.push({ key: "out", name: "Out", from: ["again"], to: "draft" });
    document.mainLine = ["draft", "check", "again", "ready", "live"];
    for (const step of document.transitions) if (step.key === "pass") step.to = "again";
    await bindLine(world, document);
    const { id } = await begin(world);
    accepted(await send(world, id, "tobia", "send"));
    accepted(await vote(id, "wim", "approve"));
    expect(await seatsOf(id)).toEqual(["jorun"]);
  });

  test("returning needs a reason, and a due date lies ahead", async () => {
    const id = await inReview("any");
    expect(codeOf(await vote(id, "wim", "return", " "))).toBe("note-missing");
    const other = await begin(world);
    expect(codeOf(await send(world, other.id, "tobia", "send", { dueAt: MORNING - 1 }))).toBe("past");
    const [row] = await world.db.select().from(piece).where(eq(piece.id, other.id));
    expect(row?.stateKey).toBe("draft");
  });
});
