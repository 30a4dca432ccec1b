import { and, eq, inArray, isNotNull, isNull } from "drizzle-orm";
import { z } from "zod";
import { proposalAccepted, proposalSetAside } from "#core/events/remarks.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Anchor } from "#core/text/anchor.ts";
import type { Block } from "#core/text/block.ts";
import type { Content } from "#core/text/fields.ts";
import { acceptAll, overlap, unfit } from "#core/text/proposal.ts";
import { groupBy } from "#core/words/group.ts";
import { list } from "#core/words/say.ts";
import { person, thread } from "../db/schema/index.ts";
import { heldByOther } from "../piece/holder.ts";
import { foresee } from "../release/foresee.ts";
import { fieldValue, type Lasted } from "../text/anchors.ts";
import { keepText } from "../text/commands.ts";
import { openText } from "../text/open.ts";
import { type Act, type Change, write } from "../write.ts";

const one = z.uuid();
/** Proposals by their threads: one, or several at a stroke. */
const several = z.union([one.transform((id) => [id]), z.array(one).min(1).max(500)]);
export const proposalsInput = z.object({ pieceId: z.uuid(), threads: several });

interface Proposed {
  id: string;
  authorId: string;
  author: string;
  field: string;
  anchor: Anchor;
  madeOn: string;
  wording: Block[];
}

/**
 * Accepts proposed wordings: they become one version, which names who proposed them and who accepted.
 * What overlaps an accepted one is set aside.
 */
export function acceptProposals(
  act: Act,
  wanted: z.output<typeof proposalsInput>,
): Promise<Result<{ version: number }>> {
  return write(act, async (change) => {
    const opened = await openText(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const held = await heldByOther(change, facts, actor.id, places.calendar.timeZone);
    if (held) return refuse(held);
    const open = await openProposals(change, wanted.pieceId);
    const chosen = open.filter(({ id }) => wanted.threads.includes(id));
    if (chosen.length < new Set(wanted.threads).size) return refuse(DONE);
    for (const { anchor, madeOn, author } of chosen) {
      const why = unfit(anchor, madeOn);
      if (why)
        return refuse({
          code: "unfit",
          sentence: `The words ${author} proposed other wording for ${why === "gone" ? "are gone" : `now read “${anchor.exact.slice(0, 100)}”`}. Change the text yourself, or set the proposal aside.`,
        });
    }
    const clash = chosen.some((a, i) =>
      chosen.slice(i + 1).some((b) => a.field === b.field && overlap(a.anchor, b.anchor)),
    );
    if (clash)
      return refuse({ code: "alternatives", sentence: "Two of these are for the same words: accept one of them." });
    const content: Content = { ...facts.version.content, fields: { ...facts.version.content.fields } };
    const lasted: Record<string, Lasted[string]> = {};
    for (const [field, here] of groupBy(chosen, (proposed) => proposed.field)) {
      const runs = here.map(({ anchor: { start, end }, wording }) => ({ start, end, wording }));
      const { value, stretches } = acceptAll(fieldValue(content, field), runs);
      lasted[field] = stretches;
      if (field === "title") content.title = String(value);
      else content.fields[field] = value;
    }
    const by = [...new Set(chosen.map(({ author }) => author))];
    const kept = await keepText(change, opened.value, content, `wording by ${list(by)}`.slice(0, 120), lasted);
    if (!kept.ok) return kept;
    const { version } = kept.value;
    await settle(change, chosen, "changed");
    change.happened(
      proposalAccepted,
      { by, version, count: chosen.length },
      { pieceId: wanted.pieceId, tell: { proposer: authorsOf(chosen) } },
    );
    const alternatives = open.filter(
      (other) =>
        !chosen.includes(other) &&
        chosen.some(({ field, anchor }) => field === other.field && overlap(anchor, other.anchor)),
    );
    await putAside(change, wanted.pieceId, alternatives);
    await foresee(change, { ...facts, openComments: facts.openComments - chosen.length - alternatives.length });
    return accept({ version });
  });
}

const DONE = {
  code: "settled",
  sentence: "One of these was accepted, set aside or taken back meanwhile. Look at them as they are now.",
};

/** Sets proposed wordings aside: the text stays as it is, and who proposed them is told. */
export function setAside(act: Act, wanted: z.output<typeof proposalsInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openText(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const open = await openProposals(change, wanted.pieceId);
    const chosen = open.filter(({ id }) => wanted.threads.includes(id));
    if (chosen.length < new Set(wanted.threads).size) return refuse(DONE);
    await putAside(change, wanted.pieceId, chosen);
    const { facts } = opened.value;
    await foresee(change, { ...facts, openComments: facts.openComments - chosen.length });
    return accept(null);
  });
}

async function openProposals({ tx }: Change, pieceId: string): Promise<Proposed[]> {
  const rows = await tx
    .select({ thread, author: person.name })
    .from(thread)
    .innerJoin(person, eq(person.id, thread.authorId))
    .where(
      and(
        eq(thread.pieceId, pieceId),
        isNull(thread.settledAt),
        isNotNull(thread.sentAt),
        isNotNull(thread.proposal),
        isNotNull(thread.anchor),
      ),
    );
  return rows.map(({ thread: { id, authorId, field, anchor, madeOn, proposal }, author }) => ({
    id,
    authorId,
    author,
    field: field ?? "",
    anchor: anchor as Anchor,
    madeOn: madeOn ?? "",
    wording: proposal as Block[],
  }));
}

async function settle(change: Change, proposals: readonly Proposed[], outcome: "changed" | "left"): Promise<void> {
  await change.tx
    .update(thread)
    .set({ settledAt: change.now, settledBy: change.actor?.id ?? null, outcome })
    .where(
      inArray(
        thread.id,
        proposals.map(({ id }) => id),
      ),
    );
}

async function putAside(change: Change, pieceId: string, proposals: readonly Proposed[]): Promise<void> {
  if (proposals.length === 0) return;
  await settle(change, proposals, "left");
  const by = [...new Set(proposals.map(({ author }) => author))];
  change.happened(
    proposalSetAside,
    { by, count: proposals.length },
    { pieceId, tell: { proposer: authorsOf(proposals) } },
  );
}

const authorsOf = (proposals: readonly Proposed[]) => [...new Set(proposals.map(({ authorId }) => authorId))];
