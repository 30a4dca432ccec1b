import { and, eq, inArray, isNotNull } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { editionReopened, editionSigned } from "#core/events/editions.ts";
import { hashOf } from "#core/ledger/chain.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { inParts } from "#core/release/edition.ts";
import { type Hold, isOfRight } from "#core/release/preflight.ts";
import { list } from "#core/words/say.ts";
import { loadHolders, type Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, editionSignature, piece } from "../db/schema/index.ts";
import { outOf } from "../passage/carry-out.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { text } from "../piece/input.ts";
import { seesTo } from "../release/channels.ts";
import { lastLooks } from "../release/last-look.ts";
import { schedule } from "../tasks/schedule.ts";
import { loadRoster } from "../team/queries.ts";
import { type Act, type Change, write } from "../write.ts";
import { concerned } from "./commands.ts";
import {
  goesOut,
  type ItemRow,
  isSigned,
  lockContents,
  named,
  notTheirs,
  type OpenedEdition,
  openEdition,
  signsFor,
} from "./open.ts";

/** So many titles a refusal names. */
const NAMED = 5;

const onEdition = { editionId: z.uuid(), revision: z.coerce.number().int() };
export const signInput = z.object(onEdition);

/** The hash of what is signed: the pieces, their words as far as an approval binds to them, and their order in its parts. */
export const contentsHash = (
  { row, channel }: Pick<OpenedEdition, "row" | "channel">,
  items: readonly Pick<ItemRow, "pieceId" | "part">[],
  hashes: ReadonlyMap<string, string>,
): string =>
  hashOf({
    edition: row.id,
    parts: [...inParts(items, row.parts ?? channel.editions.parts)].map(([part, some]) => ({
      part,
      pieces: some.map((item) => ({ id: item.pieceId, hash: hashes.get(item.pieceId) ?? "" })),
    })),
  });

/**
 * Signs an edition as it is, for oneself or somebody absent. With the last signature it leaves at its time; from
 * the first on its contents and their order stay.
 */
export function signEdition(act: Act, wanted: z.input<typeof signInput>): Promise<Result<{ whole: boolean }>> {
  return write(act, async (change) => {
    const pieces = await lockContents(change, wanted.editionId);
    const opened = await openEdition(change, wanted.editionId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { row, channel, items, signatures, actor, places } = opened.value;
    const { tx, now } = change;
    if (row.status !== "gathering" && row.status !== "held")
      return refuse({ code: "no-such-step", sentence: `${named(opened.value).edition} is not to be signed any more.` });
    const roster = await loadRoster(tx);
    const may = channel.people.length > 0 || seesTo(actor, channel, places, now);
    const signers = may ? signsFor(actor, channel.people, roster, now, places.calendar.timeZone) : [];
    const open = signers.filter((id) => !signatures.some((one) => one.signerId === id));
    if (signers.length === 0) return notASigner(change, opened.value, roster);
    if (open.length === 0) return refuse({ code: "signed-already", sentence: "You signed it already." });
    const whole = isSigned(channel, [...signatures, ...open.map((signerId) => ({ signerId }))]);
    const answering = await answeringFor(tx, signatures, actor);
    const amiss = await whyNotSign(change, opened.value, pieces, whole ? answering : null);
    if (amiss) return refuse(amiss);
    const parts = channel.editions.parts;
    const hash = contentsHash({ ...opened.value, row: { ...row, parts } }, items, hashesOf(pieces));
    // What was signed before over other words counts no more.
    const stale = signatures.filter((one) => one.hash !== hash).map((one) => one.signerId);
    if (stale.length > 0)
      await tx
        .delete(editionSignature)
        .where(and(eq(editionSignature.editionId, row.id), inArray(editionSignature.signerId, stale)));
    const added = open.map((signerId) => ({ editionId: row.id, signerId, personId: actor.id, at: now, hash }));
    await tx.insert(editionSignature).values(added);
    for (const { piece, version } of pieces)
      await tx
        .update(editionItem)
        .set({ versionId: version.id })
        .where(and(eq(editionItem.editionId, row.id), eq(editionItem.pieceId, piece.id)));
    const stands = isSigned(channel, [...signatures.filter((one) => !stale.includes(one.signerId)), ...added]);
    // What was held goes out when its channel next lets it, and stays held where it never does.
    const again = stands && row.status === "held" ? goesOut(opened.value, now) : null;
    if (again !== null) await schedule(tx, { kind: "edition", subject: row.id, dueAt: again });
    const leaves = again ?? (row.status === "gathering" ? row.at : null);
    await tx
      .update(edition)
      .set({
        parts,
        ...(stands && leaves !== null && { status: "signed", at: leaves }),
        holds: [],
        revision: row.revision + 1,
      })
      .where(eq(edition.id, row.id));
    const [forId] = open.filter((id) => id !== actor.id);
    change.happened(
      editionSigned,
      { ...named(opened.value), hash, pieces: items.length, whole: stands },
      {
        subjectId: row.id,
        forId: forId ?? null,
        tell: { people: stands ? concerned(opened.value) : channel.people },
      },
    );
    return accept({ whole: stands });
  });
}

export const hashesOf = (pieces: readonly PieceFacts[]): Map<string, string> =>
  new Map(pieces.map(({ piece, version }) => [piece.id, version.boundHash]));

async function notASigner(
  change: Change,
  { channel, places }: OpenedEdition,
  { people }: Awaited<ReturnType<typeof loadRoster>>,
): Promise<Result<never>> {
  if (channel.people.length === 0) return notTheirs(change.tx, channel, places, change.now);
  const who = channel.people.flatMap((id) => people.get(id)?.name ?? []);
  return refuse({ code: "not-a-signer", sentence: "Its editions are signed by others.", who });
}

/** Who answers for an edition: who signed it, and who signs it now. */
export async function answeringFor(
  db: Queryable,
  signatures: readonly { personId: string }[],
  actor: Person | null = null,
): Promise<Person[]> {
  const people = await loadHolders(db, [...new Set(signatures.map((one) => one.personId))]);
  return [...people.values(), ...(actor ? [actor] : [])];
}

/**
 * What is not ready in an edition, as why it is not signed; null where everything is.
 *
 * @param answering who answers for it with the last signature; null while others are still to sign
 */
async function whyNotSign(
  change: Change,
  { items, actor, channel }: OpenedEdition,
  pieces: readonly PieceFacts[],
  answering: readonly Person[] | null,
): Promise<Refusal | null> {
  if (items.length === 0) return { code: "empty", sentence: "There is nothing in it." };
  const { now } = change;
  if (pieces.some((one) => !can(actor, "piece.read", one.target, now).allowed))
    return { code: "unseen", sentence: "There are pieces in it you may not see. Who sees all of it signs it." };
  const holds = await lastLooks(
    change,
    pieces.map((facts) => ({ facts, leaving: leavingWith(facts, answering ?? [], channel.key, facts.version.id) })),
  );
  const withHold = (counts: (hold: Hold) => boolean) => pieces.filter((_, i) => (holds[i] ?? []).some(counts));
  const amiss = withHold((hold) => !isOfRight(hold));
  const unable = answering ? withHold(isOfRight) : [];
  if (amiss.length === 0 && unable.length > 0)
    return {
      code: "not-granted",
      sentence: `None of those who sign it may release ${titlesOf(unable)}. Take it out, or let somebody sign who may.`,
    };
  return amiss.length === 0
    ? null
    : {
        code: "not-ready",
        sentence: `Not everything in it is ready: ${titlesOf(amiss)}. Wait for it, or take it out.`,
      };
}

/** The titles of some pieces in a sentence, as far as it holds them. */
function titlesOf(pieces: readonly PieceFacts[]): string {
  const titles = pieces.slice(0, NAMED).map((one) => `“${one.piece.title}”`);
  const rest = pieces.length - titles.length;
  return list([...titles, ...(rest > 0 ? [`${rest} more`] : [])]);
}

/** How a piece leaves with an edition. The window is the edition's own matter. */
export const leavingWith = (
  facts: PieceFacts,
  causedBy: readonly Person[],
  through: string,
  plannedVersionId: string,
) => ({
  causedBy,
  ...outOf(facts, false),
  plannedVersionId,
  through,
  windowless: true,
});

export const reopenInput = z.object({ ...onEdition, note: text("Say why it is opened again.", 4_000) });

/** Opens a signed edition again: the signatures are taken back, and its contents can be changed. */
export function reopenEdition(act: Act, wanted: z.input<typeof reopenInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openEdition(change, wanted.editionId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { row, channel, signatures, actor, places } = opened.value;
    const { tx, now } = change;
    const may = seesTo(actor, channel, places, now) || channel.people.includes(actor.id);
    if (!may) return notTheirs(tx, channel, places, now);
    if (signatures.length === 0 || row.status === "released" || row.status === "dropped")
      return refuse({ code: "no-such-step", sentence: "Nobody has signed it." });
    await tx.delete(editionSignature).where(eq(editionSignature.editionId, row.id));
    await tx.update(editionItem).set({ versionId: null }).where(eq(editionItem.editionId, row.id));
    // What was deleted meanwhile stood in the way of it, and could be taken out by nobody.
    const deleted = tx.select({ id: piece.id }).from(piece).where(isNotNull(piece.deletedAt));
    await tx.delete(editionItem).where(and(eq(editionItem.editionId, row.id), inArray(editionItem.pieceId, deleted)));
    await tx
      .update(edition)
      .set({
        status: row.status === "held" ? "held" : "gathering",
        parts: null,
        holds: [],
        revision: row.revision + 1,
      })
      .where(eq(edition.id, row.id));
    change.happened(
      editionReopened,
      { ...named(opened.value), note: wanted.note },
      { subjectId: row.id, tell: { people: [...concerned(opened.value), ...signatures.map((one) => one.personId)] } },
    );
    return accept(null);
  });
}
