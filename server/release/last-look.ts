import { inArray } from "drizzle-orm";
import { can, principalsOf } from "#core/access/decide.ts";
import { type Hold, preflight } from "#core/release/preflight.ts";
import { isOpen } from "#core/release/window.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Transition, Workflow } from "#core/workflow/document.ts";
import { isNamedOn, restingPlace } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import { version } from "../db/schema/index.ts";
import { filesOfAll, problemsOfFiles } from "../files/queries.ts";
import { type PieceFacts, standingAlone } from "../piece/facts.ts";
import type { Change } from "../write.ts";
import { loadChannel, SITE, sayOpening } from "./channels.ts";

/** The step by which a piece goes from a state out to readers, or undefined. */
export function departureStep(workflow: Workflow, stateKey: string): Transition | undefined {
  return workflow.transitions.find(
    (step) =>
      step.from.includes(stateKey) && step.by.length > 0 && restingPlace(workflow, step.to).state.kind === "live",
  );
}

/** What a piece is about to leave by. */
export interface Leaving {
  /** Who answers for it; null where nobody does. */
  causedBy: Person | null;
  /** The step it takes; null where its state has none that leads to readers. */
  step: Transition | null;
  /** The version a release was planned for; absent where it leaves at once. */
  plannedVersionId?: string;
  /** When it leaves, epoch milliseconds; now where it is left out. */
  at?: number;
  /** Why it leaves outside its channel's windows; empty or absent where it keeps to them. */
  outside?: string | null;
  /** Whether every byte of its files is looked at, or only what is known of them. */
  thorough?: boolean;
}

/** Looks at everything again for a piece about to reach readers; see `core/release/preflight`. */
export async function lastLook(change: Change, facts: PieceFacts, leaving: Leaving): Promise<Hold[]> {
  const [holds = []] = await lastLooks(change, [{ facts, leaving }]);
  return holds;
}

/** The same for many pieces about to leave together, in as many statements as for one. @returns their holds, in order */
export async function lastLooks(
  change: Change,
  all: readonly { facts: PieceFacts; leaving: Leaving }[],
): Promise<Hold[][]> {
  const [hashes, files] = await Promise.all([
    boundHashes(
      change,
      all.flatMap(({ facts, leaving }) => [facts.piece.approvedVersionId, leaving.plannedVersionId]),
    ),
    filesOfAll(
      change.tx,
      all.map(({ facts }) => facts.piece.id),
    ),
  ]);
  const site = await loadChannel(change.tx, SITE);
  return Promise.all(
    all.map(async ({ facts, leaving }) => {
      const { piece, workflow, state, kind, version: shown, target } = facts;
      const { causedBy, step, plannedVersionId, thorough = true } = leaving;
      const present = { fields: kind.fields, content: shown.content };
      const problems = await problemsOfFiles(change.files, files.get(piece.id) ?? [], present, thorough);
      const at = leaving.at ?? change.now;
      const { zone } = site.windows;
      const mayOutside = causedBy !== null && can(causedBy, "release.outside", target, change.now).allowed;
      const keeps = !(leaving.outside?.trim() && mayOutside);
      const principals = causedBy ? principalsOf(causedBy, target, change.now) : new Set<string>();
      return preflight({
        workflow,
        state,
        step,
        currentHash: shown.boundHash,
        approvedHash: hashes.get(piece.approvedVersionId ?? "") ?? null,
        plannedHash: plannedVersionId === undefined ? null : (hashes.get(plannedVersionId) ?? ""),
        standing: standingAlone(facts),
        fileProblems: problems.map((problem) => problem.sentence),
        deleted: piece.deletedAt !== null,
        embargo:
          piece.embargoUntil !== null && at < piece.embargoUntil
            ? sayInstant(piece.embargoUntil, zone, change.now)
            : null,
        closed: keeps && !isOpen(site.windows, at) ? sayOpening(site.windows, at, change.now) : null,
        cause: {
          mayRelease: causedBy !== null && can(causedBy, "piece.release", target, change.now).allowed,
          // A review's outcome is taken by its round: nobody need be named on it.
          named: step === null || step.by.length === 0 || isNamedOn(step, { principals }),
          wrote: causedBy?.id === piece.authorId,
        },
      });
    }),
  );
}

async function boundHashes(change: Change, ids: readonly (string | null | undefined)[]): Promise<Map<string, string>> {
  const wanted = [...new Set(ids.filter((id) => id != null))];
  if (wanted.length === 0) return new Map();
  const rows = await change.tx
    .select({ id: version.id, hash: version.boundHash })
    .from(version)
    .where(inArray(version.id, wanted));
  return new Map(rows.map((row) => [row.id, row.hash]));
}
