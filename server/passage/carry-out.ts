import { and, eq, inArray, lte } from "drizzle-orm";
import { releaseHeld, releasePutOff } from "#core/events/release.ts";
import { accept, type Result } from "#core/refusal.ts";
import type { Hold } from "#core/release/preflight.ts";
import { isOpen, opens } from "#core/release/window.ts";
import type { Transition } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";
import { loadHolders, type Person } from "../access/holders.ts";
import { release } from "../db/schema/index.ts";
import { lockFacts, type PieceFacts } from "../piece/facts.ts";
import { loadChannel, SITE } from "../release/channels.ts";
import { ownersOfPlan } from "../release/foresee.ts";
import { departureStep, lastLooks } from "../release/last-look.ts";
import type { Plan } from "../release/plans.ts";
import { publish } from "../release/publish.ts";
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
  causedBy: Person | null;
  step: Transition | null;
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
    const due = await lockDue(change, places, releaseIds);
    const holds = await lastLooks(
      change,
      due.map(({ plan, facts, causedBy, step }) => ({
        facts,
        leaving: { causedBy, step, plannedVersionId: plan.versionId, outside: plan.outside },
      })),
    );
    const became = new Map<string, Became>(releaseIds.map((id) => [id, "gone"]));
    const leaving: Leaving[] = [];
    for (const [i, one] of due.entries()) {
      const found = holds[i] ?? [];
      if (found.length > 0 || !one.step) await holdBack(one, found);
      else leaving.push({ ...one, step: one.step });
      became.set(one.plan.id, found.length > 0 || !one.step ? "held" : "done");
    }
    const left = await leave(change, places, leaving);
    return left.ok ? accept(became) : left;
  });
}

type Leaving = Due & { step: Transition };

/** The releases that are still to be carried out, with everything a decision needs, locked: pieces first, as everywhere. */
async function lockDue(change: Change, places: Places, ids: readonly string[]): Promise<Due[]> {
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
  const plans = await putOff(change, due);
  const answering = (plan: Plan) => plan.confirmedBy ?? plan.plannedBy;
  const people = await loadHolders(tx, [...new Set(plans.map(answering))]);
  return plans.flatMap((plan) => {
    const of = facts.find((one) => one.piece.id === plan.pieceId);
    if (!of) return [];
    const step = departureStep(of.workflow, of.state.key) ?? null;
    return [{ change: change.apart(), plan, facts: of, causedBy: people.get(answering(plan)) ?? null, step }];
  });
}

/** Puts off what would leave while its channel is closed, since its time came late; on record. @returns what leaves now */
async function putOff(change: Change, due: readonly Plan[]): Promise<Plan[]> {
  const { tx, now } = change;
  const { windows } = await loadChannel(tx, SITE);
  if (isOpen(windows, now)) return [...due];
  for (const { id, pieceId, at, outside } of due.filter((plan) => !plan.outside)) {
    const next = opens(windows, now);
    // Where nothing opens any more the last look holds it, and says so.
    if (next === null || outside) continue;
    await tx.update(release).set({ at: next }).where(eq(release.id, id));
    await schedule(tx, { kind: "release", subject: id, dueAt: next });
    change.happened(releasePutOff, { at: next }, { pieceId, subjectId: id, before: { at } });
  }
  return due.filter((plan) => plan.outside || opens(windows, now) === null);
}

async function holdBack({ change, plan, facts }: Due, holds: Hold[]): Promise<void> {
  await change.tx.update(release).set({ status: "held", holds }).where(eq(release.id, plan.id));
  change.happened(
    releaseHeld,
    { at: plan.at, holds },
    { pieceId: facts.piece.id, subjectId: plan.id, tell: { owners: ownersOfPlan(plan, facts) } },
  );
}

/** Takes pieces out to readers. @returns why one of them cannot arrive there: then none did */
async function leave(change: Change, places: Places, all: readonly Leaving[]): Promise<Result<null>> {
  if (all.length === 0) return accept(null);
  const { tx, now } = change;
  const ids = all.map(({ plan }) => plan.id);
  await tx.update(release).set({ status: "done", doneAt: now, holds: [] }).where(inArray(release.id, ids));
  const going = all.map((one) => ({ ...one, to: restingPlace(one.facts.workflow, one.step.to).state }));
  const team = await teamFor(change, places, going);
  const comings = [];
  for (const { change: apart, facts, step, plan } of going) {
    const { urgency, publishAt } = facts.piece;
    const arrived = arriveBy(facts, step, { team, places, now }, { publishAt, chosen: null, dueAt: null });
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
    const { endsAt, correction } = plan;
    comings.push({ change: apart, facts, arrival: arrived.value, down, endsAt, correction });
  }
  await land(comings);
  await publish(comings);
  return accept(null);
}
