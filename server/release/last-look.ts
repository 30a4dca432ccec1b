import { eq } from "drizzle-orm";
import { fileHolds, type Hold, preflight } from "#core/release/preflight.ts";
import { version } from "../db/schema/index.ts";
import { filesOf, problemsOfFiles } from "../files/queries.ts";
import type { PieceFacts } from "../piece/facts.ts";
import type { Change } from "../write.ts";

/** Looks at everything again for a piece about to reach readers; see `core/release/preflight`. */
export async function holdsAt(
  change: Change,
  facts: PieceFacts,
  plannedVersionId: string,
  plannerMayRelease: boolean,
): Promise<Hold[]> {
  const hashes = await Promise.all(
    [facts.piece.approvedVersionId, plannedVersionId].map((id) => hashOfVersion(change, id)),
  );
  return preflight({
    workflow: facts.workflow,
    state: facts.state,
    currentHash: facts.version.hash,
    approvedHash: hashes[0] ?? null,
    plannedHash: hashes[1] ?? "",
    fieldProblems: facts.fieldProblems.map((problem) => problem.sentence),
    fileProblems: await fileSentences(change, facts),
    deleted: facts.piece.deletedAt !== null,
    plannerMayRelease,
  });
}

/** Looks at every byte of the files of a piece that goes to readers straight from where it is. */
export const filesHoldAt = async (change: Change, facts: PieceFacts): Promise<Hold[]> =>
  fileHolds(await fileSentences(change, facts));

async function fileSentences({ tx, files }: Change, { piece, kind, version: shown }: PieceFacts): Promise<string[]> {
  const present = { fields: kind.fields, content: shown.content };
  return (await problemsOfFiles(files, await filesOf(tx, piece.id), present, true)).map((problem) => problem.sentence);
}

async function hashOfVersion(change: Change, id: string | null): Promise<string | null> {
  if (!id) return null;
  const [row] = await change.tx.select({ hash: version.hash }).from(version).where(eq(version.id, id));
  return row?.hash ?? null;
}
