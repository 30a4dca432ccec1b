import { and, eq, isNull } from "drizzle-orm";
import fc from "fast-check";
import {
  begin as beginRehearsal,
  choices,
  decideAs,
  decisionsLead,
  later,
  offers,
  type Rehearsal,
  type Stage,
  take,
  tick,
} from "#core/rehearsal/rehearse.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { STARTING_POINTS } from "#core/workflow/editing/starting-points.ts";
import { newId } from "#server/db/schema/columns.ts";
import {
  accessGrant,
  assignment,
  checklistPoint,
  person,
  piece,
  role,
  round,
  seat,
  workflow,
  workflowBinding,
  workflowRevision,
} from "#server/db/schema/index.ts";
import { sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { deletePiece } from "#server/pieces/deleting.ts";
import { loadPlaces } from "#server/sections/places.ts";
import { loadPeople } from "#server/workflows/staff.ts";
import { lines } from "../../core/rehearsal/samples.ts";
import { accepted, begin, codeOf, look, MORNING, makeWorld, type World } from "../support/world.ts";

/** Who acts; all hold every permission, since the rehearsal rehearses the workflow and not the grants. */
const ACTORS = ["ilda", "tobia", "wim", "jorun", "petra", "lene"];
const HOUR = 3_600_000;

let world: World;
let keys: Map<string, string>;
beforeAll(async () => {
  world = await makeWorld();
  const [chief] = await world.db.select().from(role).where(eq(role.key, "chief"));
  for (const who of ACTORS.filter((one) => one !== "ilda"))
    await world.db
      .insert(accessGrant)
      .values({ id: newId(), personId: world.id(who), roleId: chief?.id ?? "", scope: "publication" });
  const [lead] = await world.db.select().from(role).where(eq(role.key, "lead"));
  await world.db
    .insert(accessGrant)
    .values({ id: newId(), personId: world.id("lene"), roleId: lead?.id ?? "", scope: "publication" });
  const rows = await world.db.select({ id: person.id, key: person.key }).from(person);
  keys = new Map(rows.map((row) => [row.id, row.key]));
});
afterAll(() => world.close());

/** Puts a document in use as it is, sound or not: what is wrong with it is not the question here. */
async function lay(document: Workflow): Promise<void> {
  const [id, revisionId] = [newId(), newId()];
  await world.db.insert(workflow).values({ id, key: `line-${id}`, name: document.name });
  await world.db
    .insert(workflowRevision)
    .values({ id: revisionId, workflowId: id, number: 1, document, acknowledged: [], createdAt: MORNING });
  await world.db.update(workflow).set({ currentRevisionId: revisionId }).where(eq(workflow.id, id));
  const at = { scope: "section" as const, scopeId: world.id("section bulletin") };
  await world.db.delete(workflowBinding).where(eq(workflowBinding.scopeId, at.scopeId));
  await world.db.insert(workflowBinding).values({ id: newId(), ...at, workflowId: id });
}

const stageFor = async (document: Workflow): Promise<Stage> => ({
  workflow: document,
  people: await loadPeople(world.db, MORNING),
  calendar: (await loadPlaces(world.db)).calendar,
});

/** What both say of where a piece is, in the same words. */
async function whereItIs(pieceId: string) {
  const { piece: row } = await look(world, pieceId);
  const key = (id: string | null) => (id === null ? null : (keys.get(id) ?? "?"));
  const [open] = await world.db
    .select()
    .from(round)
    .where(and(eq(round.pieceId, pieceId), isNull(round.closedAt)));
  const seats = open ? await world.db.select().from(seat).where(eq(seat.roundId, open.id)).orderBy(seat.position) : [];
  const assigned = await world.db.select().from(assignment).where(eq(assignment.pieceId, pieceId));
  return {
    state: row.stateKey,
    dueAt: row.stateKind === "live" ? null : row.dueAt,
    seats: seats.map((one) => [key(one.personId), key(one.forPersonId), one.voidReason, one.flag]),
    assigned: assigned.map((one) => key(one.personId)).sort(),
  };
}

const imagined = ({ workflow: { states } }: Stage, of: Rehearsal) => ({
  state: of.state,
  dueAt: states.find((state) => state.key === of.state)?.kind === "live" ? null : of.dueAt,
  seats: (of.round?.seats ?? []).map((one) => [one.personId, one.forPersonId, one.voidReason, one.flag]),
  assigned: [...of.assigned].sort(),
});

interface Acting {
  who: string;
  /** Which of what is offered is taken, as a fraction. */
  pick: number;
  says: "approve" | "return" | "decline" | "abstain";
  note: string;
  reviewers: number;
}

/** Whom to choose of these, each once: first who holds their role for every section, as the rehearsal takes all to do. */
const chosen = (people: readonly { id: string }[]) =>
  [...new Set(people.map((one) => one.id))].sort((a, b) => Number(b === "lene") - Number(a === "lene"));

/** Does one thing in both, and says what each answered. */
async function both(stage: Stage, rehearsal: Rehearsal, pieceId: string, acting: Acting) {
  const { who, note } = acting;
  const now = rehearsal.now;
  const { piece: row, version } = await look(world, pieceId);
  const state = stage.workflow.states.find((one) => one.key === rehearsal.state);
  const leads = decisionsLead(stage, rehearsal, who);
  if (state?.review && acting.pick < 0.75) {
    const ids = chosen(leads.flatMap((move) => choices(stage, rehearsal, move))).slice(0, acting.reviewers);
    return {
      imagined: decideAs(stage, rehearsal, who, acting.says, { note, publishAt: null, chosen: ids }),
      real: await decide(world.act(who, now), {
        pieceId,
        versionHash: version.hash,
        verdict: acting.says,
        note,
        reviewers: ids.map(world.id),
        signature: (await world.viewer(who)).name,
      }),
    };
  }
  const offered = offers(stage, rehearsal, who);
  const move = offered[Math.floor(acting.pick * offered.length)];
  if (!move) return null;
  const ids = chosen(choices(stage, rehearsal, move)).slice(0, acting.reviewers);
  return {
    imagined: take(stage, rehearsal, who, move.transition.key, { note, publishAt: null, chosen: ids }),
    real: await sendPiece(world.act(who, now), {
      pieceId,
      revision: row.revision,
      transition: move.transition.key,
      note,
      reviewers: ids.map(world.id),
    }),
  };
}

/** Ends a play: what waits on people in one must not weigh in the next. */
async function clear(pieceId: string): Promise<void> {
  const { piece: row } = await look(world, pieceId);
  await world.db.update(piece).set({ liveVersionId: null }).where(eq(piece.id, pieceId));
  accepted(await deletePiece(world.act("ilda"), { pieceId, revision: row.revision, note: "Played." }));
}

const acts = fc.array(
  fc.record({
    who: fc.constantFrom(...ACTORS),
    pick: fc.double({ min: 0, max: 0.999, noNaN: true }),
    says: fc.constantFrom<Acting["says"]>("approve", "approve", "approve", "return", "decline", "abstain"),
    note: fc.constantFrom("", "Because.", "Because."),
    reviewers: fc.constantFrom(0, 1, 2, 9),
  }),
  { minLength: 6, maxLength: 14 },
);

test("random workflows played through the rehearsal and through the real commands agree in every answer", async () => {
  const answers = new Map<string, number>();
  await fc.assert(
    fc.asyncProperty(lines(ACTORS), fc.constantFrom("tobia", "petra", "wim"), acts, async (document, author, all) => {
      await lay(document);
      const stage = await stageFor(document);
      const { id } = await begin(world, "Played twice", author);
      let rehearsal = beginRehearsal(stage, author, MORNING);
      for (const [i, acting] of all.entries()) {
        rehearsal = later(stage, rehearsal, MORNING + (i + 1) * HOUR).at(-1) as Rehearsal;
        if (acting.reviewers === 9 && rehearsal.openChecklist.length > 0) {
          await world.db
            .update(checklistPoint)
            .set({ doneBy: world.id("lene") })
            .where(eq(checklistPoint.pieceId, id));
          rehearsal = tick(rehearsal);
        }
        const said = await both(stage, rehearsal, id, acting);
        if (!said) continue;
        const [guessed, answered] = [codeOf(said.imagined), codeOf(said.real)];
        expect([acting, guessed]).toEqual([acting, answered]);
        answers.set(answered, (answers.get(answered) ?? 0) + 1);
        if (said.imagined.ok) rehearsal = said.imagined.value;
        expect(imagined(stage, rehearsal)).toEqual(await whereItIs(id));
      }
      await clear(id);
    }),
    // On a busy machine fewer are played; what fails is told as far as it was narrowed down.
    { numRuns: 40, interruptAfterTimeLimit: 80_000 },
  );
  // The play was not all of one kind.
  for (const code of ["accepted", "no-seat", "not-yours"]) expect(answers.get(code) ?? 0).toBeGreaterThan(3);
});

test.each(STARTING_POINTS.map((one) => [one.name, one] as const))(
  "%s is travelled to its end, by rehearsal and by the real commands",
  async (_, document) => {
    await lay(document);
    const stage = await stageFor(document);
    const { id } = await begin(world, "Travelled", "tobia");
    let rehearsal = beginRehearsal(stage, "tobia", MORNING);
    for (let i = 0; i < 20 && rehearsal.state !== "live"; i++) {
      rehearsal = later(stage, rehearsal, MORNING + (i + 1) * HOUR).at(-1) as Rehearsal;
      const at = stage.workflow.mainLine.indexOf(rehearsal.state);
      const next = stage.workflow.mainLine[at + 1];
      const says = { says: "approve" as const, note: "As agreed.", reviewers: 1 };
      const open = rehearsal.round?.seats.find(
        (one, place) => !one.voidReason && !rehearsal.round?.decisions.some((said) => said.seat === String(place)),
      );
      const mover = ACTORS.find((who) =>
        offers(stage, rehearsal, who).some((move) => move.to.key === next && move.refusals.length === 0),
      );
      const who = open?.personId ?? mover ?? "";
      const offered = offers(stage, rehearsal, who);
      const place = offered.findIndex((move) => move.to.key === next && move.refusals.length === 0);
      const pick = open ? 0 : (place + 0.5) / offered.length;
      const said = await both(stage, rehearsal, id, { who, pick, ...says });
      expect([rehearsal.state, said && codeOf(said.imagined), said && codeOf(said.real)]).toEqual([
        rehearsal.state,
        "accepted",
        "accepted",
      ]);
      rehearsal = accepted(said?.imagined as never);
      expect(imagined(stage, rehearsal)).toEqual(await whereItIs(id));
    }
    expect(rehearsal.state).toBe("live");
    await clear(id);
  },
);
