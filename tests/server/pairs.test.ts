import { and, eq, inArray, isNull } from "drizzle-orm";
import type { Result } from "#core/refusal.ts";
import { newId } from "#server/db/schema/columns.ts";
import { release, round, seat, task, workflowRevision } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { overrideStep, recallPiece, sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { addSeat, changeDue, reassignSeat } from "#server/passage/routing.ts";
import { deletePiece } from "#server/pieces/deleting.ts";
import { placePiece } from "#server/pieces/placing.ts";
import { cancelRelease, confirmRelease, planRelease, withdrawPiece } from "#server/release/commands.ts";
import { remark } from "#server/remarks/commands.ts";
import { savePiece } from "#server/text/commands.ts";
import { abandonRevision } from "#server/text/revision.ts";
import { putOnLine } from "#server/workflows/one-piece.ts";
import {
  accepted,
  begin,
  bindReview,
  DAY,
  look,
  MORNING,
  makeWorld,
  paragraph,
  send,
  type World,
  whole,
} from "../support/world.ts";

/** Two people act on one piece at the same moment, each seeing it as it was: every act beside every other. */
let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

/** The piece as both saw it. */
interface Seen {
  pieceId: string;
  revision: number;
  hash: string;
  seatId: string;
  planId: string;
}
type Acting = (seen: Seen) => Promise<Result<unknown>>;
const ilda = () => world.act("ilda");
const step =
  (who: string, transition: string): Acting =>
  ({ pieceId, revision }) =>
    sendPiece(world.act(who), { pieceId, revision, transition, note: "Now." });

const ANYWHERE: Record<string, Acting> = {
  comment: ({ pieceId }) => remark(world.act("kai"), { pieceId, body: "A word" }),
  delete: ({ pieceId, revision }) => deletePiece(ilda(), { pieceId, revision, note: "Twice." }),
  place: async ({ pieceId, revision }) => {
    const { kindId, authorId } = (await look(world, pieceId)).piece;
    const sectionId = world.id("section huts");
    return placePiece(ilda(), { pieceId, revision, kindId, authorId, sectionId, note: "A hut." });
  },
  line: ({ pieceId, revision }) =>
    putOnLine(ilda(), { pieceId, revision, workflow: "hut-page", state: "draft", note: "A hut." }),
  due: ({ pieceId, revision }) => changeDue(ilda(), { pieceId, revision, dueAt: MORNING + DAY }),
  write: ({ pieceId, hash }) =>
    savePiece(world.act("tobia"), {
      pieceId,
      window: newId(),
      base: hash,
      patch: whole({ title: "Anew", fields: { body: paragraph("Other words.") } }),
    }),
};
const says =
  (verdict: "approve" | "return" | "abstain"): Acting =>
  ({ pieceId, hash }) =>
    decide(world.act("wim"), { pieceId, versionHash: hash, verdict, note: "So." });

const STAGES: Record<string, { lay(id: string): Promise<void>; acts: Record<string, Acting> }> = {
  "in review": {
    lay: async (id) => void accepted(await send(world, id, "tobia", "send")),
    acts: {
      ...ANYWHERE,
      approve: says("approve"),
      return: says("return"),
      abstain: says("abstain"),
      recall: ({ pieceId, revision }) => recallPiece(world.act("tobia"), { pieceId, revision, note: "Too early." }),
      override: ({ pieceId, revision }) =>
        overrideStep(ilda(), { pieceId, revision, transition: "pass", note: "Nobody else is here." }),
      "add a seat": ({ pieceId, revision }) => addSeat(ilda(), { pieceId, revision, personId: world.id("jorun") }),
      "pass the seat on": ({ pieceId, revision, seatId }) =>
        reassignSeat(ilda(), { pieceId, revision, seatId, personId: world.id("jorun") }),
    },
  },
  planned: {
    lay: async (id) => {
      await passed(id);
      const { piece } = await look(world, id);
      accepted(await planRelease(world.act("kai"), { pieceId: id, revision: piece.revision, at: MORNING + DAY }));
    },
    acts: {
      ...ANYWHERE,
      release: step("ilda", "release"),
      confirm: ({ pieceId, revision }) => confirmRelease(ilda(), { pieceId, revision }),
      "plan anew": ({ pieceId, revision }) => planRelease(ilda(), { pieceId, revision, at: MORNING + 2 * DAY }),
      "take the plan back": ({ pieceId, revision }) => cancelRelease(ilda(), { pieceId, revision }),
      "its time comes": ({ planId }) => carryOut({ ...ilda(), personId: null, now: MORNING + DAY }, [planId]),
    },
  },
  "live, revised": {
    lay: async (id) => {
      await passed(id);
      accepted(await send(world, id, "ilda", "release"));
      accepted(await send(world, id, "tobia", "revise"));
    },
    acts: {
      ...ANYWHERE,
      send: step("tobia", "send"),
      withdraw: ({ pieceId, revision }) =>
        withdrawPiece(ilda(), { pieceId, revision, note: "Wrong hut.", notice: "Withdrawn." }),
      "give the revision up": ({ pieceId, revision }) =>
        abandonRevision(world.act("tobia"), { pieceId, revision, note: "" }),
    },
  },
};

async function passed(id: string): Promise<void> {
  accepted(await send(world, id, "tobia", "send"));
  accepted(await says("approve")({ ...(await seen(id)) }));
}

async function seen(pieceId: string): Promise<Seen> {
  const { piece, version } = await look(world, pieceId);
  const [place] = await world.db.select().from(seat).where(eq(seat.pieceId, pieceId));
  const [plan] = await world.db.select().from(release).where(eq(release.pieceId, pieceId));
  return { pieceId, revision: piece.revision, hash: version.hash, seatId: place?.id ?? "", planId: plan?.id ?? "" };
}

/** What holds of a piece whatever two people did to it; deleted, it keeps its review and loses its plan. */
async function isWhole(pieceId: string): Promise<void> {
  const { piece } = await look(world, pieceId);
  const [row] = await world.db
    .select({ document: workflowRevision.document })
    .from(workflowRevision)
    .where(eq(workflowRevision.id, piece.workflowRevisionId));
  const state = row?.document.states.find((one) => one.key === piece.stateKey);
  const rounds = await world.db
    .select()
    .from(round)
    .where(and(eq(round.pieceId, pieceId), isNull(round.closedAt)));
  const plans = await world.db
    .select()
    .from(release)
    .where(and(eq(release.pieceId, pieceId), inArray(release.status, ["planned", "proposed", "held"])));
  expect(state?.kind).toBe(piece.stateKind);
  expect(rounds).toHaveLength(piece.stateKind === "review" ? 1 : 0);
  if (piece.stateKind === "live") expect(piece.liveVersionId).not.toBeNull();
  expect(plans.length).toBeLessThanOrEqual(1);
  // A plan of a piece that is elsewhere says that it would be held, or is about to be looked at.
  const [plan] = plans;
  if (!plan || piece.stateKind === "ready") return;
  const looks = await world.db
    .select()
    .from(task)
    .where(and(eq(task.kind, "access"), eq(task.subject, plan.plannedBy)));
  expect(plan.holds.length + looks.length).toBeGreaterThan(0);
}

for (const [stage, { lay, acts }] of Object.entries(STAGES)) {
  const names = Object.keys(acts);
  const pairs = names.flatMap((one, i) => names.slice(i).map((other) => [one, other] as const));
  test(`${stage}: each of ${pairs.length} pairs of acts at once ends in answers, and leaves the piece whole`, async () => {
    const both: string[] = [];
    for (const [one, other] of pairs) {
      const { id } = await begin(world, `${one} and ${other}`);
      await lay(id);
      const as = await seen(id);
      const answers = await Promise.all([acts[one]?.(as), acts[other]?.(as)]);
      for (const answer of answers)
        expect(answer?.ok === true || typeof answer?.refusal.sentence).not.toBe("undefined");
      await isWhole(id);
      if (answers.every((answer) => answer?.ok)) both.push(`${one} and ${other}`);
    }
    // What moves the piece happens once: of two that saw the same, the second is told that it went on.
    const once = ["approve", "return", "recall", "override", "release", "send", "delete", "withdraw"];
    for (const act of once.filter((name) => name in acts)) expect(both).not.toContain(`${act} and ${act}`);
    // Not everything was turned away.
    expect(both).toContain("comment and comment");
  });
}

test("and the record of all of it holds together", async () => {
  expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
});
