import { desc } from "drizzle-orm";
import PostalMime from "postal-mime";
import { SMTPServer } from "smtp-server";
import type { Database } from "../db/client.ts";
import { standInMail } from "../db/schema/index.ts";

/** A mail server on loopback that keeps what arrives and delivers nothing. */
export interface StandInPost {
  url: string;
  stop(): Promise<void>;
}

/** Starts the mail stand-in on a port of its own choosing, or on `port`. */
export async function startPost(db: Database, now: () => Promise<number>, port = 0): Promise<StandInPost> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    onData(stream, session, done) {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => chunks.push(chunk));
      stream.on("end", async () => {
        try {
          const mail = await PostalMime.parse(Buffer.concat(chunks));
          const row = {
            messageId: (mail.messageId ?? session.id).slice(0, 200),
            at: await now(),
            sender: mail.from?.address ?? "",
            recipient: session.envelope.rcptTo
              .map((to) => to.address)
              .join(", ")
              .slice(0, 200),
            subject: mail.subject ?? "",
            body: mail.text ?? "",
          };
          await db.insert(standInMail).ignore().values(row);
          done();
        } catch (error) {
          done(error as Error);
        }
      });
    },
  });
  server.on("error", () => undefined);
  await new Promise<void>((resolve, reject) => {
    server.server.once("error", reject);
    server.listen(port, "127.0.0.1", resolve);
  });
  const { port: taken } = server.server.address() as { port: number };
  return { url: `smtp://127.0.0.1:${taken}`, stop: () => new Promise((resolve) => server.close(() => resolve())) };
}

/** What arrived, the newest first. */
export const listMail = (db: Database) =>
  db.select().from(standInMail).orderBy(desc(standInMail.at), desc(standInMail.messageId)).limit(300);
