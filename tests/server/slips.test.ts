import { and, eq, isNull } from "drizzle-orm";
import { newId } from "#server/db/schema/columns.ts";
import { accessGrant, assignment, kind, ledger, person, piece, release, round, seat } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { overrideStep, recallPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { addSeat, changeDue, reassign, reassignSeat } from "#server/passage/routing.ts";
import { addAbsences, nameStandIn } from "#server/people/absence.ts";
import { endGrant } from "#server/people/grants.ts";
import { deletePiece, erasePiece, listDeleted, restorePiece } from "#server/pieces/deleting.ts";
import { filterChoices, listPieces } from "#server/pieces/lists.ts";
import { piecePage } from "#server/pieces/page.ts";
import { placePiece, previewPlace } from "#server/pieces/placing.ts";
import { why } from "#server/pieces/why.ts";
import { changePublication, previewCalendar, publicationSettings } from "#server/publication/commands.ts";
import { readReleased, readWithdrawn } from "#server/reader/queries.ts";
import { confirmRelease, planRelease, withdrawPiece } from "#server/release/commands.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  begin,
  bindLine,
  bindReview,
  codeOf,
  DAY,
  heard,
  look,
  MORNING,
  makeWorld,
  oneReview,
  onPiece,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const PEOPLE = [{ person: "wim" }, { person: "jorun" }, { person: "petra" }];
const seen = (id: string) => onPiece(world, id);
const stateOf = async (id: string) => (await look(world, id)).piece.stateKey;
const roundOf = async (id: string) =>
  (
    await world.db
      .select()
      .from(round)
      .where(and(eq(round.pieceId, id), isNull(round.closedAt)))
  )[0];
const onRecord = async (pieceId: string) =>
  (await world.db.select().from(ledger).where(eq(ledger.pieceId, pieceId)).orderBy(ledger.seq)).map(
    (row) => row.action,
  );

async function vote(id: string, who: string, verdict: "approve" | "return" | "abstain", more = {}) {
  const { version } = await look(world, id);
  return decide(world.act(who), { pieceId: id, versionHash: version.hash, verdict, note: "Because.", ...more });
}

async function inReview(rule: string, seats: unknown[] = PEOPLE, more = {}) {
  await bindReview(world, rule, seats, more);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  return id;
}

async function ready() {
  const id = await inReview("any", [{ person: "wim" }]);
  accepted(await vote(id, "wim", "approve"));
  return id;
}

const away = (who: string) =>
  addAbsences(world.act("ilda"), { personId: world.id(who), days: [{ from: "2026-11-24", until: "2026-11-27" }] });

/** What somebody holds is over from now on. */
async function losesRoles(who: string) {
  const grants = await world.db
    .select()
    .from(accessGrant)
    .where(eq(accessGrant.personId, world.id(who)));
  for (const { id } of grants) accepted(await endGrant(world.act("ilda"), { grantId: id, until: MORNING }));
  await doDue(worker(world, MORNING + 1), "access");
}

describe("a round that can no longer pass", () => {
  test("is not sent into: the number could not be reached, and who could change that is named", async () => {
    await bindReview(world, "count", [{ person: "wim" }, { person: "jorun" }], { count: 2 });
    await losesRoles("jorun");
    const { id } = await begin(world);
    const refused = await send(world, id, "tobia", "send");
    expect(refused).toMatchObject({ refusal: { code: "stuck", who: ["Ilda Marenzi"] } });
    expect(await stateOf(id)).toBe("draft");
  });

  test("is flagged when somebody in it may decide no more; the owners are told, and a seat given away mends it", async () => {
    const id = await inReview("count", [{ person: "wim" }, { person: "jorun" }], { count: 2 });
    await losesRoles("jorun");
    expect(await roundOf(id)).toMatchObject({ stuck: "too-few" });
    accepted(await vote(id, "wim", "approve"));
    expect(await stateOf(id)).toBe("check");
    for (const who of ["ilda", "tobia"])
      expect((await heard(world, who, id)).map((one) => one.headline)).toContain(
        "Check: the review of “Winter room keys” is stuck",
      );
    const [place] = await world.db
      .select()
      .from(seat)
      .where(and(eq(seat.pieceId, id), eq(seat.personId, world.id("jorun"))));
    expect(place?.flag).toBe("may-not-decide");
    const to = { seatId: place?.id ?? "", personId: world.id("petra") };
    accepted(await reassignSeat(world.act("ilda"), { ...(await seen(id)), ...to }));
    expect(await roundOf(id)).toMatchObject({ stuck: null });
    accepted(await vote(id, "petra", "approve"));
    expect(await stateOf(id)).toBe("ready");
    expect(await onRecord(id)).toEqual(expect.arrayContaining(["round.stuck", "seat.moved", "round.closed"]));
  });

  test("in which everybody abstained waits for a seat more, or is closed by an override with its reason", async () => {
    const id = await inReview("any", [{ person: "wim" }]);
    accepted(await vote(id, "wim", "abstain"));
    expect(await roundOf(id)).toMatchObject({ stuck: "abstained", closedAt: null });
    expect((await listPieces(world.db, await world.viewer("ilda"), { stuck: true })).rows.map((row) => row.id)).toEqual(
      [id],
    );
    const override = { transition: "pass", note: "The warden read it." };
    expect(codeOf(await overrideStep(world.act("sefa"), { ...(await seen(id)), ...override }))).toBe("not-found");
    expect(codeOf(await overrideStep(world.act("ilda"), { ...(await seen(id)), ...override, note: " " }))).toBe(
      "note-missing",
    );
    accepted(await overrideStep(world.act("ilda"), { ...(await seen(id)), ...override }));
    const { piece: row } = await look(world, id);
    expect(row).toMatchObject({ stateKey: "ready", overriddenAt: MORNING });
    const flagged = await listPieces(world.db, await world.viewer("ilda"), { overridden: true });
    expect(flagged.rows.map((one) => one.id)).toEqual([id]);
    expect(await onRecord(id)).toContain("piece.overridden");
    expect((await heard(world, "tobia", id))[0]?.note).toBe("The warden read it.");
    const [closed] = await world.db.select().from(round).where(eq(round.pieceId, id));
    expect(closed).toMatchObject({ outcome: "overridden", stuck: null });
  });

  test("one reviewer more is asked at once", async () => {
    const id = await inReview("any", [{ person: "wim" }]);
    accepted(await vote(id, "wim", "abstain"));
    expect(codeOf(await addSeat(world.act("ilda"), { ...(await seen(id)), personId: world.id("tobia") }))).toBe(
      "author",
    );
    expect(codeOf(await addSeat(world.act("ilda"), { ...(await seen(id)), personId: world.id("gus") }))).toBe("unable");
    accepted(await addSeat(world.act("ilda"), { ...(await seen(id)), personId: world.id("jorun") }));
    expect((await heard(world, "jorun", id))[0]?.headline).toBe("Check: “Winter room keys” waits on you");
    expect(await roundOf(id)).toMatchObject({ stuck: null });
    accepted(await vote(id, "jorun", "approve"));
    expect(await stateOf(id)).toBe("ready");
  });

  test("a stand-in who sits already takes no second seat: it stays with who is away, and is theirs when they are back", async () => {
    accepted(await nameStandIn(world.act("ilda"), { personId: world.id("jorun"), standInId: world.id("wim") }));
    const id = await inReview("count", [{ person: "wim" }, { person: "jorun" }], { count: 2 });
    accepted(await away("jorun"));
    const seats = await world.db.select().from(seat).where(eq(seat.pieceId, id)).orderBy(seat.position);
    expect(seats.map((one) => [one.personId, one.flag])).toEqual([
      [world.id("wim"), null],
      [world.id("jorun"), "away"],
    ]);
    accepted(await vote(id, "wim", "approve"));
    expect(await stateOf(id)).toBe("check");
    accepted(await vote(id, "jorun", "approve"));
    expect(await stateOf(id)).toBe("ready");
  });
});

describe("the last look", () => {
  test("a review straight to readers asks that whoever closes it may release", async () => {
    const line = oneReview("any", [{ person: "wim" }, { person: "ilda" }]);
    line.transitions = line.transitions.map((step) => (step.key === "pass" ? { ...step, to: "live" } : step));
    line.transitions = line.transitions.filter((step) => step.key !== "release");
    line.states = line.states.filter((state) => state.key !== "ready");
    line.mainLine = ["draft", "check", "live"];
    await bindLine(world, line);
    const { id } = await begin(world);
    accepted(await send(world, id, "tobia", "send"));
    const refused = await vote(id, "wim", "approve");
    expect(refused).toMatchObject({ refusal: { code: "may-not-release" } });
    expect(await stateOf(id)).toBe("check");
    accepted(await vote(id, "ilda", "approve"));
    expect(await stateOf(id)).toBe("live");
  });

  test("a step by hand to readers past the review is held: nobody approved it", async () => {
    const line = oneReview("any", [{ person: "wim" }]);
    line.transitions.push({ key: "out", name: "Out", from: ["draft"], to: "live", by: ["role:chief"] });
    await bindLine(world, line);
    const { id, slug } = await begin(world);
    expect(codeOf(await send(world, id, "ilda", "out"))).toBe("not-approved");
    expect(await readReleased(world.db, slug)).toBeNull();
    // Not even an override brings unapproved words to readers.
    const past = await overrideStep(world.act("ilda"), { ...(await seen(id)), transition: "out", note: "At once." });
    expect(codeOf(past)).toBe("open-step");
  });

  test("what an outcome's step asks keeps an approval closed, and says what is open", async () => {
    const line = oneReview("all", PEOPLE);
    line.transitions = line.transitions.map((step) =>
      step.key === "pass" ? { ...step, requires: ["fields", "comments-settled"] } : step,
    );
    await bindLine(world, line);
    const { id } = await begin(world);
    accepted(await save(world, id, "tobia", ""));
    accepted(await send(world, id, "tobia", "send"));
    expect(await vote(id, "wim", "approve")).toMatchObject({ refusal: { code: "fields" } });
    accepted(await vote(id, "wim", "return"));
  });

  test("a date of somebody who may not let it out is proposed, and waits until who may confirms it", async () => {
    const id = await ready();
    const at = MORNING + DAY;
    const planned = accepted(await planRelease(world.act("kai"), { ...(await seen(id)), at }));
    expect(planned.proposed).toBe(true);
    expect((await heard(world, "ilda", id))[0]?.headline).toMatch(/^Kai Wendt proposes .* confirm it$/);
    await doDue(worker(world, at + 1), "release");
    expect(await stateOf(id)).toBe("ready");
    expect(codeOf(await confirmRelease(world.act("kai"), await seen(id)))).toBe("not-granted");
    accepted(await confirmRelease(world.act("ilda"), await seen(id)));
    await doDue(worker(world, at + 1), "release");
    expect(await stateOf(id)).toBe("live");
    expect(await onRecord(id)).toEqual(expect.arrayContaining(["release.proposed", "release.confirmed"]));
  });

  test("what will hold a planned release is told when it is known, and disappears when it no longer holds", async () => {
    const id = await ready();
    await world.db.insert(assignment).values({ pieceId: id, personId: world.id("gus") });
    const { id: planId } = accepted(await planRelease(world.act("ilda"), { ...(await seen(id)), at: MORNING + DAY }));
    const plan = async () => (await world.db.select().from(release).where(eq(release.id, planId)))[0];
    accepted(await save(world, id, "ilda", "Other words."));
    expect(await plan()).toMatchObject({ status: "planned", holds: [{ code: "text-changed" }] });
    for (const who of ["tobia", "gus"])
      expect((await heard(world, who, id))[0]).toMatchObject({
        headline: expect.stringMatching(/will be held$/),
        note: "The text was changed after it was approved.",
      });
    await doDue(worker(world, MORNING + DAY), "release");
    expect(await plan()).toMatchObject({ status: "held" });
    accepted(await save(world, id, "ilda", "The keys hang at the bus office."));
    // Nothing holds it any more: it leaves by itself, and its owners hear of it.
    expect(await plan()).toMatchObject({ status: "planned", holds: [] });
    const said = (await heard(world, "gus", id)).map((one) => one.headline);
    expect(said.filter((one) => one.startsWith("Nothing holds the release of"))).toHaveLength(1);
    await doDue(worker(world, MORNING + DAY), "release");
    expect(await readReleased(world.db, (await look(world, id)).piece.slug)).not.toBeNull();
  });

  test("a planner who may release no more: the plan says so before its minute", async () => {
    const id = await ready();
    const { id: planId } = accepted(await planRelease(world.act("ilda"), { ...(await seen(id)), at: MORNING + DAY }));
    await world.db
      .update(release)
      .set({ confirmedBy: world.id("kai") })
      .where(eq(release.id, planId));
    await losesRoles("kai");
    const [plan] = await world.db.select().from(release).where(eq(release.id, planId));
    expect(plan?.holds.map((hold) => hold.code)).toEqual(["not-granted", "not-named"]);
  });
});

describe("withdrawing", () => {
  test("readers lose the piece, find the notice, and it stays on record with its reason", async () => {
    const id = await ready();
    accepted(await send(world, id, "ilda", "release"));
    const { slug } = (await look(world, id)).piece;
    expect(await readReleased(world.db, slug)).not.toBeNull();
    const said = { note: "Wrong hut.", notice: "See the other hut." };
    accepted(await withdrawPiece(world.act("kai"), { ...(await seen(id)), ...said }));
    expect(await readReleased(world.db, slug)).toBeNull();
    expect(await readWithdrawn(world.db, slug)).toEqual({
      notice: "See the other hut.",
      at: MORNING,
      instead: null,
    });
    expect((await heard(world, "tobia", id))[0]?.note).toBe("Wrong hut.");
    accepted(await send(world, id, "tobia", "revise"));
    expect(await stateOf(id)).toBe("draft");
  });

  test("closing a live piece says what readers see from then on", async () => {
    const line = oneReview("any", [{ person: "wim" }]);
    line.transitions.push({ key: "shelve", name: "Shelve", from: ["live"], to: "dropped", by: ["role:chief"] });
    await bindLine(world, line);
    const { id, slug } = await begin(world);
    accepted(await send(world, id, "tobia", "send"));
    accepted(await vote(id, "wim", "approve"));
    accepted(await send(world, id, "ilda", "release"));
    expect(codeOf(await send(world, id, "ilda", "shelve"))).toBe("readers-unsaid");
    accepted(await send(world, id, "ilda", "shelve", { readers: "withdraw", notice: "Over." }));
    expect(await stateOf(id)).toBe("dropped");
    expect(await readWithdrawn(world.db, slug)).toMatchObject({ notice: "Over." });
  });
});

test("who is assigned and who is seated both answer to the assignee", async () => {
  const line = oneReview("all", PEOPLE);
  line.transitions.push({ key: "pause", name: "Pause", from: ["check"], to: "draft", by: ["assignee"] });
  await bindLine(world, line);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  await world.db
    .insert(accessGrant)
    .values({ id: newId(), personId: world.id("wim"), roleId: await roleId("web"), scope: "publication" });
  accepted(await send(world, id, "wim", "pause"));
  expect(await stateOf(id)).toBe("draft");
});

async function roleId(key: string) {
  const { role } = await import("#server/db/schema/index.ts");
  const [row] = await world.db.select().from(role).where(eq(role.key, key));
  return row?.id ?? "";
}

describe("why, the page and the command say the same of deciding", () => {
  test.each([
    ["wim", "it is their turn", true, null],
    ["jorun", "waiting their turn", false, "not-your-turn"],
    ["gus", "no seat", false, "no-seat"],
  ])("%s: %s", async (who, _, allowed, code) => {
    const id = await inReview("in-order");
    const { piece: row } = await look(world, id);
    const asked = await why(world.db, await world.viewer("ilda"), {
      person: who,
      action: "review.decide",
      piece: row.slug,
    });
    const page = await piecePage(world.db, await world.viewer(who), row.slug);
    const answer = codeOf(await vote(id, who, "approve"));
    expect(asked?.allowed).toBe(allowed);
    expect(page?.decision !== null).toBe(allowed);
    expect(page?.decideClosed?.code ?? null).toBe(code);
    expect(answer).toBe(code ?? "accepted");
    if (!allowed) expect(page?.decideClosed?.who).toEqual(["Wim Aldera"]);
  });

  test("deciding anew is open to all three while the round is", async () => {
    const id = await inReview("all");
    accepted(await vote(id, "wim", "approve"));
    const { slug } = (await look(world, id)).piece;
    const asked = { person: "wim", action: "review.decide", piece: slug };
    expect((await why(world.db, await world.viewer("ilda"), asked))?.allowed).toBe(true);
    expect((await piecePage(world.db, await world.viewer("wim"), slug))?.decision).toMatchObject({ decided: true });
    accepted(await vote(id, "wim", "return"));
    expect(await stateOf(id)).toBe("draft");
  });
});

test("lists give nothing away: neither the authors of private drafts nor what waits on pieces one may not see", async () => {
  await bindReview(world, "any", [{ role: "copy-editor", pick: "sender", number: 1 }]);
  await begin(world, "Secret", "mina", MORNING, true);
  const authors = async (who: string) =>
    (await filterChoices(world.db, await world.viewer(who))).authors.map((one) => one.key);
  expect(await authors("ilda")).toEqual([]);
  expect(await authors("mina")).toEqual(["mina"]);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send", { reviewers: ["petra"] }));
  const { slug } = await begin(world, "Noor's", "noor");
  const page = await piecePage(world.db, await world.viewer("noor"), slug);
  const choose = page?.steps.find((step) => step.key === "send")?.choose;
  expect(choose?.people.find((one) => one.name === "Petra Holmqvist")?.load).toBe(0);
});

test("a change of free fields alone keeps every approval, and readers never see them", async () => {
  const [row] = await world.db.select().from(kind).where(eq(kind.key, "bulletin-item"));
  const notes = { key: "notes", name: "Notes", type: "line" as const, required: false, free: true };
  await world.db
    .update(kind)
    .set({ fields: [...(row?.fields ?? []), notes] })
    .where(eq(kind.key, "bulletin-item"));
  const id = await inReview("all", [{ person: "wim" }, { person: "petra" }]);
  accepted(await vote(id, "wim", "approve"));
  const { version } = await look(world, id);
  const write = async (fields: object) => {
    const { savePiece } = await import("#server/text/commands.ts");
    const { whole, windowOf } = await import("../support/world.ts");
    const { version: base } = await look(world, id);
    const content = { title: base.content.title, fields: { ...base.content.fields, ...fields } };
    return savePiece(world.act("tobia"), {
      pieceId: id,
      window: windowOf("tobia"),
      base: base.hash,
      patch: whole(content),
    });
  };
  accepted(await write({ notes: "Ask the warden." }));
  const after = await look(world, id);
  expect([after.version.hash === version.hash, after.version.boundHash]).toEqual([false, version.boundHash]);
  accepted(await vote(id, "petra", "approve"));
  expect(await stateOf(id)).toBe("ready");
  accepted(await send(world, id, "ilda", "release"));
  const shown = await readReleased(world.db, after.piece.slug);
  expect(shown?.fields.map((field) => field.key)).not.toContain("notes");
});

describe("deleting", () => {
  test("hides a piece, with its own-only form; it comes back with its review open", async () => {
    const id = await inReview("any", [{ person: "wim" }]);
    expect(codeOf(await deletePiece(world.act("wim"), { ...(await seen(id)), note: "No." }))).toBe("not-granted");
    accepted(await deletePiece(world.act("tobia"), { ...(await seen(id)), note: "Twice." }));
    expect((await listPieces(world.db, await world.viewer("ilda"), { show: "all" })).total).toBe(0);
    expect(codeOf(await vote(id, "wim", "approve"))).toBe("not-found");
    expect((await listDeleted(world.db, await world.viewer("wim"))).length).toBe(0);
    const [row] = await listDeleted(world.db, await world.viewer("tobia"));
    expect(row).toMatchObject({ id, by: "Tobia Rensk", note: "Twice.", erasable: false });
    accepted(await restorePiece(world.act("tobia"), { pieceId: id }));
    accepted(await vote(id, "wim", "approve"));
    expect(await stateOf(id)).toBe("ready");
  });

  test("is refused while readers see it, and erasing while it is not deleted", async () => {
    const id = await ready();
    accepted(await send(world, id, "ilda", "release"));
    expect(codeOf(await deletePiece(world.act("ilda"), { ...(await seen(id)), note: "Old." }))).toBe("live");
    expect(codeOf(await erasePiece(world.act("ilda"), { pieceId: id, note: "Old." }))).toBe("not-found");
  });

  test("erasing leaves no word, and a record that can still be followed; whoever tampers with it is found", async () => {
    const id = await inReview("any", [{ person: "wim" }]);
    accepted(await vote(id, "wim", "return"));
    accepted(await deletePiece(world.act("tobia"), { ...(await seen(id)), note: "About a person." }));
    accepted(await erasePiece(world.act("ilda"), { pieceId: id, note: "Asked for by its subject." }));
    const { version } = await look(world, id);
    expect(version.content).toEqual({ title: "", fields: {} });
    const rows = await world.db.select().from(ledger).where(eq(ledger.pieceId, id));
    expect(rows.filter((row) => row.after !== null).map((row) => row.action)).toEqual(["piece.erased"]);
    expect(await heard(world, "tobia")).toEqual([]);
    expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
    const other = (await begin(world, "Another")).id;
    await world.db.update(ledger).set({ after: null, erasedBy: 1 }).where(eq(ledger.pieceId, other));
    expect((await verifyLedger(world.db)).broken).toMatch(/nothing says that it was erased/);
  });
});

describe("a way back from a slip", () => {
  test("the sender calls back what nobody has acted on; afterwards only who routes, and with a reason", async () => {
    const id = await inReview("all");
    expect(codeOf(await recallPiece(world.act("wim"), await seen(id)))).toBe("not-granted");
    accepted(await recallPiece(world.act("tobia"), await seen(id)));
    expect(await stateOf(id)).toBe("draft");
    expect((await heard(world, "wim", id))[0]?.headline).toContain("called “Winter room keys” back from Check");
    accepted(await send(world, id, "tobia", "send"));
    accepted(await vote(id, "wim", "approve"));
    expect(codeOf(await recallPiece(world.act("tobia"), await seen(id)))).toBe("not-granted");
    expect(codeOf(await recallPiece(world.act("ilda"), await seen(id)))).toBe("note-missing");
    accepted(await recallPiece(world.act("ilda"), { ...(await seen(id)), note: "The bridge is out." }));
    expect(await stateOf(id)).toBe("draft");
    const rounds = await world.db.select().from(round).where(eq(round.pieceId, id));
    expect(rounds.map((one) => one.outcome)).toEqual(["withdrawn", "withdrawn"]);
  });

  test("a live piece is not called back, and what came back from a review neither", async () => {
    const id = await ready();
    expect(codeOf(await recallPiece(world.act("ilda"), { ...(await seen(id)), note: "x" }))).toBe("nothing-to-recall");
    accepted(await send(world, id, "ilda", "release"));
    expect(codeOf(await recallPiece(world.act("ilda"), { ...(await seen(id)), note: "x" }))).toBe("nothing-to-recall");
  });

  test("another due date for a late review, told to those who have it", async () => {
    const id = await inReview("any", [{ person: "wim" }]);
    const dueAt = MORNING + 2 * DAY;
    accepted(await changeDue(world.act("ilda"), { ...(await seen(id)), dueAt }));
    expect((await look(world, id)).piece).toMatchObject({ dueAt, dueChosen: true });
    expect(await roundOf(id)).toMatchObject({ dueAt });
    expect((await heard(world, "wim", id))[0]?.headline).toMatch(/is now due Thu 26 Nov/);
    expect(codeOf(await changeDue(world.act("ilda"), { ...(await seen(id)), dueAt: MORNING - 1 }))).toBe("past");
  });
});

describe("arriving", () => {
  const arrivingAt = (arrival: object, more: object = {}) => {
    const line = oneReview("any", [{ person: "wim" }]);
    line.states = line.states.map((state) => (state.key === "check" ? { ...state, arrival, ...more } : state));
    return bindLine(world, line);
  };
  const assignedTo = async (id: string) =>
    (
      await world.db
        .select({ key: person.key, forId: assignment.forPersonId })
        .from(assignment)
        .innerJoin(person, eq(person.id, assignment.personId))
        .where(eq(assignment.pieceId, id))
    ).map((row) => (row.forId ? `${row.key} for another` : row.key));

  test("gives the piece to the least busy of a role, and is due before the publish date where one is set", async () => {
    await arrivingAt({ assign: ["least-busy:checker"] }, { dueBefore: "1wd" });
    const { id } = await begin(world);
    await world.db
      .update(piece)
      .set({ publishAt: MORNING + 7 * DAY })
      .where(eq(piece.id, id));
    accepted(await send(world, id, "tobia", "send"));
    expect(await assignedTo(id)).toEqual(["jorun"]);
    // Tue 1 Dec, 10:00 in Rome, a working day before: work begun by Monday's opening is due at its close.
    const { dueAt } = (await look(world, id)).piece;
    expect(new Date(dueAt ?? 0).toISOString().slice(0, 10)).toBe("2026-11-27");
  });

  test("what is assigned to somebody away goes to their stand-in, and back, told and on record", async () => {
    accepted(await nameStandIn(world.act("ilda"), { personId: world.id("gus"), standInId: world.id("petra") }));
    await arrivingAt({ assign: ["person:gus"] });
    const { id } = await begin(world);
    accepted(await send(world, id, "tobia", "send"));
    expect(await assignedTo(id)).toEqual(["gus"]);
    accepted(await away("gus"));
    expect(await assignedTo(id)).toEqual(["petra for another"]);
    expect((await heard(world, "petra", id))[0]?.headline).toBe("“Winter room keys” is with you now for Gus Ferrante");
    await doDue(worker(world, MORNING + 4 * DAY), "absence");
    expect(await assignedTo(id)).toEqual(["gus"]);
    accepted(
      await reassign(world.act("ilda"), { ...(await seen(id)), from: world.id("gus"), personId: world.id("petra") }),
    );
    expect(await assignedTo(id)).toEqual(["petra"]);
  });
});

describe("the publication and where pieces belong", () => {
  test("another calendar moves the due dates it gave, not those somebody chose, and says so beforehand", async () => {
    const id = await inReview("any", [{ person: "wim" }]);
    const chosen = (await begin(world, "Chosen")).id;
    accepted(await send(world, chosen, "tobia", "send", { dueAt: MORNING + 3 * DAY }));
    const settings = await publicationSettings(world.db);
    const closed = { ...settings.calendar, closed: [...settings.calendar.closed, "2026-11-25"] };
    const shifts = await previewCalendar(world.db, await world.viewer("ilda"), closed);
    expect(shifts.map((one) => one.id)).toEqual([id]);
    accepted(await changePublication(world.act("ilda"), { ...settings, name: "Fontelba Paths", calendar: closed }));
    expect((await look(world, id)).piece.dueAt).toBe(shifts[0]?.after);
    expect((await look(world, chosen)).piece.dueAt).toBe(MORNING + 3 * DAY);
    expect(await publicationSettings(world.db)).toMatchObject({ name: "Fontelba Paths", revision: 2 });
    expect(codeOf(await changePublication(world.act("ilda"), settings))).toBe("stale");
  });

  test("another section, kind and author, with what that changes shown first", async () => {
    const id = await inReview("all", [{ person: "wim" }, { person: "petra" }]);
    const { piece: row } = await look(world, id);
    const there = {
      sectionId: world.id("section huts"),
      kindId: world.id("kind hut-page"),
      authorId: world.id("petra"),
    };
    const preview = await previewPlace(world.db, await world.viewer("ilda"), row.slug, there);
    expect(preview).toMatchObject({ loses: ["Tobia Rensk"], gains: [], workflow: "Hut page", lost: [] });
    expect(preview?.missing.join()).toContain("Standfirst");
    accepted(await placePiece(world.act("ilda"), { ...(await seen(id)), ...there, note: "It is about the hut." }));
    const after = await look(world, id);
    expect(after.piece).toMatchObject({ ...there, stateKey: "check" });
    const seats = await world.db.select().from(seat).where(eq(seat.pieceId, id)).orderBy(seat.position);
    expect(seats.map((one) => one.voidReason)).toEqual([null, "author"]);
    expect((await heard(world, "petra", id))[0]?.headline).toContain("you are its author");
    expect(codeOf(await placePiece(world.act("sefa"), { ...(await seen(id)), ...there, note: "x" }))).toBe("not-found");
  });
});
