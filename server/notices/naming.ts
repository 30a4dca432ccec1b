import { and, asc, eq } from "drizzle-orm";
import { z } from "zod";
import { channelNamed, channelRemoved } from "#core/events/places.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { pathName } from "#core/sections/tree.ts";
import { PIECE_TOPICS } from "#core/telling/choices.ts";
import { administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { chatChannel, outbox, workflow } from "../db/schema/index.ts";
import { whyNotAddress } from "../outside/send.ts";
import { decipher, encipher } from "../people/secrets.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import type { Act } from "../write.ts";
import { standInChannel } from "./chat.ts";

/** So many channels hear of sections and workflows. */
const MOST = 50;

export const channelInput = z.object({
  /** `section` or `workflow` and its id, with a space between. */
  of: z.string().regex(/^(section|workflow) [0-9a-f-]{36}$/, "Choose a section or a workflow."),
  address: z.string().trim().min(1, "Where does it listen?").max(600, "That address is too long."),
  topics: z.array(z.enum(PIECE_TOPICS)).min(1, "Of what does it hear?").default([]),
});

/** Names a channel of many readers that hears what happens in a section and below it, or on a workflow. */
export function nameChannel(act: Act, wanted: z.output<typeof channelInput>, standIns: boolean): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const [scope, scopeId] = wanted.of.split(" ") as ["section" | "workflow", string];
    const name = await nameOf(tx, await loadPlaces(tx), scope, scopeId);
    if (name === null) return refuse({ code: "not-found", field: "of", sentence: "That is not there any more." });
    const closed = whyNotAddress(wanted.address, standIns ? standInChannel(act.baseUrl) : null);
    if (closed) return refuse({ code: "address", field: "address", sentence: closed });
    const there = await tx.select({ id: chatChannel.id }).from(chatChannel).for("update");
    if (there.length >= MOST)
      return refuse({ code: "too-many", sentence: `There are ${MOST} channels; take one away first.` });
    await tx
      .insert(chatChannel)
      .values({ id: newId(), scope, scopeId, address: encipher(wanted.address), topics: wanted.topics });
    happened(channelNamed, { of: { scope, name }, topics: wanted.topics });
    return accept(null);
  });
}

export const channelGone = z.object({ channelId: z.uuid() });

/** Takes a channel away; what waited for it is not sent. */
export function removeChannel(act: Act, { channelId }: z.output<typeof channelGone>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const [row] = await tx.select().from(chatChannel).where(eq(chatChannel.id, channelId)).for("update");
    if (!row) return accept(null);
    const of = eq(outbox.channelId, channelId);
    await tx
      .update(outbox)
      .set({ status: "dropped" })
      .where(and(of, eq(outbox.status, "waiting")));
    await tx.update(outbox).set({ channelId: null }).where(of);
    await tx.delete(chatChannel).where(eq(chatChannel.id, channelId));
    const name = await nameOf(tx, await loadPlaces(tx), row.scope, row.scopeId);
    happened(channelRemoved, { of: { scope: row.scope, name: name ?? "that is gone" } });
    return accept(null);
  });
}

async function nameOf(
  db: Queryable,
  places: Places,
  scope: "section" | "workflow",
  id: string,
): Promise<string | null> {
  if (scope === "section") return places.sections.has(id) ? pathName(places, id) : null;
  const [row] = await db.select({ name: workflow.name }).from(workflow).where(eq(workflow.id, id));
  return row?.name ?? null;
}

/** The channels there are, and what one may hear of; of an address only where it leads is shown. */
export async function channelsOf(db: Queryable, places: Places) {
  const workflows = await db
    .select({ id: workflow.id, name: workflow.name })
    .from(workflow)
    .orderBy(asc(workflow.name));
  const sections = [...places.sections.values()].map(({ id }) => ({ id, name: pathName(places, id) }));
  const heard = {
    section: sections.toSorted((a, b) => a.name.localeCompare(b.name)),
    workflow: workflows,
  };
  const rows = await db.select().from(chatChannel);
  const channels = rows.map(({ id, scope, scopeId, address, topics }) => ({
    id,
    scope,
    name: heard[scope].find((one) => one.id === scopeId)?.name ?? "what is gone",
    topics,
    host: new URL(decipher(address)).host,
  }));
  return { heard, channels };
}
