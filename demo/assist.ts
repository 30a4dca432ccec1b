import { and, asc, eq, isNull } from "drizzle-orm";
import { readAnswer } from "#core/assist/answer.ts";
import type { Errand } from "#core/assist/errand.ts";
import { askAssistant, leaveErrand, sentBy } from "#server/assist/commands.ts";
import { settle } from "#server/assist/errand.ts";
import { nameAssistant, standInAssistant } from "#server/assist/service.ts";
import type { Database } from "#server/db/client.ts";
import { assistantErrand, piece, task } from "#server/db/schema/index.ts";
import { loadFacts, type PieceFacts } from "#server/piece/facts.ts";
import { loadPlaces } from "#server/sections/places.ts";
import { willingAnswer } from "#server/standins/assistant.ts";
import type { Act } from "#server/write.ts";
import { done } from "./done.ts";

const HOUR = 3_600_000;

type As = (who: string, now: number) => Act;

/** An assistant that may be asked everywhere but in Safety: an outline that waits for a person, and a version nobody wanted. */
export async function fillAssistant(
  db: Database,
  act: As,
  ids: { person(key: string): string; section(key: string): string },
  now: number,
): Promise<void> {
  done(
    await nameAssistant(act("ilda", now - 60 * 24 * HOUR), {
      name: "Quillmoor",
      url: standInAssistant(""),
      on: true,
      everywhere: false,
      sections: ["routes", "huts", "bulletin", "magazine"].map(ids.section),
      revision: 0,
    }),
  );
  const stove = await draftOf(db, ids.person("noor"), { title: "The stove at the bivouac draws again" });
  if (stove)
    await bring(db, act, "noor", stove, { errand: "outline", note: "Three parts at most.", at: now - 5 * HOUR });
  const long = await draftOf(db, ids.person("tobia"), { words: 80 });
  if (!long) return;
  const shorter = await bring(db, act, "tobia", long, { errand: "shorter", note: "", at: now - 50 * HOUR });
  done(
    await leaveErrand(act("tobia", now - 49 * HOUR), { ...shorter, reason: "It kept the weather and lost the way." }),
  );
}

/** What somebody is writing: the first with a title, or with some words. */
async function draftOf(db: Database, authorId: string, wanted: { title: string } | { words: number }) {
  const rows = await db
    .select({ id: piece.id, title: piece.title })
    .from(piece)
    .where(and(eq(piece.authorId, authorId), eq(piece.stateKey, "draft"), isNull(piece.deletedAt)))
    .orderBy(asc(piece.id));
  const places = await loadPlaces(db);
  for (const { id, title } of rows) {
    const facts = await loadFacts(db, places, eq(piece.id, id));
    if (facts && ("title" in wanted ? title === wanted.title : (await sentBy(db, facts)).sent.words >= wanted.words))
      return facts;
  }
  return null;
}

/** Has the assistant asked, and what it brings laid down. */
async function bring(
  db: Database,
  act: As,
  who: string,
  facts: PieceFacts,
  { errand, note, at }: { errand: Errand; note: string; at: number },
) {
  const pieceId = facts.piece.id;
  const { hash } = await sentBy(db, facts);
  done(await askAssistant(act(who, at), { pieceId, errand, note, shown: hash }));
  const waiting = and(eq(assistantErrand.pieceId, pieceId), eq(assistantErrand.standing, "waiting"));
  const [row] = await db.select().from(assistantErrand).where(waiting);
  if (!row) throw new Error("the demo's assistant was not asked");
  const answer = readAnswer(errand, JSON.stringify(willingAnswer(row.body)));
  await settle({ ...act(who, at + 40_000), personId: null }, row, answer);
  await db.delete(task).where(and(eq(task.kind, "errand"), eq(task.subject, row.id)));
  return { pieceId, errandId: row.id };
}
