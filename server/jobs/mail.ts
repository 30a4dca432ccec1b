import { and, eq, lte } from "drizzle-orm";
import { createTransport } from "nodemailer";
import { outbox } from "../db/schema/index.ts";
import { claimDue } from "./claim.ts";
import type { Job, Worker } from "./job.ts";

const LEASE = 20_000;
/** Shorter than the lease: a mail server that hangs is given up before another node may try. */
const PATIENCE = 10_000;
const BATCH = 20;
const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;
const ATTEMPTS = 12;

/**
 * Sends mail that waits. Each message bears the outbox row's id as its Message-ID, so that one
 * sent a second time, because its node died before it could write "sent", is the same message to
 * the mailbox. What fails waits longer each time: a minute, two, four … up to a day.
 */
export const mailDue: Job = async (worker) => {
  const due = and(eq(outbox.status, "waiting"), lte(outbox.nextAt, await worker.now()));
  const rows = await claimDue(worker, outbox, due, outbox.nextAt, { lease: LEASE, batch: BATCH });
  if (rows.length === 0) return 0;
  const transport = worker.smtpUrl
    ? createTransport({
        url: worker.smtpUrl,
        connectionTimeout: PATIENCE,
        greetingTimeout: PATIENCE,
        socketTimeout: PATIENCE,
      })
    : null;
  for (const row of rows) {
    if (!(await renew(worker, row.id))) continue;
    try {
      if (!transport) throw new Error("no mail server is set (SMTP_URL)");
      await transport.sendMail({
        messageId: `<${row.id}@elenco>`,
        from: '"Elenco" <elenco@localhost>',
        to: row.recipient,
        subject: row.subject,
        text: row.body,
        headers: { "Auto-Submitted": "auto-generated" },
      });
      await worker.db
        .update(outbox)
        .set({
          status: "sent",
          sentAt: await worker.now(),
          attempts: row.attempts + 1,
          lastError: null,
          leaseOwner: null,
          leaseUntil: null,
          // A letter holds a secret: once it has left, only its reader has it.
          ...(row.noticeId === null && { body: "" }),
        })
        .where(eq(outbox.id, row.id));
    } catch (error) {
      await putOff(worker, row, error as Error);
    }
  }
  transport?.close();
  return rows.length;
};

/** Whether this node still holds a message; its lease then begins anew. */
async function renew({ db, node }: Worker, id: string): Promise<boolean> {
  const [{ affectedRows }] = await db
    .update(outbox)
    .set({ leaseUntil: Date.now() + LEASE })
    .where(and(eq(outbox.id, id), eq(outbox.leaseOwner, node), eq(outbox.status, "waiting")));
  return affectedRows > 0;
}

async function putOff(worker: Worker, row: typeof outbox.$inferSelect, error: Error): Promise<void> {
  const attempts = row.attempts + 1;
  const wait = Math.min(DAY, MINUTE * 2 ** (attempts - 1));
  worker.log.warn({ mail: row.id, attempts, reason: error.message }, "mail did not leave");
  await worker.db
    .update(outbox)
    .set({
      attempts,
      status: attempts >= ATTEMPTS ? "given-up" : "waiting",
      nextAt: (await worker.now()) + wait,
      lastError: error.message.slice(0, 300),
      leaseOwner: null,
      leaseUntil: null,
    })
    .where(eq(outbox.id, row.id));
}
