import { and, eq, sql } from "drizzle-orm";
import { createTransport, type Transporter } from "nodemailer";
import { outbox } from "../db/schema/index.ts";
import { sayInChat } from "../notices/chat.ts";
import { asHtml, channelWords, messageWords, type Words } from "../notices/messages.ts";
import { TurnedAway } from "../outside/send.ts";
import { renew } from "./claim.ts";
import type { Job, Worker } from "./job.ts";

/** Whether a host is this machine itself. */
export const isLoopback = (host: string) => /^(localhost|127(\.\d+){3}|\[?::1\]?)$/.test(host);

const LEASE = 20_000;
/** Shorter than the lease: a mail server that hangs is given up before another node may try. */
const PATIENCE = 10_000;
const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;
const ATTEMPTS = 12;

/**
 * Sends a message. A mail bears the outbox row's id as its Message-ID, so that one sent a second time,
 * because its node died before it could write "sent", is the same message to the mailbox. What fails waits
 * longer each time: a minute, two, four … up to a day; what the other side turns away for good is given up.
 */
export const mail: Job = {
  lease: LEASE,
  batch: 20,
  async run(worker, task, now) {
    if (!(await renew(worker, task, LEASE))) return null;
    const { db } = worker;
    const at = eq(outbox.id, task.subject);
    // From here on nothing further goes along with it.
    await db
      .update(outbox)
      .set({ attempts: sql`${outbox.attempts} + 1` })
      .where(and(at, eq(outbox.status, "waiting")));
    const [row] = await db.select().from(outbox).where(at);
    if (row?.status !== "waiting") return null;
    const words = await wordsFor(worker, row, now);
    if (!words) {
      await db.update(outbox).set({ status: "dropped" }).where(at);
      return null;
    }
    try {
      if (row.route === "chat") await sayInChat(worker, row, words);
      else await sendMail(worker, row, words);
    } catch (error) {
      const reason = (error as Error).message;
      worker.log.warn({ message: row.id, route: row.route, attempts: row.attempts, reason }, "a message did not leave");
      const given = row.attempts >= ATTEMPTS || isForGood(error);
      await db
        .update(outbox)
        .set({ status: given ? "given-up" : "waiting", lastError: reason.slice(0, 300) })
        .where(at);
      return given ? null : now + Math.min(DAY, MINUTE * 2 ** (row.attempts - 1));
    }
    await db
      .update(outbox)
      // A letter holds a secret: once it has left, only its reader has it.
      .set({ status: "sent", sentAt: now, lastError: null, body: null })
      .where(at);
    return null;
  },
};

/** Whether the other side turned a message away so that trying again would not help: 5xx of a mail server (RFC 5321). */
const isForGood = (error: unknown) =>
  error instanceof TurnedAway || Number((error as { responseCode?: number }).responseCode ?? 0) >= 500;

async function sendMail(worker: Worker, row: typeof outbox.$inferSelect, words: Words): Promise<void> {
  const settings = `${worker.baseUrl}/notices/how`;
  await transportOf(worker).sendMail({
    messageId: `<${row.id}@elenco>`,
    from: '"Elenco" <elenco@localhost>',
    to: row.recipient,
    ...words,
    // Mails about one piece stand together in a mailbox.
    ...(row.pieceId && { references: [`<${row.pieceId}@elenco>`], inReplyTo: `<${row.pieceId}@elenco>` }),
    headers: {
      "Auto-Submitted": "auto-generated",
      ...(row.personId && { "List-Unsubscribe": `<${settings}>` }),
    },
  });
}

/** A notice's words are made as it leaves; a letter's were written with it. @returns null where nothing is left to say */
async function wordsFor({ db, baseUrl }: Worker, row: typeof outbox.$inferSelect, now: number): Promise<Words | null> {
  if (row.body !== null) return { subject: row.subject ?? "", text: row.body, html: asHtml([row.body], false) };
  if (row.channelId) return channelWords(db, row.id, baseUrl, now);
  return messageWords(db, row, baseUrl, now);
}

const transports = new Map<string, Transporter>();

/** The node's way to its mail server. @throws when none is set */
function transportOf({ smtpUrl }: Worker): Transporter {
  if (!smtpUrl) throw new Error("no mail server is set (SMTP_URL)");
  const known = transports.get(smtpUrl);
  if (known) return known;
  const made = createTransport({
    url: smtpUrl,
    // Over a wire that others share nothing is sent in the clear.
    requireTLS: !isLoopback(new URL(smtpUrl).hostname),
    connectionTimeout: PATIENCE,
    greetingTimeout: PATIENCE,
    socketTimeout: PATIENCE,
  });
  transports.set(smtpUrl, made);
  return made;
}
