import { and, asc, desc, eq, inArray, isNull, lt } from "drizzle-orm";
import { rhythmSchema } from "#core/release/rhythm.ts";
import { alwaysOpen } from "#core/release/window.ts";
import { type Patch, patchBetween } from "#core/text/splice.ts";
import { localDate } from "#core/time/local.ts";
import type { Database } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { edition, person, piece, section, version } from "#server/db/schema/index.ts";
import { fillEdition, orderEdition } from "#server/editions/commands.ts";
import { leaveEdition } from "#server/editions/leaving.ts";
import { signEdition } from "#server/editions/signing.ts";
import { sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { channelInput, saveChannel } from "#server/release/channel-changes.ts";
import { savePiece } from "#server/text/commands.ts";
import type { Act } from "#server/write.ts";
import { done } from "./done.ts";
import { calendar } from "./setting.ts";
import { FOR_THE_BULLETIN } from "./texts.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** So long ago the bulletin began to be gathered here. */
const BEGAN = 26 * DAY;

type As = (who: string, now: number) => Act;
interface Ids {
  person(key: string): string;
  section(key: string): string;
  kind(key: string): string;
}

/** The bulletin and the magazine with their editions: past ones, one signed, one being filled, the others empty. */
export async function gather(db: Database, act: As, ids: Ids, now: number): Promise<void> {
  done(await saveChannel(act("ilda", now - BEGAN), bulletin(ids)));
  done(await saveChannel(act("ilda", now - BEGAN), magazine(ids, now)));
  const ahead = await past(db, act, now);
  const [next, then] = ahead;
  const [first, second] = [await titled(db, FOR_THE_BULLETIN.slice(0, 3)), await titled(db, FOR_THE_BULLETIN.slice(3))];
  if (next) await sign(db, act, next, first, Math.min(now - HOUR, next.closesAt - HOUR), ["ilda", "petra"]);
  if (!then) return;
  const coming = await under(db, ["draft", "copy-edit"], 3);
  done(await fillEdition(act("ilda", now - 2 * HOUR), { editionId: then.id, pieces: [...second, ...coming] }));
  const [dates] = second.slice(-1);
  if (!dates) return;
  done(
    await orderEdition(act("kai", now - HOUR), {
      editionId: then.id,
      pieceId: dates,
      part: "dates",
      before: "",
    }),
  );
}

const bulletin = (ids: Ids) =>
  channelInput.parse({
    key: "",
    name: "Bulletin",
    windows: alwaysOpen(calendar.timeZone),
    lookout: {},
    people: [ids.person("ilda"), ids.person("ansel")],
    nextNumber: 45,
    editions: {
      called: "Bulletin",
      rhythm: rhythmSchema.parse({ every: "week", days: ["thu"], at: "07:00", since: "2026-01-01" }),
      parts: [
        { key: "lead", name: "Lead" },
        { key: "news", name: "News" },
        { key: "dates", name: "Dates" },
      ],
      closes: "0.5wh",
      target: { unit: "words", number: 560 },
      takes: [{ kind: null, section: ids.section("bulletin"), part: "news" }],
    },
    revision: 0,
  });

const magazine = (ids: Ids, now: number) =>
  channelInput.parse({
    key: "",
    name: "Quarterly magazine",
    windows: alwaysOpen(calendar.timeZone),
    lookout: {},
    people: [ids.person("dario")],
    nextNumber: 12,
    editions: {
      called: "Quarterly",
      rhythm: rhythmSchema.parse({
        every: "month",
        day: 1,
        at: "09:00",
        apart: 3,
        since: `${localDate(now - 60 * DAY, calendar.timeZone).slice(0, 7)}-01`,
      }),
      parts: [
        { key: "features", name: "Features" },
        { key: "columns", name: "Columns" },
      ],
      closes: "10wd",
      target: { unit: "items", number: 8 },
      takes: [
        { kind: null, section: ids.section("columns"), part: "columns" },
        { kind: null, section: ids.section("features"), part: "features" },
      ],
    },
    revision: 0,
  });

/** Lets out what has left since the bulletin is gathered here, with one piece of the last mended since. @returns the editions ahead */
async function past(db: Database, act: As, now: number) {
  const used: string[] = [];
  let ahead = await editions(db);
  while (ahead[0] && ahead[0].at < now - HOUR) {
    const [one] = ahead;
    const some = await db
      .select({ id: piece.id })
      .from(piece)
      .innerJoin(section, eq(section.id, piece.sectionId))
      .where(and(eq(section.key, "bulletin"), eq(piece.stateKey, "live"), lt(piece.liveAt, one.closesAt)))
      .orderBy(desc(piece.liveAt));
    const pieces = some
      .map((row) => row.id)
      .filter((id) => !used.includes(id))
      .slice(0, 2);
    used.push(...pieces);
    if (pieces.length > 0) await sign(db, act, one, pieces, one.closesAt - 2 * HOUR);
    done(await leaveEdition({ ...act("ilda", one.at), personId: null, origin: "job editions" }, one.id));
    ahead = await editions(db);
  }
  const mended = used.at(-2);
  if (mended) await mend(db, act, mended, now - 20 * HOUR);
  return ahead;
}

/** Fills an edition and has it signed. */
async function sign(
  db: Database,
  act: As,
  of: { id: string },
  pieces: string[],
  at: number,
  signers = ["ilda", "ansel"],
): Promise<void> {
  done(await fillEdition(act("ilda", at), { editionId: of.id, pieces }));
  for (const who of signers) {
    const { revision } = await standing(db, of.id);
    done(await signEdition(act(who, at + HOUR / 2), { editionId: of.id, revision }));
  }
}

/** A slip in a piece that went out is mended, and readers get it. */
async function mend(db: Database, act: As, id: string, at: number): Promise<void> {
  const now = async () => {
    const [row] = await db
      .select({ piece, version, author: person.key })
      .from(piece)
      .innerJoin(version, eq(version.id, piece.currentVersionId))
      .innerJoin(person, eq(person.id, piece.authorId))
      .where(eq(piece.id, id));
    if (!row) throw new Error("the demo has lost a piece");
    return row;
  };
  const send = async (who: string, transition: string, when: number, reviewers: string[] = []) => {
    const { piece: row } = await now();
    const more = { note: "", dueAt: null, publishAt: null, urgency: "normal" as const, reviewers };
    done(await sendPiece(act(who, when), { pieceId: id, revision: row.revision, transition, ...more }));
  };
  const { author } = await now();
  await send(author, "revise", at);
  const { version: before } = await now();
  const text = JSON.stringify(before.content);
  const after = JSON.parse(text.replace(/ (in|on|at|by) the /, " $1 the upper "));
  const patch = patchBetween(before.content, after) as Patch;
  done(await savePiece(act(author, at + HOUR / 4), { pieceId: id, window: newId(), base: before.hash, patch }));
  const [reader] = await db.select({ id: person.id }).from(person).where(eq(person.key, "petra"));
  await send(author, "send", at + HOUR / 2, reader ? [reader.id] : []);
  const read = await now();
  const verdict = { pieceId: id, versionHash: read.version.hash, verdict: "approve" as const, note: "" };
  done(await decide(act("petra", at + HOUR), verdict));
  await send("ilda", "release", at + 2 * HOUR);
}

const editions = (db: Database) =>
  db
    .select()
    .from(edition)
    .where(and(eq(edition.channel, "bulletin"), inArray(edition.status, ["gathering", "signed"])))
    .orderBy(asc(edition.at));

async function standing(db: Database, id: string) {
  const [row] = await db.select().from(edition).where(eq(edition.id, id));
  if (!row) throw new Error("the demo has lost an edition");
  return row;
}

/** The ids of pieces by their titles, in that order. */
async function titled(db: Database, titles: readonly string[]): Promise<string[]> {
  const rows = await db
    .select({ id: piece.id, title: piece.title })
    .from(piece)
    .where(inArray(piece.title, [...titles]));
  return titles.flatMap((title) => rows.find((row) => row.title === title)?.id ?? []);
}

/** Some pieces of the Bulletin that are still on their way. */
async function under(db: Database, states: string[], most: number): Promise<string[]> {
  const rows = await db
    .select({ id: piece.id })
    .from(piece)
    .innerJoin(section, eq(section.id, piece.sectionId))
    .where(
      and(
        eq(section.key, "bulletin"),
        inArray(piece.stateKey, states),
        isNull(piece.deletedAt),
        eq(piece.private, false),
        isNull(piece.liveVersionId),
      ),
    )
    .orderBy(desc(piece.createdAt))
    .limit(most);
  return rows.map((row) => row.id);
}
