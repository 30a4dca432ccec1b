import type { Transaction } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { send } from "./routing.ts";

/** A message to one reader that is no notice. */
export interface Letter {
  to: string;
  subject: string;
  body: string;
  /** Whose channel it goes to, where it is no mail. */
  chatOf?: string | undefined;
}

/** Lays letters in the outbox. */
export async function postLetters(tx: Transaction, now: number, letters: readonly Letter[]): Promise<void> {
  const waiting = letters.map(({ to, subject, body, chatOf }) => ({
    id: newId(),
    recipient: to,
    ...(chatOf && { route: "chat" as const, personId: chatOf }),
    subject,
    body,
    status: "waiting" as const,
    dueAt: now,
  }));
  await send(tx, waiting);
}
