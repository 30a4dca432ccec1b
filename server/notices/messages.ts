import { and, asc, eq, inArray, isNull } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { CATALOGUE, sayEvent } from "#core/events/catalogue.ts";
import { ASKS, type Asks, asks } from "#core/events/event.ts";
import { aboutOf } from "#core/events/worded.ts";
import { escapeHtml } from "#core/text/html.ts";
import { sayInstant } from "#core/time/words.ts";
import { groupBy } from "#core/words/group.ts";
import { counted } from "#core/words/say.ts";
import { stateOf } from "#core/workflow/document.ts";
import type { Database, Queryable } from "../db/client.ts";
import { chatLine, ledger, notice, type outbox, person, piece, seat } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { loadPlaces } from "../sections/places.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import { keptNotices } from "./queries.ts";
import { leadOf, wordsOf } from "./words.ts";

/** A message as it leaves. */
export interface Words {
  subject: string;
  text: string;
  html: string;
}

interface Line {
  headline: string;
  body: string;
  note: string;
  lead: string;
  pieceId: string | null;
  asks: Asks;
}

/**
 * The words of a message of notices, in its reader's zone, each with a link straight to what it is about.
 * What was read in the application meanwhile, and a decision asked that is no longer asked, is left out.
 *
 * @returns null where nothing is left that would matter
 */
export async function messageWords(
  db: Database,
  message: Pick<typeof outbox.$inferSelect, "id" | "personId" | "digest" | "batchId" | "route">,
  baseUrl: string,
  now: number,
): Promise<Words | null> {
  const viewer = message.personId ? await loadViewer(db, message.personId, now) : null;
  if (!viewer) return null;
  const lines = await linesOf(db, viewer, message);
  const [first] = lines.toSorted((a, b) => ASKS.indexOf(a.asks) - ASKS.indexOf(b.asks));
  if (!first) return null;
  const groups = message.batchId ? [together(lines, baseUrl)] : await apart(db, lines, baseUrl);
  const settings = `${baseUrl}/notices/how`;
  return {
    subject: subjectOf(viewer, message, lines, first),
    text: [...groups.map((group) => group.join("\n\n")), `--\nHow you are told: ${settings}\n`].join("\n\n"),
    html: groups.map((group) => asHtml(group)).join("<hr>") + asHtml([`How you are told: ${settings}`], false),
  };
}

function subjectOf(
  viewer: Viewer,
  { digest, batchId }: { digest: boolean; batchId: string | null },
  lines: readonly Line[],
  first: Line,
): string {
  if (lines.length === 1) return first.headline;
  if (digest) return `${viewer.places.name}: ${counted(lines.length, "thing")} since the last time`;
  if (batchId && lines.every((one) => one.asks === "decision")) return `${counted(lines.length, "piece")} wait on you`;
  return `${first.headline}, and ${counted(lines.length - 1, "thing")} more`;
}

/** Many pieces at once: what was written with all of them once, then each in a line. */
function together(lines: readonly Line[], baseUrl: string): string[] {
  const notes = new Set(lines.map((line) => line.note));
  const [note] = notes;
  const shared = notes.size === 1 && note ? [`“${note}”`] : [];
  return [...shared, ...lines.map(({ headline, lead }) => `${headline}\n${baseUrl}${lead}`)];
}

/** What is about one piece stands together, with its way and one link. */
async function apart(db: Database, lines: readonly Line[], baseUrl: string): Promise<string[][]> {
  const ways = await waysOf(db, lines);
  const groups = groupBy(lines, (line) => line.pieceId ?? line.lead);
  return [...groups.values()].map((group) => {
    const way = ways.get(group[0]?.pieceId ?? "");
    return [...group.map((line) => line.body), ...(way ? [way] : []), `${baseUrl}${group.at(-1)?.lead ?? ""}`];
  });
}

/** Paragraphs as a mail shows them: escaped whole, addresses to be followed, the first said louder. */
export function asHtml(texts: readonly string[], loud = true): string {
  const paragraphs = texts.flatMap((text) => text.split(/\n{2,}/)).filter(Boolean);
  return paragraphs
    .map((text, i) => {
      const lines = text.split("\n").map((line) => {
        const [, before = "", address] = /^(.*?)(https?:\/\/\S+)$/.exec(line) ?? [];
        if (!address) return escapeHtml(line);
        return `${escapeHtml(before)}<a href="${escapeHtml(address)}">${escapeHtml(address)}</a>`;
      });
      return loud && i === 0 ? `<p><b>${lines.join("<br>")}</b></p>` : `<p>${lines.join("<br>")}</p>`;
    })
    .join("");
}

async function linesOf(
  db: Queryable,
  viewer: Viewer,
  { id, route }: Pick<typeof outbox.$inferSelect, "id" | "route">,
): Promise<Line[]> {
  const rows = await keptNotices(db, viewer, route)
    .where(eq(route === "chat" ? notice.chatId : notice.mailId, id))
    .orderBy(asc(notice.at), asc(notice.seq));
  const unread = rows.filter((row) => row.readAt === null);
  const decisions = await decisionsOpen(
    db,
    viewer,
    unread.map((row) => row.pieceId),
  );
  const lines = unread.flatMap((row) => {
    const telling = CATALOGUE.get(row.event ?? "")?.tells[row.part];
    const asked = telling ? asks(telling, row.payload ?? {}) : "look";
    if (asked === "decision" && row.pieceId && !decisions.has(row.pieceId)) return [];
    const words = wordsOf(row, viewer, route);
    // What was told before events were kept has no words of its own for a message.
    const body = row.said ?? words.body;
    return {
      ...words,
      body,
      lead: leadOf(row),
      pieceId: row.slug && row.pieceId,
      asks: asked,
    };
  });
  // A decision that is asked twice is asked as it was last.
  const asked = (line: Line) => line.asks === "decision" && line.pieceId;
  return lines.filter((line, i) => !asked(line) || !lines.slice(i + 1).some((one) => asked(one) === asked(line)));
}

/** What a channel of many readers is told: what happened to pieces of a section or a workflow, with links. */
export async function channelWords(db: Database, messageId: string, baseUrl: string, now: number): Promise<Words> {
  const actor = alias(person, "actor");
  const places = await loadPlaces(db);
  const rows = await db
    .select({ event: ledger.action, payload: ledger.after, actor: actor.name, slug: piece.slug, title: piece.title })
    .from(chatLine)
    .innerJoin(ledger, eq(ledger.seq, chatLine.seq))
    .leftJoin(actor, eq(actor.id, ledger.actorId))
    .leftJoin(
      piece,
      and(eq(piece.id, ledger.pieceId), isNull(piece.deletedAt), eq(piece.private, false), eq(piece.restricted, false)),
    )
    .where(eq(chatLine.messageId, messageId))
    .orderBy(asc(chatLine.seq));
  const said = rows.flatMap(({ event, payload, actor: who, slug, title }) => {
    if (!slug) return [];
    const { date } = aboutOf({ payload, when: (at) => sayInstant(at, places.calendar.timeZone, now) });
    return `“${title}”: ${who ?? "Elenco"} ${sayEvent(event, payload)}${date && `, ${date}`}\n${baseUrl}/pieces/${slug}`;
  });
  return { subject: places.name, text: said.join("\n\n"), html: asHtml(said) };
}

/** On which of some pieces a decision of the viewer is asked now. */
async function decisionsOpen(
  db: Queryable,
  viewer: Viewer,
  pieceIds: readonly (string | null)[],
): Promise<Set<string>> {
  const ids = [...new Set(pieceIds)].filter((id) => id !== null);
  if (ids.length === 0) return new Set();
  const rows = await db
    .select({ pieceId: seat.pieceId })
    .from(seat)
    .where(and(eq(seat.personId, viewer.id), eq(seat.status, "open"), inArray(seat.pieceId, ids)));
  return new Set(rows.map((row) => row.pieceId));
}

/** The ways of pieces in words, as their strips show them: what was passed, where they are, what is ahead. */
async function waysOf(db: Queryable, lines: readonly Line[]): Promise<Map<string, string>> {
  const ids = [...new Set(lines.map((one) => one.pieceId))].filter((id) => id !== null);
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: piece.id, stateKey: piece.stateKey, revisionId: piece.workflowRevisionId })
    .from(piece)
    .where(inArray(piece.id, ids));
  const documents = await loadDocuments(
    db,
    rows.map((row) => row.revisionId),
  );
  return new Map(
    rows.flatMap(({ id, stateKey, revisionId }): [string, string][] => {
      const workflow = documents.get(revisionId);
      if (!workflow) return [];
      const stops = workflow.mainLine.includes(stateKey) ? workflow.mainLine : [stateKey];
      const names = stops.map((key) => {
        const { name } = stateOf(workflow, key);
        return key === stateKey ? `[${name}]` : name;
      });
      return [[id, names.join(" → ")]];
    }),
  );
}
