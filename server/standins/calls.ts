import { desc } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { standInCall } from "../db/schema/index.ts";

/** So long is a body the service takes, in characters. */
const MOST = 20_000;

/** Keeps what the stand-in for an outside service was called with. @returns whether it was taken */
export async function keepCall(db: Database, at: number, headers: Headers, body: string): Promise<boolean> {
  if (body === "" || body.length > MOST) return false;
  const signature = (headers.get("Elenco-Signature") ?? "").slice(0, 200);
  const timestamp = (headers.get("Elenco-Timestamp") ?? "").slice(0, 40);
  await db.insert(standInCall).values({ id: newId(), at, signature, timestamp, body });
  return true;
}

/** What it was called with, the newest first. */
export const listCalls = (db: Database) =>
  db.select().from(standInCall).orderBy(desc(standInCall.at), desc(standInCall.id)).limit(100);
