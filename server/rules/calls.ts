import { desc, eq, sql } from "drizzle-orm";
import { callFailed } from "#core/events/rules.ts";
import { accept, type Result } from "#core/refusal.ts";
import type { Rule } from "#core/rules/document.ts";
import { visible } from "../access/visible.ts";
import type { Database } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { kind, piece, rule, ruleCall, section } from "../db/schema/index.ts";
import { sendOutside, TurnedAway } from "../outside/send.ts";
import { sharedSecret, signed } from "../people/secrets.ts";
import { openBare } from "../piece/open.ts";
import { schedule } from "../tasks/schedule.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";

const MINUTE = 60_000;
/** So often a call is tried: after a minute, two, four …, some two hours in all. */
const ATTEMPTS = 7;
/** So many calls of a rule are shown, the latest. */
const SHOWN = 20;

/** Where the stand-in for an outside service listens. */
export const standInService = (baseUrl: string) => `${baseUrl}/standins/calls`;

/** What a rule signs its calls with, for whoever is called to know them by. */
export const callSecret = (ruleId: string) => sharedSecret(`rule ${ruleId}`);

/** Lays down that an outside service is to be called with what happened to a piece; the call is made as a task. */
export function layCall(
  act: Act,
  of: Pick<Rule, "key" | "name" | "when"> & { id: string },
  pieceId: string,
  url: string,
): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const { tx, now } = change;
    const opened = await openBare(change, pieceId);
    if (!opened.ok) return opened;
    const { piece: row, state } = opened.value.facts;
    const [where] = await tx
      .select({ kind: kind.key, section: section.key })
      .from(piece)
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .innerJoin(section, eq(section.id, piece.sectionId))
      .where(eq(piece.id, pieceId));
    const id = newId();
    const body = JSON.stringify({
      id,
      event: of.when.event,
      at: new Date(now).toISOString(),
      rule: { key: of.key, name: of.name },
      piece: { id: pieceId, title: row.title, state: state.key, ...where, url: `${act.baseUrl}/pieces/${row.slug}` },
    });
    await tx.insert(ruleCall).values({ id, ruleId: of.id, pieceId, url, body, at: now, status: "waiting" });
    await schedule(tx, { kind: "call", subject: id, dueAt: now });
    return accept(null);
  });
}

/**
 * Calls an outside service: a signed JSON body, with when it was signed. What is turned away for good, or fails too
 * often, is given up and its rule's maker told.
 *
 * @returns when to try again, or null
 */
export async function makeCall(act: Act, id: string, standIns: boolean): Promise<number | null> {
  const { db, now } = act;
  const [call] = await db.select().from(ruleCall).where(eq(ruleCall.id, id));
  if (call?.status !== "waiting") return null;
  await db
    .update(ruleCall)
    .set({ attempts: sql`${ruleCall.attempts} + 1` })
    .where(eq(ruleCall.id, id));
  const attempts = call.attempts + 1;
  const timestamp = String(Math.floor(now / 1000));
  try {
    const answered = await sendOutside(call.url, call.body, standIns ? standInService(act.baseUrl) : null, {
      "Elenco-Timestamp": timestamp,
      "Elenco-Signature": signed(callSecret(call.ruleId), timestamp, call.body),
    });
    const taken = { status: "taken" as const, takenAt: now, answer: `it answered ${answered}` };
    await db.update(ruleCall).set(taken).where(eq(ruleCall.id, id));
    return null;
  } catch (error) {
    const answer = (error as Error).message.slice(0, 300);
    const ends = error instanceof TurnedAway || attempts >= ATTEMPTS;
    if (!ends) {
      await db.update(ruleCall).set({ answer }).where(eq(ruleCall.id, id));
      return now + MINUTE * 2 ** (attempts - 1);
    }
    await giveUp(act, call, answer);
    return null;
  }
}

const giveUp = (act: Act, { id, ruleId, pieceId, url }: typeof ruleCall.$inferSelect, answer: string) =>
  write<null>(act, async (change) => {
    await change.tx.update(ruleCall).set({ status: "given-up", answer }).where(eq(ruleCall.id, id));
    const [of] = await change.tx.select().from(rule).where(eq(rule.id, ruleId));
    if (of)
      change.happened(
        callFailed,
        { name: of.name, url, answer },
        { pieceId, subjectId: ruleId, tell: { maker: [of.makerId] } },
      );
    return accept(null);
  });

/** The calls a rule made last, as far as the viewer sees the pieces, each with what came of it. */
export async function callsOf(db: Database, viewer: Viewer, ruleId: string) {
  const shown = {
    id: ruleCall.id,
    at: ruleCall.at,
    url: ruleCall.url,
    status: ruleCall.status,
    attempts: ruleCall.attempts,
    answer: ruleCall.answer,
    title: piece.title,
    slug: piece.slug,
  };
  return db
    .select(shown)
    .from(ruleCall)
    .innerJoin(piece, eq(piece.id, ruleCall.pieceId))
    .where(sql`${eq(ruleCall.ruleId, ruleId)} AND ${visible(viewer)}`)
    .orderBy(desc(ruleCall.at), desc(ruleCall.id))
    .limit(SHOWN);
}
