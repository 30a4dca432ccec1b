import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { opinionAsked } from "#core/events/remarks.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { loadHolder } from "../access/holders.ts";
import { refuseOften } from "../people/attempts.ts";
import { note } from "../piece/input.ts";
import { openBare } from "../piece/open.ts";
import { type Act, write } from "../write.ts";
import { NOT_GRANTED } from "./commands.ts";

export const opinionInput = z.object({ pieceId: z.uuid(), personId: z.uuid("Choose whom."), note });

/** Asks somebody who may read a piece what they think of it: they are told, they remark, they have no vote. */
export async function askOpinion(act: Act, wanted: z.input<typeof opinionInput>): Promise<Result<null>> {
  const often = await refuseOften(act, "comment");
  if (often) return refuse(often);
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (actor.guest || !can(actor, "piece.comment", facts.target, change.now).allowed) return refuse(NOT_GRANTED);
    const who = await loadHolder(change.tx, wanted.personId);
    const able = who?.active && !who.guest && can(who, "piece.read", facts.target, change.now).allowed;
    if (!who || !able)
      return refuse({
        code: "may-not-see",
        field: "personId",
        sentence: `${who?.active && !who.guest ? who.name : "That person"} may not see this piece; asking lets nobody in.`,
      });
    change.happened(
      opinionAsked,
      { person: who.name, note: wanted.note ?? "" },
      { pieceId: facts.piece.id, subjectId: who.id, tell: { asked: [who.id] } },
    );
    return accept(null);
  });
}
