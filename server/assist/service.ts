import { eq } from "drizzle-orm";
import { z } from "zod";
import { assistantNamed } from "#core/events/assist.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { assistant } from "../db/schema/index.ts";
import { whyNotAddress } from "../outside/send.ts";
import { sharedSecret } from "../people/secrets.ts";
import { text } from "../piece/input.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Act } from "../write.ts";

const ROW = 1;

/** Where the stand-in for an assistant listens; without a base its path alone, which can be kept as its address. */
export const standInAssistant = (baseUrl: string) => `${baseUrl}/standins/assistant`;

/** What the assistant is asked under, for it to know us by. */
export const assistantSecret = () => sharedSecret("assistant");

/** The assistant there is; null where nobody named one. */
export async function loadAssistant(db: Queryable) {
  const [row] = await db.select().from(assistant).where(eq(assistant.id, ROW));
  return row ?? null;
}

export const assistantInput = z.object({
  name: text("What is it called?", 60),
  url: z.string().trim().max(500, "At most 500 characters fit."),
  on: z.stringbool().default(false),
  /** Whether it may be asked everywhere; else in the sections named alone. */
  everywhere: z.stringbool().default(false),
  sections: z.array(z.uuid()).max(500).default([]),
  revision: z.coerce.number().int(),
});

/** Says which assistant may be asked, and where; whose role lets them ask it is said with the roles. */
export function nameAssistant(act: Act, wanted: z.output<typeof assistantInput>): Promise<Result<null>> {
  return administering<null>(act, "publication.edit", async ({ tx, happened }) => {
    const closed = whyNotAddress(wanted.url, standInAssistant(act.baseUrl));
    if (closed) return refuse({ code: "address", field: "url", sentence: closed });
    const { sections } = await loadPlaces(tx);
    if (wanted.sections.some((id) => !sections.has(id)))
      return refuse({ code: "unknown-section", field: "sections", sentence: "There is no such section any more." });
    if (wanted.on && !wanted.everywhere && wanted.sections.length === 0)
      return refuse({
        code: "nowhere",
        field: "sections",
        sentence: "Choose where it may be asked, or switch it off.",
      });
    const [row] = await tx.select().from(assistant).where(eq(assistant.id, ROW)).for("update");
    if ((row?.revision ?? 0) !== wanted.revision)
      return refuse({ code: "stale", sentence: "Somebody changed this meanwhile. What you chose is still here." });
    const { name, url, on } = wanted;
    const next = {
      name,
      url,
      on,
      sectionIds: wanted.everywhere ? null : wanted.sections,
      revision: wanted.revision + 1,
    };
    await tx
      .insert(assistant)
      .values({ id: ROW, ...next })
      .onDuplicateKeyUpdate({ set: next });
    happened(assistantNamed, { name, url, on }, { before: row && { name: row.name, url: row.url, on: row.on } });
    return accept(null);
  });
}
