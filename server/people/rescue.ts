import { eq } from "drizzle-orm";
import { factorsCleared, sessionsEnded } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { type Administering, changingAccess } from "../access/administer.ts";
import { passkey, person, session } from "../db/schema/index.ts";
import type { Act } from "../write.ts";
import { forgetBrowsers } from "./browsers.ts";
import { tellOwner } from "./letters.ts";
import { forgetIdleCodes } from "./recovery.ts";

/** Signs somebody out everywhere, at once: a machine of theirs was lost, or left open. */
export const signOutEverywhere = (act: Act, personId: string): Promise<Result<null>> =>
  rescuing(act, personId, async (change) => change.happened(sessionsEnded, {}, { subjectId: personId }));

/**
 * Takes somebody's second factors away, since the device is lost and the recovery codes are too; their
 * sessions end. Where a role demands a second factor they set one up at the next sign-in, after their
 * password.
 */
export const clearFactors = (act: Act, personId: string): Promise<Result<null>> =>
  rescuing(act, personId, async (change) => {
    await change.tx.update(person).set({ totpSecret: null, totpStep: null }).where(eq(person.id, personId));
    await change.tx.delete(passkey).where(eq(passkey.personId, personId));
    await forgetIdleCodes(change, personId);
    await forgetBrowsers(change, personId);
    change.happened(factorsCleared, {}, { subjectId: personId });
    await tellOwner(change, personId, "factors-cleared", act);
  });

const rescuing = (act: Act, personId: string, work: (change: Administering) => Promise<void>): Promise<Result<null>> =>
  changingAccess(act, async (change) => {
    const [row] = await change.tx.select().from(person).where(eq(person.id, personId)).for("update");
    if (!row?.active || row.guest) return refuse({ code: "not-found", sentence: "Nobody of that name works here." });
    await change.tx.delete(session).where(eq(session.personId, personId));
    await work(change);
    return accept(null);
  });
