import { and, eq, isNull } from "drizzle-orm";
import type { Workflow } from "#core/workflow/document.ts";
import { addState, changeState, removeState } from "#core/workflow/editing/edit.ts";
import type { Fate } from "#core/workflow/migrate.ts";
import { putWorkflowInUse } from "#demo/seed.ts";
import { ledger, round, seat, workflow, workflowRevision } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { decide } from "#server/passage/deciding.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { putInUse } from "#server/workflows/adopt.ts";
import { bindWorkflow } from "#server/workflows/bindings.ts";
import { saveCopy } from "#server/workflows/copies.ts";
import { groupKey } from "#server/workflows/migration.ts";
import { putOnLine } from "#server/workflows/one-piece.ts";
import { previewChange } from "#server/workflows/preview.ts";
import { exportWorkflow, pieceBindings } from "#server/workflows/queries.ts";
import {
  accepted,
  codeOf,
  HOUR,
  heard,
  look,
  MORNING,
  makeWorld,
  paragraph,
  send,
  type World,
} from "../support/world.ts";

const LATER = MORNING + HOUR;
let world: World;
let key: string;
let before: Workflow;
let revisionId: string;

/** A two-review line of the test's own, bound to the bulletin. */
const LINE = JSON.stringify({
  format: "elenco.workflow/1",
  key: "line",
  name: "Line",
  initial: "draft",
  mainLine: ["draft", "check", "edit", "ready", "live"],
  states: [
    { key: "draft", name: "Draft", kind: "writing", editors: ["author"] },
    {
      key: "check",
      name: "Check",
      kind: "review",
      take: "1wd",
      arrival: { checklist: ["Looked at the map"] },
      review: { rule: "all", seats: [{ role: "checker" }], approve: "checked", return: "check-back" },
    },
    {
      key: "edit",
      name: "Edit",
      kind: "review",
      take: "1wd",
      review: { rule: "any", seats: [{ person: "petra" }], approve: "edited", return: "edit-back" },
    },
    { key: "ready", name: "Ready", kind: "ready" },
    { key: "live", name: "Live", kind: "live" },
    { key: "aside", name: "Aside", kind: "parked" },
  ],
  transitions: [
    { key: "send", name: "Send", from: ["draft"], to: "check", by: ["author"] },
    { key: "checked", name: "Right", from: ["check"], to: "edit" },
    { key: "check-back", name: "Back", from: ["check"], to: "draft" },
    { key: "edited", name: "Edited", from: ["edit"], to: "ready" },
    { key: "edit-back", name: "Back", from: ["edit"], to: "draft" },
    { key: "release", name: "Release", from: ["ready"], to: "live", by: ["role:chief"] },
    { key: "park", name: "Set aside", from: ["draft"], to: "aside", by: ["author"] },
    { key: "resume", name: "Take up", from: ["aside"], to: "draft", by: ["author"] },
    { key: "revise", name: "Revise", from: ["live"], to: "draft", by: ["author"] },
  ],
});

beforeEach(async () => {
  world = await makeWorld();
  key = await putWorkflowInUse(world.act("ilda"), LINE);
  const [row] = await world.db.select().from(workflow).where(eq(workflow.key, key));
  revisionId = row?.currentRevisionId ?? "";
  accepted(
    await bindWorkflow(world.act("ilda"), {
      scope: "section",
      scopeId: world.id("section bulletin"),
      workflowId: row?.id ?? null,
    }),
  );
  before = (await exportWorkflow(world.db, key)) as Workflow;
});
afterEach(() => world.close());

async function pieceIn(state: "draft" | "check" | "edit" | "aside", title: string): Promise<string> {
  const { id } = accepted(
    await createPiece(world.act("tobia"), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind bulletin-item"),
      title,
      private: false,
      fields: { body: paragraph("A few words.") },
    }),
  );
  if (state === "aside") accepted(await send(world, id, "tobia", "park"));
  if (state === "check" || state === "edit") accepted(await send(world, id, "tobia", "send"));
  if (state === "edit") for (const who of ["wim", "jorun"]) accepted(await approve(id, who));
  return id;
}

async function approve(pieceId: string, who: string) {
  const { version } = await look(world, pieceId);
  return decide(world.act(who), { pieceId, versionHash: version.hash, verdict: "approve", note: "" });
}

async function use(document: Workflow, choices: { states?: Record<string, Fate>; pieces?: Record<string, Fate> } = {}) {
  accepted(await saveCopy(world.act("ilda", LATER), { key, document, revision: 0 }));
  const wanted = { key, revision: 1, choices: { states: {}, pieces: {}, ...choices }, at: null };
  const first = await putInUse(world.act("ilda", LATER), { ...wanted, acknowledged: [] });
  if (first.ok || first.refusal.code !== "unacknowledged") return first;
  return putInUse(world.act("ilda", LATER), { ...wanted, acknowledged: first.refusal.keys ?? [] });
}

const openRounds = (pieceId: string) =>
  world.db
    .select()
    .from(round)
    .where(and(eq(round.pieceId, pieceId), isNull(round.closedAt)));
const seats = async (roundId: string) =>
  (await world.db.select().from(seat).where(eq(seat.roundId, roundId))).map((one) => `${one.personId} ${one.status}`);

test("a removed state: its pieces move by the proposal, one goes where it was chosen, one finishes on its old revision", async () => {
  const [moved, chosen, behind] = [
    await pieceIn("check", "Moved"),
    await pieceIn("check", "Chosen"),
    await pieceIn("check", "Behind"),
  ];
  const next = removeState(before, "check");
  const [group] = await previewChange(world.db, await world.viewer("ilda"), (await workflowId()) ?? "", next);
  expect(group).toMatchObject({
    count: 3,
    fate: { kind: "moves", to: "edit" },
    rounds: "restarts",
    because: "the nearest review",
  });
  const answer = accepted(
    await use(next, { pieces: { [chosen]: { kind: "moves", to: "draft" }, [behind]: { kind: "finishes-there" } } }),
  );
  expect(answer).toMatchObject({ revision: 2, moved: 2, stayed: 0, behind: 1 });

  const piece = (await look(world, moved)).piece;
  expect(piece).toMatchObject({ stateKey: "edit", stateKind: "review", since: LATER });
  const [opened] = await openRounds(moved);
  expect(opened).toMatchObject({ stateKey: "edit", number: 2 });
  expect(await seats(opened?.id ?? "")).toEqual([`${world.id("petra")} open`]);
  expect((await look(world, chosen)).piece.stateKey).toBe("draft");
  expect(await openRounds(chosen)).toEqual([]);
  expect((await look(world, behind)).piece).toMatchObject({ stateKey: "check", workflowRevisionId: revisionId });
  for (const who of ["wim", "jorun"]) accepted(await approve(behind, who));
  expect((await look(world, behind)).piece.stateKey).toBe("edit");
  accepted(await approve(moved, "petra"));
  expect((await look(world, moved)).piece.stateKey).toBe("ready");

  const told = await heard(world, "tobia");
  expect(told).toContainEqual(
    expect.objectContaining({
      headline: "The workflow Line was changed: 2 pieces of yours moved or wait on you",
      note: expect.stringContaining("“Moved” is now in Edit: its workflow was changed"),
    }),
  );
  const entries = await world.db.select().from(ledger).where(eq(ledger.action, "piece.rerouted"));
  expect(entries.map((one) => one.pieceId).sort()).toEqual([moved, chosen].sort());
  expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
});

test("rounds go on where the review asks the same, restart where it asks otherwise; ticks and decisions are kept or void with them", async () => {
  const [going, again] = [await pieceIn("check", "Going"), await pieceIn("edit", "Again")];
  accepted(await approve(going, "wim"));
  const [same] = await openRounds(going);
  const edit = before.states.find((state) => state.key === "edit")?.review;
  const next = changeState(changeState(before, "check", { name: "Fact check", take: "2wd" }), "edit", {
    review: edit && { ...edit, seats: [{ person: "lene" }] },
  });
  expect(accepted(await use(next))).toMatchObject({ moved: 0, stayed: 2 });
  expect((await openRounds(going))[0]?.id).toBe(same?.id);
  accepted(await approve(going, "jorun"));
  expect((await look(world, going)).piece.stateKey).toBe("edit");
  const [fresh] = await openRounds(again);
  expect(fresh?.number).toBe(3);
  expect(await seats(fresh?.id ?? "")).toEqual([`${world.id("lene")} open`]);
  expect(codeOf(await approve(again, "petra"))).toBe("no-seat");
  accepted(await approve(again, "lene"));
});

test("a switched-off state lets its pieces go on at once", async () => {
  const id = await pieceIn("check", "Passing");
  expect(accepted(await use(changeState(before, "check", { bypass: "checked" })))).toMatchObject({ moved: 1 });
  expect((await look(world, id)).piece.stateKey).toBe("edit");
});

test("where a piece has nowhere to go nothing happens at all", async () => {
  const [aside, other] = [await pieceIn("aside", "Aside"), await pieceIn("check", "Other")];
  const next = removeState(before, "aside");
  const preview = await previewChange(world.db, await world.viewer("ilda"), (await workflowId()) ?? "", next);
  expect(preview.map((one) => [one.state.key, one.count, one.fate])).toEqual([
    ["check", 1, { kind: "stays" }],
    ["aside", 1, null],
  ]);
  const refused = await use(next);
  expect(refused).toMatchObject({ refusal: { code: "stranded", missing: ["Aside"] } });
  expect((await look(world, other)).piece.workflowRevisionId).toBe(revisionId);
  expect(
    await world.db
      .select()
      .from(workflowRevision)
      .where(eq(workflowRevision.workflowId, (await workflowId()) ?? "")),
  ).toHaveLength(1);
  const answer = await putInUse(world.act("ilda", LATER), {
    key,
    revision: 1,
    choices: { states: { [groupKey(revisionId, "aside")]: { kind: "moves", to: "draft" } }, pieces: {} },
    acknowledged: [],
    at: null,
  });
  expect(accepted(answer)).toMatchObject({ moved: 1, stayed: 1 });
  expect((await look(world, aside)).piece.stateKey).toBe("draft");
});

test("the preview names only pieces its viewer may see, and counts all", async () => {
  await pieceIn("draft", "Seen");
  const hidden = accepted(
    await createPiece(world.act("tobia"), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind bulletin-item"),
      title: "Private",
      private: true,
      fields: { body: paragraph("A few words.") },
    }),
  );
  const [group] = await previewChange(world.db, await world.viewer("ilda"), (await workflowId()) ?? "", before);
  expect(group?.count).toBe(2);
  expect(group?.pieces.map((one) => one.title)).toEqual(["Seen"]);
  const withStop = addState(before, "Proof", "review", "edit", "copy-editor").workflow;
  accepted(await use(withStop));
  expect((await look(world, hidden.id)).piece).toMatchObject({ private: true, stateKey: "draft" });
});

test("what somebody sends meanwhile from the old line is refused as stale, not lost", async () => {
  const id = await pieceIn("draft", "Meanwhile");
  const { piece } = await look(world, id);
  accepted(await use(removeState(before, "check")));
  const { sendPiece } = await import("#server/passage/commands.ts");
  const late = await sendPiece(world.act("tobia", LATER), {
    pieceId: id,
    revision: piece.revision,
    transition: "send",
    note: "",
    dueAt: null,
    publishAt: null,
    urgency: "normal",
    reviewers: [],
  });
  expect(codeOf(late)).toBe("stale");
});

async function workflowId() {
  const [row] = await world.db.select({ id: workflow.id }).from(workflow).where(eq(workflow.key, key));
  return row?.id;
}

describe("one piece on another line", () => {
  const put = async (pieceId: string, on: string, who = "ilda") => {
    const [name = "", state = ""] = on.split("/");
    const { piece } = await look(world, pieceId);
    return putOnLine(world.act(who, LATER), {
      pieceId,
      revision: piece.revision,
      workflow: name,
      state,
      note: "It is about the hut.",
    });
  };

  test("it goes on there, its review closes, and where it goes is on record", async () => {
    const id = await pieceIn("check", "Alone");
    accepted(await put(id, "hut-page/copy-edit"));
    const { piece } = await look(world, id);
    expect(piece.stateKey).toBe("copy-edit");
    expect(await openRounds(id)).toHaveLength(1);
    expect(await pieceBindings(world.db, await world.viewer("ilda"))).toMatchObject([
      { title: "Alone", workflow: "Hut page" },
    ]);
    expect(codeOf(await approve(id, "wim"))).toBe("no-seat");
    accepted(await approve(id, "petra"));
    expect((await look(world, id)).piece.stateKey).toBe("ready");
  });

  test("not out to readers past its review, not where it is already, and not by others", async () => {
    const id = await pieceIn("check", "Staying");
    expect(codeOf(await put(id, "hut-page/live"))).toBe("unknown-workflow");
    expect(codeOf(await put(id, "hut-page/nowhere"))).toBe("unknown-workflow");
    expect(codeOf(await put(id, `${key}/draft`))).toBe("same-line");
    expect(codeOf(await put(id, "hut-page/draft", "tobia"))).toBe("not-granted");
  });
});

test("what is switched off up to the readers lets nothing out by itself: the pieces must be told where to go", async () => {
  const id = await pieceIn("edit", "Not out");
  const past = changeState(changeState(before, "edit", { bypass: "edited" }), "ready", { bypass: "release" });
  expect(await use(past)).toMatchObject({ refusal: { code: "stranded", missing: ["Not out"] } });
  expect((await look(world, id)).piece.liveVersionId).toBeNull();
});
