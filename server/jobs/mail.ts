import { eq } from "drizzle-orm";
import { createTransport, type Transporter } from "nodemailer";
import { outbox } from "../db/schema/index.ts";
import { mailWords } from "../notices/queries.ts";
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
 * Sends a mail. It bears the outbox row's id as its Message-ID, so that one sent a second time,
 * because its node died before it could write "sent", is the same message to the mailbox. What
 * fails waits longer each time: a minute, two, four … up to a day.
 */
export const mail: Job = {
  lease: LEASE,
  batch: 20,
  rest: 500,
  async run(worker, task, now) {
    if (!(await renew(worker, task, LEASE))) return null;
    const [row] = await worker.db.select().from(outbox).where(eq(outbox.id, task.subject));
    if (row?.status !== "waiting") return null;
    const attempts = row.attempts + 1;
    try {
      await transportOf(worker).sendMail({
        messageId: `<${row.id}@elenco>`,
        from: '"Elenco" <elenco@localhost>',
        to: row.recipient,
        ...(await wordsFor(worker, row, now)),
        headers: { "Auto-Submitted": "auto-generated" },
      });
    } catch (error) {
      const reason = (error as Error).message;
      worker.log.warn({ mail: row.id, attempts, reason }, "mail did not leave");
      const given = attempts >= ATTEMPTS;
      await worker.db
        .update(outbox)
        .set({ attempts, status: given ? "given-up" : "waiting", lastError: reason.slice(0, 300) })
        .where(eq(outbox.id, row.id));
      return given ? null : now + Math.min(DAY, MINUTE * 2 ** (attempts - 1));
    }
    await worker.db
      .update(outbox)
      // A letter holds a secret: once it has left, only its reader has it.
      .set({ status: "sent", sentAt: now, attempts, lastError: null, body: null })
      .where(eq(outbox.id, row.id));
    return null;
  },
};

/** A notice's words are made as it leaves; a letter's were written with it. */
async function wordsFor({ db, baseUrl }: Worker, row: typeof outbox.$inferSelect, now: number) {
  if (row.noticeId === null) return { subject: row.subject ?? "", text: row.body ?? "" };
  return mailWords(db, row.noticeId, baseUrl, now);
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
