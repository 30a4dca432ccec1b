import { and, asc, eq, inArray } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { CATALOGUE } from "#core/events/catalogue.ts";
import { ASKS, type Asks, asks } from "#core/events/event.ts";
import { escapeHtml } from "#core/text/html.ts";
import { groupBy } from "#core/words/group.ts";
import { counted } from "#core/words/say.ts";
import { stateOf } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import type { Database, Queryable } from "../db/client.ts";
import { ledger, notice, outbox, person, piece, seat } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import { leadOf, wordsOf } from "./words.ts";

/** A message as it leaves. */
export interface Words {
  subject: string;
  text: string;
  html: string;
}

interface Line {
  headline: string;
  note: string;
  lines: string[];
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
  { id, personId, digest }: Pick<typeof outbox.$inferSelect, "id" | "personId" | "digest">,
  baseUrl: string,
  now: number,
): Promise<Words | null> {
  const viewer = personId ? await loadViewer(db, personId, now) : null;
  if (!viewer) return null;
  const lines = await linesOf(db, viewer, id);
  const [first] = lines.toSorted((a, b) => ASKS.indexOf(a.asks) - ASKS.indexOf(b.asks));
  if (!first) return null;
  const subject =
    lines.length === 1
      ? first.headline
      : digest
        ? `${viewer.places.name}: ${counted(lines.length, "thing")} since the last time`
        : `${first.headline}, and ${counted(lines.length - 1, "thing")} more`;
  const ways = await waysOf(db, lines);
  const groups = [...groupBy(lines, (one) => one.pieceId ?? one.lead).values()];
  const settings = `${baseUrl}/notices/how`;
  const text = groups.flatMap((group) => [
    ...group.flatMap(({ headline, note, lines: more }) => [
      `${headline}.`,
      "",
      ...(note ? [`"${note}"`, ""] : []),
      ...(more.length > 0 ? [...more, ""] : []),
    ]),
    ...wayIn(group, ways, (way) => [way, ""]),
    `${baseUrl}${group.at(-1)?.lead ?? ""}`,
    "",
  ]);
  const html = groups.map((group) => {
    const said = group.map(
      ({ headline, note, lines: more }) =>
        `<p><b>${escapeHtml(headline)}.</b></p>${note ? `<blockquote>${breaks(note)}</blockquote>` : ""}${more.map((line) => `<p>${breaks(line)}</p>`).join("")}`,
    );
    const way = wayIn(group, ways, (one) => [`<p style="color:#6b7280">${escapeHtml(one)}</p>`]).join("");
    const address = escapeHtml(`${baseUrl}${group.at(-1)?.lead ?? ""}`);
    return `${said.join("")}${way}<p><a href="${address}">${address}</a></p>`;
  });
  return {
    subject,
    text: [...text, "--", `How you are told: ${settings}`, ""].join("\n"),
    html: `${html.join("<hr>")}<p style="color:#6b7280">How you are told: <a href="${escapeHtml(settings)}">${escapeHtml(settings)}</a></p>`,
  };
}

const breaks = (words: string) => escapeHtml(words).replaceAll("\n", "<br>");

const wayIn = (group: readonly Line[], ways: ReadonlyMap<string, string>, say: (way: string) => string[]) => {
  const way = ways.get(group[0]?.pieceId ?? "");
  return way ? say(way) : [];
};

async function linesOf(db: Queryable, viewer: Viewer, messageId: string): Promise<Line[]> {
  const [message] = await db.select({ route: outbox.route }).from(outbox).where(eq(outbox.id, messageId));
  const along = message?.route === "chat" ? notice.chatId : notice.mailId;
  const actor = alias(person, "actor");
  const rows = await db
    .select({
      event: ledger.action,
      part: notice.part,
      payload: ledger.after,
      subject: ledger.subjectId,
      params: notice.params,
      said: notice.said,
      actor: actor.name,
      readAt: notice.readAt,
      pieceId: notice.pieceId,
      slug: piece.slug,
      title: piece.title,
    })
    .from(notice)
    .leftJoin(ledger, eq(ledger.seq, notice.seq))
    .leftJoin(actor, eq(actor.id, ledger.actorId))
    .leftJoin(piece, and(eq(piece.id, notice.pieceId), visible(viewer)))
    .where(eq(along, messageId))
    .orderBy(asc(notice.at), asc(notice.seq));
  const unread = rows.filter((row) => row.readAt === null);
  const decisions = await decisionsOpen(
    db,
    viewer,
    unread.map((row) => row.pieceId),
  );
  return unread.flatMap((row) => {
    const telling = CATALOGUE.get(row.event ?? "")?.tells[row.part];
    const asked = telling ? asks(telling, row.payload ?? {}) : "look";
    if (asked === "decision" && row.pieceId && !decisions.has(row.pieceId)) return [];
    const words = wordsOf(row, viewer.zone, viewer.now);
    return { ...words, lead: leadOf(row.event, row.slug, row.subject), pieceId: row.slug && row.pieceId, asks: asked };
  });
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
