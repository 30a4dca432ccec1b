import { and, desc, eq, inArray } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { can, principalsOf } from "#core/access/decide.ts";
import { SITE } from "#core/release/channel.ts";
import { type Hold, preflight } from "#core/release/preflight.ts";
import { isOpen } from "#core/release/window.ts";
import { sayInstant } from "#core/time/words.ts";
import { groupBy } from "#core/words/group.ts";
import type { Transition, Workflow } from "#core/workflow/document.ts";
import { isNamedOn, restingPlace } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { piece, released, version } from "../db/schema/index.ts";
import { filesOfAll, problemsOfFiles } from "../files/queries.ts";
import { type Piece, type PieceFacts, standingAlone } from "../piece/facts.ts";
import type { Change } from "../write.ts";
import { type Channel, letsOut, loadChannel, sayOpening } from "./channels.ts";

/** The step by which a piece goes from a state out to readers, or undefined. */
export function departureStep(workflow: Workflow, stateKey: string): Transition | undefined {
  return workflow.transitions.find(
    (step) =>
      step.from.includes(stateKey) && step.by.length > 0 && restingPlace(workflow, step.to).state.kind === "live",
  );
}

/** What a piece is about to leave by. */
export interface Leaving {
  /** Who answers for it; where several do, one who may is enough. */
  causedBy: readonly Person[];
  /** The step it takes; null where its state has none that leads to readers. */
  step: Transition | null;
  /** The version a release was planned for; absent where it leaves at once. */
  plannedVersionId?: string;
  /** The channel it leaves through; the reader site where it is left out. */
  through?: string;
  /** Whether it leaves without a step, for what is still planned of it elsewhere. */
  stays?: boolean;
  /** Whether the windows of its channel are no matter of its own: they are kept by the edition it leaves with. */
  windowless?: boolean;
  /** When it leaves, epoch milliseconds; now where it is left out. */
  at?: number;
  /** Why it leaves outside its channel's windows; empty or absent where it keeps to them. */
  outside?: string | null;
  /** Whether every byte of its files is looked at, or only what is known of them. */
  thorough?: boolean;
}

/** What a last look needs of a write; a page that looks ahead has no more. */
export type Looking = Pick<Change, "files" | "now"> & { tx: Queryable };

/** Looks at everything again for a piece about to reach readers; see `core/release/preflight`. */
export async function lastLook(change: Looking, facts: PieceFacts, leaving: Leaving): Promise<Hold[]> {
  const [holds = []] = await lastLooks(change, [{ facts, leaving }]);
  return holds;
}

/** The same for many pieces about to leave together, in as many statements as for one. @returns their holds, in order */
export async function lastLooks(
  change: Looking,
  all: readonly { facts: PieceFacts; leaving: Leaving }[],
): Promise<Hold[][]> {
  const [hashes, files, withdrawn] = await Promise.all([
    boundHashes(
      change,
      all.flatMap(({ facts, leaving }) => [facts.piece.approvedVersionId, leaving.plannedVersionId]),
    ),
    filesOfAll(
      change.tx,
      all.map(({ facts }) => facts.piece.id),
    ),
    withdrawnAmong(
      change.tx,
      all.flatMap(({ facts, leaving: { through = SITE } }) => (through === SITE ? [] : facts)),
    ),
  ]);
  const keys = [...new Set(all.map(({ leaving }) => leaving.through ?? SITE))];
  const channels = new Map(
    await Promise.all(keys.map(async (key) => [key, await loadChannel(change.tx, key)] as const)),
  );
  return Promise.all(
    all.map(async ({ facts, leaving }) => {
      const { piece, workflow, state, kind, version: shown, target } = facts;
      const { causedBy, step, plannedVersionId, thorough = true } = leaving;
      const present = { fields: kind.fields, content: shown.content };
      const problems = await problemsOfFiles(change.files, files.get(piece.id) ?? [], present, thorough);
      const at = leaving.at ?? change.now;
      const channel = channels.get(leaving.through ?? SITE) as Channel;
      const { zone } = channel.windows;
      const mayOutside = causedBy.some((one) => can(one, "release.outside", target, change.now).allowed);
      const keeps = !leaving.windowless && !(leaving.outside?.trim() && mayOutside);
      const causes = causedBy.map((one) => causeOf(one, facts, channel, step, change.now));
      return preflight({
        workflow,
        state,
        step,
        stays: state.kind === "live" ? plannedVersionId !== undefined : (leaving.stays ?? false),
        currentHash: shown.boundHash,
        approvedHash: hashes.get(piece.approvedVersionId ?? "") ?? null,
        plannedHash: plannedVersionId === undefined ? null : (hashes.get(plannedVersionId) ?? ""),
        standing: standingAlone(facts),
        fileProblems: problems.map((problem) => problem.sentence),
        deleted: piece.deletedAt !== null,
        withdrawn: withdrawn.has(piece.id),
        embargo:
          piece.embargoUntil !== null && at < piece.embargoUntil
            ? sayInstant(piece.embargoUntil, zone, change.now)
            : null,
        closed: keeps && !isOpen(channel.windows, at) ? sayOpening(channel.windows, at, change.now) : null,
        cause: causes.find((one) => one.mayRelease && one.named && !one.wrote) ??
          causes.find((one) => one.mayRelease && one.named) ??
          causes.at(-1) ?? { mayRelease: false, named: step === null, wrote: false },
      });
    }),
  );
}

const causeOf = (
  person: Person,
  { piece, target }: PieceFacts,
  channel: Channel,
  step: Transition | null,
  now: number,
) => ({
  mayRelease: letsOut(channel, person.id) && can(person, "piece.release", target, now).allowed,
  // A review's outcome is taken by its round: nobody need be named on it.
  named: step === null || step.by.length === 0 || isNamedOn(step, { principals: principalsOf(person, target, now) }),
  wrote: person.id === piece.authorId,
});

/**
 * Which of some pieces were withdrawn from the reader site with the words they have now. Only there can they be
 * brought back: withdrawing ended every plan, so whatever is planned for the site was planned since.
 */
export async function withdrawnAmong(db: Queryable, pieces: readonly Pick<Piece, "piece">[]): Promise<Set<string>> {
  const gone = pieces.filter(({ piece: row }) => row.liveVersionId === null && row.firstLiveAt !== null);
  if (gone.length === 0) return new Set();
  const shown = alias(version, "shown");
  const rows = await db
    .select({ pieceId: released.pieceId, notice: released.notice, was: shown.boundHash, is: version.boundHash })
    .from(released)
    .innerJoin(shown, eq(shown.id, released.versionId))
    .innerJoin(piece, eq(piece.id, released.pieceId))
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(
      and(
        inArray(
          released.pieceId,
          gone.map((one) => one.piece.id),
        ),
        eq(released.channel, SITE),
      ),
    )
    .orderBy(desc(released.from));
  const last = [...groupBy(rows, (row) => row.pieceId).values()].flatMap(([row]) => row ?? []);
  return new Set(last.filter((row) => row.notice !== null && row.was === row.is).map((row) => row.pieceId));
}

async function boundHashes(change: Looking, ids: readonly (string | null | undefined)[]): Promise<Map<string, string>> {
  const wanted = [...new Set(ids.filter((id) => id != null))];
  if (wanted.length === 0) return new Map();
  const rows = await change.tx
    .select({ id: version.id, hash: version.boundHash })
    .from(version)
    .where(inArray(version.id, wanted));
  return new Map(rows.map((row) => [row.id, row.hash]));
}
