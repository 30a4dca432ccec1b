import { eq } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { chatChannel, type outbox, person } from "../db/schema/index.ts";
import { sendOutside, TurnedAway } from "../outside/send.ts";
import { decipher } from "../people/secrets.ts";

/** Where the chat stand-in listens, where stand-ins are switched on. */
export const standInChannel = (baseUrl: string) => `${baseUrl}/standins/chat`;

/** Whose channel a message goes to: a person's, or one of many readers. */
type Addressed = Pick<typeof outbox.$inferSelect, "personId" | "channelId">;

async function addressOf(db: Database, { personId, channelId }: Addressed): Promise<string | null> {
  const [row] = channelId
    ? await db.select({ address: chatChannel.address }).from(chatChannel).where(eq(chatChannel.id, channelId))
    : await db
        .select({ address: person.chatAddress })
        .from(person)
        .where(eq(person.id, personId ?? ""));
  return row?.address ? decipher(row.address) : null;
}

/**
 * Says something in a channel, by its incoming webhook: a JSON object with the words as `text`.
 *
 * @throws TurnedAway where the channel will never take it; another error where it may, later
 */
export async function sayInChat(
  { db, baseUrl, standIns }: { db: Database; baseUrl: string; standIns: boolean },
  to: Addressed,
  { text }: { text: string },
): Promise<void> {
  const address = await addressOf(db, to);
  if (!address) throw new TurnedAway("the channel is named no more");
  await sendOutside(address, JSON.stringify({ text }), standIns ? standInChannel(baseUrl) : null);
}
