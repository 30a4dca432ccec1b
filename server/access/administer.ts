import { can, PUBLICATION, someoneKeepsAccess } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import { type Result, refuse } from "#core/refusal.ts";
import { publication } from "../db/schema/index.ts";
import { type Act, type Change, whyUnproven, write } from "../write.ts";
import { loadEverybody, loadHolder, type Person } from "./holders.ts";
import { notGranted } from "./who.ts";

/** A write of somebody who is signed in. */
export type Administering = Change & { actor: Person };

const NOT_YOURS: Partial<Record<Permission, string>> = {
  "access.edit": "No role of yours lets you invite people or say who holds which role.",
  "workflow.edit": "No role of yours lets you configure workflows.",
  "publication.edit": "No role of yours lets you change the publication itself.",
  "section.edit": "No role of yours lets you arrange sections and kinds.",
};

/** A write that needs a permission for the whole publication. */
export function administering<T>(
  act: Act,
  permission: Permission,
  work: (change: Administering) => Promise<Result<T>>,
): Promise<Result<T>> {
  const unproven = permission === "access.edit" ? whyUnproven(act) : null;
  const proved = unproven ? async () => refuse(unproven) : work;
  return write<T>(act, async (change) => granted(change, change.actor, permission, proved));
}

/**
 * A write on who may do what. One at a time in the whole publication, and none after which nobody
 * could give roles any more. The actor is asked once more when their turn has come: the write before
 * may have been about them.
 */
export function changingAccess<T>(act: Act, work: (change: Administering) => Promise<Result<T>>): Promise<Result<T>> {
  return administering<T>(act, "access.edit", async (change) => {
    const { tx, now } = change;
    await tx.select({ id: publication.id }).from(publication).for("update");
    const actor = await loadHolder(tx, change.actor.id);
    const done = await granted(change, actor, "access.edit", work);
    if (!done.ok || someoneKeepsAccess((await loadEverybody(tx)).values(), now)) return done;
    return refuse({
      code: "last-keeper",
      sentence:
        "Then nobody could give roles any more: somebody must keep that for the whole publication, without an end.",
    });
  });
}

async function granted<T>(
  change: Change,
  actor: Person | null,
  permission: Permission,
  work: (change: Administering) => Promise<Result<T>>,
): Promise<Result<T>> {
  if (!actor || !can(actor, permission, PUBLICATION, change.now).allowed)
    return notGranted(
      change.tx,
      permission,
      PUBLICATION,
      change.now,
      NOT_YOURS[permission] ?? "No role of yours lets you do this.",
    );
  return work({ ...change, actor });
}
