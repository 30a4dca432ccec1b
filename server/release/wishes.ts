import { eq } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { embargoSet, wishChanged } from "#core/events/release.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { notGranted } from "../access/who.ts";
import { piece } from "../db/schema/index.ts";
import { note, onPiece } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import { type Act, write } from "../write.ts";
import { changed } from "./changed.ts";

import { foresee, ownersOfPlan } from "./foresee.ts";
import { openPlan, openPlans } from "./plans.ts";

export const wishInput = z.object({ ...onPiece, at: z.number().nullable().default(null) });

/** Says when a piece that is still on its way is wished for; what is due so long before that moves along. */
export function wishFor(act: Act, { pieceId, revision, at }: z.output<typeof wishInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, pieceId, revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "piece.schedule", facts.target, change.now).allowed) {
      const sentence = "No role of yours lets you say when pieces leave here.";
      return notGranted(change.tx, "piece.schedule", facts.target, change.now, sentence);
    }
    if (!facts.piece.inFlight)
      return refuse({
        code: "not-in-flight",
        sentence: `It is in ${facts.state.name}: nothing is wished for any more.`,
      });
    if (await openPlan(change, pieceId, SITE))
      return refuse({ code: "planned", sentence: "Its release is planned. Move the release instead." });
    if (at !== null && at <= change.now)
      return refuse({ code: "past", field: "at", sentence: "That date has passed." });
    await changed(change, facts, at);
    change.happened(
      wishChanged,
      { at },
      { pieceId, before: { at: facts.piece.publishAt }, tell: { author: [facts.piece.authorId] } },
    );
    return accept(null);
  });
}

export const embargoInput = z.object({ ...onPiece, until: z.number().nullable().default(null), note });

/** Keeps a piece from readers until an instant, whoever plans its release and when; null lifts that. */
export function setEmbargo(
  act: Act,
  { pieceId, revision, until, note: said }: z.output<typeof embargoInput>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, pieceId, revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "piece.release", facts.target, change.now).allowed) {
      const sentence = "No role of yours lets you put pieces under embargo here.";
      return notGranted(change.tx, "piece.release", facts.target, change.now, sentence);
    }
    if (until !== null && until <= change.now)
      return refuse({ code: "past", field: "until", sentence: "That has passed: it would keep nothing back." });
    if (until !== null && facts.piece.liveVersionId !== null)
      return refuse({ code: "live", sentence: "Readers see it already. Withdraw it first." });
    await change.tx.update(piece).set({ embargoUntil: until }).where(eq(piece.id, pieceId));
    const present = { ...facts, piece: { ...facts.piece, embargoUntil: until } };
    await changed(change, present, facts.piece.publishAt);
    const plans = await openPlans(change, [pieceId]);
    const owners = [facts.piece.authorId, ...plans.flatMap((plan) => ownersOfPlan(plan, facts))];
    change.happened(
      embargoSet,
      { until, note: said },
      { pieceId, before: { until: facts.piece.embargoUntil }, tell: { owners } },
    );
    await foresee(change, present);
    return accept(null);
  });
}
