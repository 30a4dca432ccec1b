import { and, eq, sql } from "drizzle-orm";
import { ANSWER_BYTES, readAnswer } from "#core/assist/answer.ts";
import { assistantAnswered, assistantFailed } from "#core/events/assist.ts";
import { accept } from "#core/refusal.ts";
import { assistantErrand } from "../db/schema/index.ts";
import { askOutside, TurnedAway } from "../outside/send.ts";
import { signed } from "../people/secrets.ts";
import { type Act, write } from "../write.ts";
import { assistantSecret, standInAssistant } from "./service.ts";

/** So long an assistant is waited for, in milliseconds. */
export const PATIENCE = 60_000;
/** One that is busy or broken is asked so often in all, after half a minute and two minutes more. */
const RESTS = [30_000, 120_000];

type Row = typeof assistantErrand.$inferSelect;

/**
 * Sends an assistant for what it was asked for: a signed JSON body, the very words the person was shown. What it
 * brings waits for a person; nothing of it is done.
 *
 * @returns when to try again, or null
 */
export async function runErrand(act: Act, id: string, standIns: boolean, patience = PATIENCE): Promise<number | null> {
  const { db, now } = act;
  const [row] = await db.select().from(assistantErrand).where(eq(assistantErrand.id, id));
  if (row?.standing !== "waiting") return null;
  await db
    .update(assistantErrand)
    .set({ attempts: sql`${assistantErrand.attempts} + 1` })
    .where(eq(assistantErrand.id, id));
  const timestamp = String(Math.floor(now / 1000));
  const headers = {
    "Elenco-Timestamp": timestamp,
    "Elenco-Signature": signed(assistantSecret(), timestamp, row.body),
  };
  const standIn = standIns ? standInAssistant(act.baseUrl) : null;
  try {
    const answered = await askOutside(row.url, row.body, standIn, headers, { patience, most: ANSWER_BYTES });
    await settle(act, row, readAnswer(row.errand, answered));
    return null;
  } catch (error) {
    const rest = error instanceof TurnedAway ? undefined : RESTS[row.attempts];
    const problem = sentenceOf(error as Error);
    if (rest === undefined) {
      await settle(act, row, { problem, cost: null });
      return null;
    }
    await db.update(assistantErrand).set({ problem }).where(eq(assistantErrand.id, id));
    return now + rest;
  }
}

const sentenceOf = ({ message }: Error) =>
  `${message.slice(0, 1).toUpperCase()}${message.slice(1, 290)}.`.replace("..", ".");

/** Keeps what an assistant brought, or why it brought nothing, once; whoever sent it is told. */
export const settle = (act: Act, row: Row, answer: ReturnType<typeof readAnswer>) =>
  write<null>(act, async (change) => {
    const { tx, now } = change;
    const waiting = and(eq(assistantErrand.id, row.id), eq(assistantErrand.standing, "waiting"));
    const { cost } = answer;
    const [kept] = await tx
      .update(assistantErrand)
      .set(
        "problem" in answer
          ? { standing: "failed", problem: answer.problem, cost, answeredAt: now }
          : { standing: "brought", problem: null, brought: answer.brought, cost, answeredAt: now },
      )
      .where(waiting);
    if (kept.affectedRows === 0) return accept(null);
    const about = { pieceId: row.pieceId, subjectId: row.id, tell: { asker: [row.byId] } };
    const { errand, name } = row;
    if ("problem" in answer) change.happened(assistantFailed, { errand, name, problem: answer.problem, cost }, about);
    else change.happened(assistantAnswered, { errand, name, cost }, about);
    return accept(null);
  });
