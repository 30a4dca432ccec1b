import { eq } from "drizzle-orm";
import { openTime } from "#core/time/due.ts";
import { newId } from "#server/db/schema/columns.ts";
import { likelyLine, piece } from "#server/db/schema/index.ts";
import { leaveEdition } from "#server/editions/leaving.ts";
import { signEdition } from "#server/editions/signing.ts";
import { helpPage } from "#server/flow/help.ts";
import { weekLetter } from "#server/flow/letter.ts";
import { likelyOfPieces, refreshLikely } from "#server/flow/likely.ts";
import { flowPage } from "#server/flow/queries.ts";
import { dropTarget, setTarget, targetsAtRisk, targetsSeen } from "#server/flow/targets.ts";
import { setLimit } from "#server/load/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { deletePiece } from "#server/pieces/deleting.ts";
import { piecePage } from "#server/pieces/page.ts";
import { remark } from "#server/remarks/commands.ts";
import { bulletin, editionAt, fill } from "../support/edition.ts";
import {
  accepted,
  approve,
  approved,
  begin,
  bindReview,
  DAY,
  HOUR,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const flow = async (who = "ilda", more: object = {}, now = MORNING + 3 * DAY) => {
  const viewer = { ...(await world.viewer(who)), now };
  const page = await flowPage(world.db, viewer, { line: "", weeks: 6, ...more });
  if (!page || "problem" in page.flow) throw new Error("there is no flow");
  return { ...page, flow: page.flow };
};

test("a line's stops hold what is there, and a return is seen as one", async () => {
  const { id } = await begin(world, "The winter room is open");
  await begin(world, "The spring is dry");
  accepted(await send(world, id, "tobia", "send"));
  const there = await flow();
  const line = there.stops.map((one) => one.key);
  expect(line[0]).toBe("draft");
  expect(there.flow.likely.map((one) => one.at).sort()).toEqual(["draft", line[1]].sort());
  expect(there.flow.measured.find((one) => one.state === "draft")).toMatchObject({ left: 1, now: 1, returned: 0 });
  expect(there.pieces[id]?.title).toBe("The winter room is open");
  await approve(world, id, "wim", MORNING + DAY);
  const { piece: row } = await look(world, id);
  expect((await flow()).flow.measured.some((one) => one.state === row.stateKey)).toBe(true);
});

test("each counts what they may see, and the narrowing is by section, kind and author", async () => {
  await begin(world, "The winter room is open");
  expect((await flow()).flow.likely).toHaveLength(1);
  // Noor is no part of it while it is a draft of Tobia's.
  const others = await flow("noor");
  expect([others.flow.likely, others.pieces]).toEqual([[], {}]);
  expect((await flow("ilda", { section: "bulletin" })).flow.likely).toHaveLength(1);
  expect((await flow("ilda", { section: "winter" })).flow.likely).toHaveLength(0);
  expect((await flow("ilda", { kind: "route-guide" })).flow.likely).toHaveLength(0);
  expect((await flow("ilda", { author: world.id("noor") })).flow.likely).toHaveLength(0);
  expect((await flow("ilda", { author: world.id("tobia") })).flow.likely).toHaveLength(1);
});

test("what would help is told of what one may see; what others may take is offered to whom may hand it on", async () => {
  accepted(await setLimit(world.act("ilda"), { personId: world.id("wim"), limit: 1 }));
  await bindReview(world, "any", [{ role: "copy-editor", pick: "least-busy" }]);
  for (const title of ["One", "Two", "Three", "Four"]) {
    const { id } = await begin(world, title);
    accepted(await send(world, id, "tobia", "send"));
  }
  const help = async (who: string) => {
    const viewer = { ...(await world.viewer(who)), now: MORNING + DAY };
    const found = await helpPage(world.db, viewer, { line: "", weeks: 6 });
    if (!found || "problem" in found) throw new Error("there is no help");
    return found.help;
  };
  expect(await help("ilda")).toMatchObject({ stop: "check", waiting: 4 });
  expect(await help("noor")).toBeNull();
});

test("what came back is told with the sorts of its remarks and its notes, and what settled remarks would have kept", async () => {
  for (const title of ["One", "Two", "Three"]) {
    const { id } = await begin(world, title);
    accepted(await remark(world.act("ilda", MORNING), { pieceId: id, body: "Which ford?", kind: "fact" }));
    accepted(await send(world, id, "tobia", "send", { now: MORNING + HOUR }));
    const { version: read } = await look(world, id);
    const said = { pieceId: id, versionHash: read.hash, verdict: "return" as const, note: `Not yet, ${title}.` };
    accepted(await remark(world.act("wim", MORNING + 2 * HOUR), { pieceId: id, body: "Typo.", kind: "wording" }));
    accepted(await decide(world.act("wim", MORNING + 3 * HOUR), said));
  }
  const returns = async (who: string) => {
    const viewer = { ...(await world.viewer(who)), now: MORNING + DAY };
    const found = await helpPage(world.db, viewer, { line: "", weeks: 6 });
    return found && !("problem" in found) ? found.returns : [];
  };
  const [check] = await returns("ilda");
  const step = { step: "Send", to: expect.stringMatching(/^\/workflows\/.+\?step=send$/) };
  expect(check).toMatchObject({ stop: "check", of: 3, unsettled: { count: 3, took: null, ...step } });
  // Which stays these are is computed with, and told to nobody.
  expect(check?.unsettled).not.toHaveProperty("caught");
  expect(check?.kinds.map((one) => one.count)).toEqual([3]);
  expect(check?.notes.map((one) => one.note).sort()).toEqual(["Not yet, One.", "Not yet, Three.", "Not yet, Two."]);
  expect(await returns("noor")).toEqual([]);
  // Two of them are there again, after an hour and after three.
  const [one, two] = await world.db.select({ id: piece.id }).from(piece).where(eq(piece.stateKey, "draft"));
  for (const [back, hours] of [
    [one, 1],
    [two, 3],
  ] as const)
    accepted(await send(world, back?.id ?? "", "tobia", "send", { now: MORNING + (3 + hours) * HOUR }));
  const { calendar } = await world.viewer("ilda");
  const open = [1, 3].map((hours) => openTime(calendar, MORNING + 3 * HOUR, MORNING + (3 + hours) * HOUR));
  expect((await returns("ilda"))[0]?.unsettled).toMatchObject({
    count: 3,
    took: open.reduce((sum, one) => sum + one) / 2,
  });
  expect((await returns("tobia"))[0]?.unsettled?.to).toBeNull();
});

test("where what passed had come back with remarks open, it is foreseen what asking for settled ones would bring", async () => {
  const sentAt = async (id: string, hours: number) => {
    accepted(await send(world, id, "tobia", "send", { now: MORNING + hours * HOUR }));
    return { pieceId: id, versionHash: (await look(world, id)).version.hash };
  };
  for (let i = 0; i < 8; i++) {
    const { id } = await begin(world, `Past ${i}`);
    if (i < 4) {
      accepted(await remark(world.act("ilda", MORNING), { pieceId: id, body: "Which ford?", kind: "fact" }));
      const seen = await sentAt(id, 1);
      const back = { ...seen, verdict: "return" as const, note: "Not yet." };
      accepted(await decide(world.act("wim", MORNING + 2 * HOUR), back));
    }
    await sentAt(id, 4);
    await approve(world, id, "wim", MORNING + 5 * HOUR);
  }
  for (const title of ["There", "And there"]) await sentAt((await begin(world, title)).id, 6);
  const helpOf = async (who: string) => {
    const found = await helpPage(
      world.db,
      { ...(await world.viewer(who)), now: MORNING + 7 * HOUR },
      { line: "", weeks: 6 },
    );
    return found && !("problem" in found) ? found.help : null;
  };
  const help = await helpOf("ilda");
  const settled = help?.ways.find((one) => one.ease === "settled");
  expect(settled?.sooner).toBeGreaterThanOrEqual(15);
  expect(settled?.pieces.every((one) => one.then <= one.now)).toBe(true);
  expect(help).toMatchObject({
    stop: "check",
    settling: { count: 4, step: "Send", to: expect.stringContaining("?step=send") },
  });
  // Who may not configure is told the same, and led nowhere.
  expect((await helpOf("wim"))?.settling?.to ?? null).toBeNull();
});

test("the busiest line is shown where none is named, or one that is not there", async () => {
  await begin(world, "The winter room is open");
  const there = await flow("ilda", { line: "no-such-line" });
  expect(there.flow.likely).toHaveLength(1);
});

test("what is likely of every piece is kept as things move, and stands on its page and nowhere it may not be seen", async () => {
  const { id, slug } = await begin(world, "The winter room is open");
  await refreshLikely(world.db, MORNING + 1_000, 0);
  const kept = await likelyOfPieces(world.db, [id]);
  expect(kept.get(id)?.p50).toBeGreaterThan(MORNING);
  const page = await piecePage(world.db, await world.viewer("tobia"), slug);
  expect(page?.row.likely?.p50).toBe(kept.get(id)?.p50);
  // Nothing moved: it is left as it is.
  await refreshLikely(world.db, MORNING + 2_000, 0);
  const [line] = await world.db
    .select()
    .from(likelyLine)
    .where(eq(likelyLine.at, MORNING + 2_000));
  expect(line).toBeUndefined();
  accepted(await send(world, id, "tobia", "send", { now: MORNING + 3_000 }));
  await refreshLikely(world.db, MORNING + 4_000, 0);
  const [after] = await world.db
    .select()
    .from(likelyLine)
    .where(eq(likelyLine.at, MORNING + 4_000));
  expect(after).toBeDefined();
  accepted(
    await deletePiece(world.act("ilda"), {
      pieceId: id,
      revision: (await look(world, id)).piece.revision,
      note: "",
    } as never),
  );
  await refreshLikely(world.db, MORNING + 7 * DAY, 0);
  expect((await likelyOfPieces(world.db, [id])).size).toBe(0);
});

const wish = (more: object = {}) => ({
  name: "Three items in November",
  wanted: 3,
  kindId: world.id("kind bulletin-item"),
  sectionId: null,
  share: false,
  channel: null,
  from: "2026-11-01",
  until: "2026-12-20",
  ...more,
});

test("a target counts what reached readers in it and what is likely to, as far as one may see", async () => {
  accepted(await setTarget(world.act("ilda"), wish()));
  const out = await approved(world);
  accepted(await send(world, out, "ilda", "release"));
  await begin(world, "The spring is dry");
  await refreshLikely(world.db, MORNING + 1_000, 0);
  const [one] = await targetsSeen(world.db, await world.viewer("ilda"));
  expect(one).toMatchObject({
    wanted: 3,
    done: 1,
    coming: 1,
    outcome: "at risk",
  });
  expect(await targetsAtRisk(world.db, await world.viewer("ilda"))).toHaveLength(1);
  // Noor sees nothing of Tobia's in the workshop, and it is counted so.
  expect((await targetsSeen(world.db, await world.viewer("noor")))[0]).toMatchObject({
    done: 0,
    coming: 0,
  });
  const late = { ...(await world.viewer("ilda")), now: MORNING + 60 * DAY };
  expect((await targetsSeen(world.db, late))[0]).toMatchObject({ outcome: "missed", coming: 0, gone: 1 });
});

test("a target of a channel counts what left through it, and what is in its editions to come", async () => {
  await bulletin(world);
  const items = { kindId: null, channel: "bulletin", wanted: 1, until: "2026-12-31" };
  expect(await setTarget(world.act("ilda"), wish({ ...items, channel: "site" }))).toMatchObject({
    refusal: { field: "channel" },
  });
  accepted(await setTarget(world.act("ilda"), wish(items)));
  const stands = async (who: string, now = MORNING + HOUR) =>
    (await targetsSeen(world.db, { ...(await world.viewer(who)), now }))[0];
  expect(await stands("ilda")).toMatchObject({ done: 0, coming: 0, outcome: "at risk" });
  const id = await approved(world);
  accepted(await fill(world, 48, [id]));
  expect(await stands("ilda")).toMatchObject({ done: 0, coming: 1, outcome: "likely" });
  expect(await stands("noor")).toMatchObject({ done: 0, coming: 0 });
  const { id: editionId, at } = await editionAt(world, 48);
  for (const who of ["ilda", "lene"]) {
    const { revision } = await editionAt(world, 48);
    accepted(await signEdition(world.act(who), { editionId, revision }));
  }
  accepted(await leaveEdition(world.act(null, at), editionId));
  expect(await stands("ilda", at + HOUR)).toMatchObject({ done: 1, coming: 0, outcome: "reached" });
});

test("a share in time goes by the dates wished for: in time, too late, and what is likely", async () => {
  const dated = async (id: string, publishAt: number) =>
    void (await world.db.update(piece).set({ publishAt }).where(eq(piece.id, id)));
  const half = wish({ name: "Half of them in time", wanted: 50, share: true, kindId: null });
  accepted(await setTarget(world.act("ilda"), half));
  const stands = async (now = MORNING + HOUR) =>
    (await targetsSeen(world.db, { ...(await world.viewer("ilda")), now }))[0];
  expect(await stands()).toMatchObject({ of: 0, outcome: "ahead" });
  const out = await approved(world);
  await dated(out, MORNING);
  accepted(await send(world, out, "ilda", "release"));
  const late = (await begin(world, "Promised for yesterday")).id;
  await dated(late, MORNING - DAY);
  const ahead = (await begin(world, "Promised for Advent")).id;
  await dated(ahead, MORNING + 24 * DAY);
  await refreshLikely(world.db, MORNING + 1_000, 0);
  expect(await stands()).toMatchObject({ share: 50, of: 3, wanted: 2, done: 1, coming: 1, outcome: "likely" });
  expect(await stands(MORNING + 60 * DAY)).toMatchObject({ done: 1, coming: 0, outcome: "missed" });
  const lines = (await weekLetter(world.db, await world.viewer("ilda"))).lines.join(" ");
  expect(lines).toContain("Half of them in time: 1 of 3 in time");
  for (const [more, field] of [
    [{ wanted: 101 }, "wanted"],
    [{ channel: "bulletin" }, "channel"],
  ] as const)
    expect(await setTarget(world.act("ilda"), { ...half, ...more })).toMatchObject({ refusal: { field } });
});

test("a target for another section, or reached, is no risk; a period that is none is refused where it is said", async () => {
  accepted(await setTarget(world.act("ilda"), wish({ wanted: 1, sectionId: world.id("section winter") })));
  const out = await approved(world);
  accepted(await send(world, out, "ilda", "release"));
  accepted(await setTarget(world.act("ilda"), wish({ wanted: 1 })));
  const stands = await targetsSeen(world.db, await world.viewer("ilda"));
  expect(stands.map((one) => one.outcome).sort()).toEqual(["at risk", "reached"]);
  const tries: [object, string][] = [
    [{ until: "2026-10-01" }, "until"],
    [{ from: "2026-10-01", until: "2026-11-23" }, "until"],
    [{ until: "2029-01-01" }, "until"],
    [{ kindId: newId() }, "kindId"],
    [{ sectionId: newId() }, "sectionId"],
  ];
  for (const [more, field] of tries) {
    const done = await setTarget(world.act("ilda"), wish(more));
    expect([more, done.ok ? "" : done.refusal.field]).toEqual([more, field]);
  }
  const [first] = stands;
  accepted(await dropTarget(world.act("ilda"), { targetId: first?.id ?? "" }));
  expect(await targetsSeen(world.db, await world.viewer("ilda"))).toHaveLength(1);
});
