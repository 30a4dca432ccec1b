import { and, eq, inArray, lte } from "drizzle-orm";
import { releaseHeld, releasePutOff } from "#core/events/release.ts";
import { accept, type Result } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import type { Hold } from "#core/release/preflight.ts";
import { isOpen, opens } from "#core/release/window.ts";
import { groupBy } from "#core/words/group.ts";
import type { Transition } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";
import { loadHolders, type Person } from "../access/holders.ts";
import { release } from "../db/schema/index.ts";
import { lockFacts, type PieceFacts } from "../piece/facts.ts";
import { loadChannel } from "../release/channels.ts";
import { askAfterEmbargo, askAgain, ownersOfPlan } from "../release/foresee.ts";
import { departureStep, lastLooks } from "../release/last-look.ts";
import { openPlans, type Plan } from "../release/plans.ts";
import { publish, type Through } from "../release/publish.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { schedule } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { arriveBy, land, teamFor } from "./travel.ts";

/** What became of a planned release; `gone` when another node was faster or the plan was taken back. */
export type Became = "done" | "held" | "gone";

/** A release whose time has come, with its piece and who answers for it. */
interface Due {
  change: Change;
  plan: Plan;
  facts: PieceFacts;
  causedBy: Person[];
  /** The step it takes; null where none leads to readers, or it leaves as it is. */
  step: Transition | null;
  stays: boolean;
}

/**
 * Carries out planned releases together: looks at everything again, then takes the pieces out, or holds
 * a release with its reasons and tells its owners. Runs for the job, with no actor. All of them happen,
 * or none; as many statements serve for fifty as for one.
 *
 * @returns what became of each, by id
 */
export function carryOut(act: Act, releaseIds: readonly string[]): Promise<Result<Map<string, Became>>> {
  return write(act, async (change) => {
    const places = await loadPlaces(change.tx);
    const { due, held, facts: pieces } = await lockDue(change, places, releaseIds);
    const holds = await lastLooks(
      change,
      due.map(({ plan, facts, causedBy, step, stays }) => ({
        facts,
        leaving: {
          causedBy,
          step,
          stays,
          plannedVersionId: plan.versionId,
          outside: plan.outside,
          through: plan.channel,
        },
      })),
    );
    const became = new Map<string, Became>(releaseIds.map((id) => [id, "gone"]));
    const leaving: Due[] = [];
    for (const [i, one] of due.entries()) {
      const found = holds[i] ?? [];
      if (found.length > 0) await holdBack(one, found);
      else leaving.push(one);
      became.set(one.plan.id, found.length > 0 ? "held" : "done");
    }
    const ids = leaving.map(({ plan }) => plan.id);
    if (ids.length > 0)
      await change.tx
        .update(release)
        .set({ status: "done", doneAt: change.now, holds: [] })
        .where(inArray(release.id, ids));
    for (const [through, some] of groupBy(leaving, ({ plan }) => plan.channel)) {
      const going = some.map(({ plan: { endsAt, correction }, ...one }) => ({ ...one, endsAt, correction }));
      const left = await leave(change, places, going, await loadChannel(change.tx, through));
      if (!left.ok) return left;
    }
    await askAgain(change, pieces, held);
    return accept(became);
  });
}

/**
 * The releases that are still to be carried out, with everything a decision needs, and those that are held and asked
 * about again; locked: pieces first, as everywhere.
 */
async function lockDue(
  change: Change,
  places: Places,
  ids: readonly string[],
): Promise<{ due: Due[]; held: Plan[]; facts: PieceFacts[] }> {
  const { tx, now } = change;
  const wanted = inArray(release.id, [...ids]);
  const peek = await tx.select({ pieceId: release.pieceId }).from(release).where(wanted);
  const facts = await lockFacts(
    tx,
    places,
    peek.map((one) => one.pieceId),
  );
  const ready = and(wanted, eq(release.status, "planned"), lte(release.at, now));
  const due = await tx.select().from(release).where(ready).for("update");
  const isHeld = and(wanted, eq(release.status, "held"));
  const held = due.length < ids.length ? await tx.select().from(release).where(isHeld).for("update") : [];
  const plans = await putOff(change, due);
  const answering = (plan: Plan) => plan.confirmedBy ?? plan.plannedBy;
  const people = await loadHolders(tx, [...new Set(plans.map(answering))]);
  const open = await openPlans(
    change,
    plans.map((plan) => plan.pieceId),
  );
  const gone = new Set<string>();
  const leaving = plans.flatMap((plan): Due[] => {
    const of = facts.find((one) => one.piece.id === plan.pieceId);
    if (!of) return [];
    // What is still planned through another channel keeps it where it is; the reader site never waits for others.
    const others = open.some((one) => one.pieceId === plan.pieceId && one.id !== plan.id && !gone.has(one.id));
    const stays = plan.channel !== SITE && others;
    gone.add(plan.id);
    return [
      {
        change: change.apart(),
        plan,
        facts: of,
        causedBy: [people.get(answering(plan)) ?? []].flat(),
        ...outOf(of, stays),
      },
    ];
  });
  return { due: leaving, held, facts };
}

/** How a piece leaves: by the step from its state to readers, or as it is where it is out already or stays. */
export function outOf(facts: PieceFacts, stays: boolean): { step: Transition | null; stays: boolean } {
  const asItIs = stays || facts.state.kind === "live";
  return { step: asItIs ? null : (departureStep(facts.workflow, facts.state.key) ?? null), stays: asItIs };
}

/** Puts off what would leave while its channel is closed, since its time came late; on record. @returns what leaves now */
async function putOff(change: Change, due: readonly Plan[]): Promise<Plan[]> {
  const { tx, now } = change;
  const going: Plan[] = [];
  for (const [through, plans] of groupBy(due, (plan) => plan.channel)) {
    const { windows } = await loadChannel(tx, through);
    const next = isOpen(windows, now) ? now : opens(windows, now);
    for (const plan of plans) {
      const { id, pieceId, at, outside } = plan;
      // Where nothing opens any more the last look holds it, and says so.
      if (next === now || next === null || outside) {
        going.push(plan);
        continue;
      }
      await tx.update(release).set({ at: next }).where(eq(release.id, id));
      await schedule(tx, { kind: "release", subject: id, dueAt: next });
      change.happened(releasePutOff, { at: next }, { pieceId, subjectId: id, before: { at } });
    }
  }
  return going;
}

async function holdBack({ change, plan, facts }: Due, holds: Hold[]): Promise<void> {
  await change.tx.update(release).set({ status: "held", holds }).where(eq(release.id, plan.id));
  await askAfterEmbargo(change, facts, plan, holds);
  change.happened(
    releaseHeld,
    { at: plan.at, holds },
    { pieceId: facts.piece.id, subjectId: plan.id, tell: { owners: ownersOfPlan(plan, facts) } },
  );
}

/** A piece that leaves, with the part of the write that tells of it. */
export interface Leaving {
  change: Change;
  facts: PieceFacts;
  /** The step it takes; null where it leaves as it is. */
  step: Transition | null;
  endsAt?: number | null;
  correction?: string | null;
}

/** Takes pieces out to readers of a channel. @returns why one of them cannot arrive there: then none did */
export async function leave(
  change: Change,
  places: Places,
  all: readonly Leaving[],
  through: Through,
): Promise<Result<null>> {
  const going = all.flatMap(({ step, ...one }) =>
    step ? [{ ...one, step, to: restingPlace(one.facts.workflow, step.to).state }] : [],
  );
  const team = await teamFor(change, places, going);
  const comings = [];
  for (const { change: apart, facts, step } of going) {
    const { urgency, publishAt } = facts.piece;
    const arrived = arriveBy(facts, step, { team, places, now: change.now }, { publishAt, chosen: null, dueAt: null });
    if (!arrived.ok) return arrived;
    const down = {
      step: step.name,
      note: "",
      urgency,
      publishAt,
      dueChosen: false,
      transition: step,
      forId: null,
      team,
    };
    comings.push({ change: apart, facts, arrival: arrived.value, down });
  }
  await land(comings);
  await publish(all, through);
  return accept(null);
}
