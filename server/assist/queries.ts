import { and, desc, eq, inArray, type SQL } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { whyNotAsk } from "#core/assist/asking.ts";
import { ERRANDS, lineFields, textField } from "#core/assist/errand.ts";
import type { Content } from "#core/text/fields.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { assistantErrand, person, piece } from "../db/schema/index.ts";
import { filesOf } from "../files/queries.ts";
import { loadFacts, type PieceFacts } from "../piece/facts.ts";
import { namesIn } from "../text/names.ts";
import type { Viewer } from "../viewer.ts";
import { sentBy } from "./commands.ts";
import { loadAssistant } from "./service.ts";

/** So many errands are listed, the latest. */
const LISTED = 30;

const ender = alias(person, "ender");

const listed = {
  id: assistantErrand.id,
  errand: assistantErrand.errand,
  name: assistantErrand.name,
  standing: assistantErrand.standing,
  at: assistantErrand.at,
  by: person.name,
  problem: assistantErrand.problem,
  cost: assistantErrand.cost,
  answeredAt: assistantErrand.answeredAt,
  endedBy: ender.name,
  endedAt: assistantErrand.endedAt,
};

const errandsWhere = (db: Queryable, condition: SQL | undefined) =>
  db
    .select({ ...listed, slug: piece.slug, title: piece.title })
    .from(assistantErrand)
    .innerJoin(piece, eq(piece.id, assistantErrand.pieceId))
    .innerJoin(person, eq(person.id, assistantErrand.byId))
    .leftJoin(ender, eq(ender.id, assistantErrand.endedById))
    .where(condition)
    .orderBy(desc(assistantErrand.at), desc(assistantErrand.id))
    .limit(LISTED);

/** What an assistant was sent for last, for pieces a viewer may see. */
export const errandsSeen = (db: Queryable, viewer: Viewer) => errandsWhere(db, visible(viewer));

/** Whether somebody may ask the assistant about a piece, and what of an assistant's is in it or waits to be looked at. */
export async function assistanceFor(db: Queryable, viewer: Viewer, facts: PieceFacts) {
  const here = eq(assistantErrand.pieceId, facts.piece.id);
  const [service, rows] = await Promise.all([
    loadAssistant(db),
    errandsWhere(db, and(here, inArray(assistantErrand.standing, ["brought", "taken"]))),
  ]);
  const open = whyNotAsk(service, viewer, facts, viewer.now) === null;
  return {
    name: service?.name ?? "",
    open,
    // What was not taken while the piece was being written is no question any more.
    waits: open ? rows.filter((one) => one.standing === "brought") : [],
    taken: rows.filter((one) => one.standing === "taken"),
  };
}

/**
 * A piece and what an assistant was sent for, for whoever may see the piece; null where there is none for them.
 *
 * @param errandId which one is looked at; null for the latest
 */
export async function assistPage(db: Queryable, viewer: Viewer, slug: string, errandId: string | null) {
  const facts = await loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)));
  if (!facts) return null;
  const { id } = facts.piece;
  const { fields } = facts.kind;
  const { content } = facts.version;
  const [service, rows, files, { sent, hash }] = await Promise.all([
    loadAssistant(db),
    errandsWhere(db, eq(assistantErrand.pieceId, id)),
    filesOf(db, id),
    sentBy(db, facts),
  ]);
  const closed = whyNotAsk(service, viewer, facts, viewer.now);
  const chosen = errandId === null ? rows[0] : rows.find((one) => one.id === errandId);
  if (errandId !== null && !chosen) return null;
  const [more] = chosen
    ? await db
        .select({ brought: assistantErrand.brought, body: assistantErrand.body })
        .from(assistantErrand)
        .where(eq(assistantErrand.id, chosen.id))
    : [];
  const into = textField(fields);
  const after: Content | null =
    more?.brought?.manuscript && into
      ? { ...content, fields: { ...content.fields, [into.key]: more.brought.manuscript } }
      : null;
  return {
    piece: { id, slug, title: facts.piece.title, hash: facts.version.hash, version: facts.version.number },
    assistant: service && { name: service.name, on: service.on },
    closed,
    errands: (Object.keys(ERRANDS) as (keyof typeof ERRANDS)[]).filter(
      (key) => into !== null || ERRANDS[key].brings !== "text",
    ),
    sent,
    shown: hash,
    rows,
    chosen: chosen ? { ...chosen, brought: more?.brought ?? null, body: more?.body ?? "" } : null,
    /** The text with what was brought in it, beside the text of now; null where it brought no text. */
    compared: after && into ? { fields: [into], before: content, after } : null,
    names: await namesIn(db, viewer, fields, after ? [content, after] : [content], files),
    lines: lineFields(fields).map(({ key, name }) => ({ id: key, name })),
  };
}
