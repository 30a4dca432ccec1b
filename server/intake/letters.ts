import { and, eq } from "drizzle-orm";
import type { EventKind } from "#core/events/event.ts";
import { requester, wording } from "../db/schema/index.ts";
import { wordsOf } from "../notices/words.ts";
import type { Places } from "../sections/places.ts";
import type { Change } from "../write.ts";
import { newSecretKey } from "./keys.ts";

/** Where a requester's page is. @param secret of a link to it */
export const askedAt = (baseUrl: string, secret: string) => `${baseUrl}/asked/${secret}`;

/**
 * Writes to whoever sent something what became of it, in the words the team chose for that, with a link to their own
 * page that is good once.
 *
 * @param payload what the event keeps
 */
export async function writeToSender<P>(
  change: Change,
  { baseUrl }: { baseUrl: string },
  places: Places,
  requesterId: string | null,
  kind: EventKind<P, "requester">,
  payload: NoInfer<P>,
): Promise<void> {
  const { tx, now, actor } = change;
  if (requesterId === null) return;
  const [to] = await tx.select().from(requester).where(eq(requester.id, requesterId));
  if (!to) return;
  const [worded = null] = await tx
    .select({ headline: wording.headline, body: wording.body })
    .from(wording)
    .where(and(eq(wording.event, kind.name), eq(wording.part, "requester"), eq(wording.place, "mail")));
  const { headline, body } = wordsOf(
    {
      event: kind.name,
      part: "requester",
      payload,
      params: null,
      actor: actor?.name ?? null,
      title: null,
      sectionId: null,
      said: null,
      worded,
    },
    { name: to.name, zone: places.calendar.timeZone, now, places },
    "mail",
  );
  const secret = await newSecretKey(tx, to.id, "link", now);
  change.post({
    to: to.email,
    subject: `${headline}: ${places.name}`,
    body: [
      `Dear ${to.name},`,
      "",
      body,
      "",
      "All you asked for, and what became of it:",
      askedAt(baseUrl, secret),
    ].join("\n"),
  });
}
