import { desc } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { standInChat } from "../db/schema/index.ts";

/** So long is a message a channel takes, in characters. */
const MOST = 20_000;

/** Keeps what was said in the chat that stands in for a channel. @returns whether it was a message */
export async function keepChat(db: Database, at: number, body: string): Promise<boolean> {
  const text = textIn(body);
  if (text === null || text.length > MOST) return false;
  await db.insert(standInChat).values({ id: newId(), at, body: text });
  return true;
}

function textIn(body: string): string | null {
  try {
    const { text } = JSON.parse(body) as { text?: unknown };
    return typeof text === "string" && text !== "" ? text : null;
  } catch {
    return null;
  }
}

/** What was said, the newest first. */
export const listChat = (db: Database) =>
  db.select().from(standInChat).orderBy(desc(standInChat.at), desc(standInChat.id)).limit(300);
