import { eq } from "drizzle-orm";
import { can, type Holder, PUBLICATION } from "#core/access/decide.ts";
import { seeAsBegan, seeAsEnded } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { loadHolder } from "../access/holders.ts";
import { session } from "../db/schema/index.ts";
import { type Act, write } from "../write.ts";
import { secretId } from "./secrets.ts";

/** Whether a person may look through somebody else's eyes. */
export const maySeeAs = (who: Holder, now: number) => can(who, "access.see-as", PUBLICATION, now).allowed;

/**
 * Begins to see every screen as somebody else does. On record; while it lasts nothing can be changed.
 *
 * @param secret the session's, since it is this browser that looks differently
 */
export function beginSeeingAs(act: Act, wanted: { personId: string; secret: string }): Promise<Result<null>> {
  return write(act, async (change) => {
    const { actor, now, tx } = change;
    if (!actor || !maySeeAs(actor, now))
      return refuse({ code: "not-granted", sentence: "No role of yours lets you see as somebody else." });
    const seen = await loadHolder(tx, wanted.personId);
    if (!seen?.active || seen.guest) return refuse({ code: "not-found", sentence: "Nobody of that name works here." });
    if (seen.id === actor.id) return refuse({ code: "self", sentence: "You see as yourself already." });
    await tx
      .update(session)
      .set({ seeingAsId: seen.id })
      .where(eq(session.id, secretId(wanted.secret)));
    change.happened(seeAsBegan, { name: seen.name }, { subjectId: seen.id });
    return accept(null);
  });
}

/** Sees as oneself again. @param act in the name of the person who looked, not of the one they saw as */
export function endSeeingAs(act: Act, secret: string): Promise<Result<null>> {
  return write({ ...act, seeingAs: undefined }, async (change) => {
    const at = eq(session.id, secretId(secret));
    const [row] = await change.tx.select({ seen: session.seeingAsId }).from(session).where(at);
    if (!row?.seen) return accept(null);
    await change.tx.update(session).set({ seeingAsId: null }).where(at);
    change.happened(seeAsEnded, {}, { subjectId: row.seen });
    return accept(null);
  });
}
