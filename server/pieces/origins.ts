import { and, asc, count, desc, eq } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { modelDropped, modelKept } from "#core/events/pieces.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { across } from "#core/text/across.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { type Administering, administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import { notGranted } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { kind, modelText, person, piece, pieceOrigin, version } from "../db/schema/index.ts";
import { text } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import type { Places } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, write } from "../write.ts";

/** What a piece begins from: a model text by its id, or another piece by its address. */
export type From = { modelId: string } | { slug: string };

/** What it brings, and where it is from. */
interface Brought {
  fields: Content["fields"];
  fromId: string | null;
  modelId: string | null;
  /** What it is called. */
  name: string;
}

/** What a new piece begins from, as far as its kind can hold it; of a piece that is out, what readers see. */
export async function originFor(
  { tx, actor, now }: Change,
  places: Places,
  from: From,
  into: { id: string; fields: readonly Field[] },
): Promise<Result<Brought>> {
  if ("modelId" in from) {
    const [model] = await tx.select().from(modelText).where(eq(modelText.id, from.modelId));
    if (!model || model.kindId !== into.id)
      return refuse({ code: "unknown-model", field: "modelId", sentence: "There is no such model text of this kind." });
    const { content, name, id: modelId } = model;
    return accept({ fields: across(into.fields, content, into.fields).fields, fromId: null, modelId, name });
  }
  const shown = {
    id: piece.id,
    title: piece.title,
    fields: kind.fields,
    live: piece.liveVersionId,
    now: piece.currentVersionId,
  };
  const [other] = await tx
    .select(shown)
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .where(and(eq(piece.slug, from.slug), actor ? visible({ ...actor, places, now }) : undefined));
  if (!other)
    return refuse({ code: "unknown-piece", field: "from", sentence: "There is no such piece to begin from." });
  const [words] = await tx
    .select({ content: version.content })
    .from(version)
    .where(eq(version.id, other.live ?? other.now ?? ""));
  const fields = words ? across(other.fields, words.content, into.fields).fields : {};
  return accept({ fields, fromId: other.id, modelId: null, name: other.title });
}

/** Keeps what a piece was begun from. */
export async function layOrigin({ tx }: Change, pieceId: string, { fromId, modelId }: Brought): Promise<void> {
  await tx.insert(pieceOrigin).values({ pieceId, fromId, modelId });
}

const source = alias(piece, "source");

/** What a piece was begun from and what was begun from it, as far as a viewer may see. */
export async function originsOf(db: Queryable, viewer: Viewer, pieceId: string) {
  const [from] = await db
    .select({ model: modelText.name, fromId: pieceOrigin.fromId })
    .from(pieceOrigin)
    .leftJoin(modelText, eq(modelText.id, pieceOrigin.modelId))
    .where(eq(pieceOrigin.pieceId, pieceId));
  const shown = { slug: piece.slug, title: piece.title, kind: kind.name };
  const [other] = from?.fromId
    ? await db
        .select(shown)
        .from(piece)
        .innerJoin(kind, eq(kind.id, piece.kindId))
        .where(and(eq(piece.id, from.fromId), visible(viewer)))
    : [];
  const became = await db
    .select(shown)
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(pieceOrigin, eq(pieceOrigin.pieceId, piece.id))
    .where(and(eq(pieceOrigin.fromId, pieceId), visible(viewer)))
    .orderBy(desc(piece.createdAt))
    .limit(20);
  return { model: from?.model ?? null, from: other ?? null, became };
}

export const keepModelInput = z.object({ pieceId: z.uuid(), name: text("Give it a name.", 80) });

/** Keeps what a piece holds now as a text others of its kind may begin from; of one name the later one stays. */
export function keepModel(act: Act, { pieceId, name }: z.output<typeof keepModelInput>): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const opened = await openPiece(change, pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const { tx, now } = change;
    if (!can(actor, "piece.route", facts.target, now).allowed)
      return notGranted(tx, "piece.route", facts.target, now, "No role of yours lets you keep model texts here.");
    const row = { content: { ...facts.version.content, title: "" }, pieceId, byId: actor.id, at: now };
    await tx
      .insert(modelText)
      .values({ id: newId(), kindId: facts.piece.kindId, name, ...row })
      .onDuplicateKeyUpdate({ set: row });
    change.happened(modelKept, { name }, { pieceId });
    return accept(null);
  });
}

export const dropModelInput = z.object({ modelId: z.uuid() });

/** Does away with a model text; what was begun from it stays as it is. */
export const dropModel = (act: Act, { modelId }: z.output<typeof dropModelInput>): Promise<Result<null>> =>
  administering(act, "section.edit", async ({ tx, happened }: Administering) => {
    const [row] = await tx.select().from(modelText).where(eq(modelText.id, modelId));
    if (!row) return refuse({ code: "not-found", sentence: "There is no such model text." });
    await tx.delete(modelText).where(eq(modelText.id, modelId));
    happened(modelDropped, { name: row.name }, { subjectId: row.kindId });
    return accept(null);
  });

/** The model texts of every kind, by name, each with whom it is of and how many pieces were begun from it. */
export function modelTexts(db: Queryable) {
  return db
    .select({
      id: modelText.id,
      kindId: modelText.kindId,
      name: modelText.name,
      by: person.name,
      at: modelText.at,
      slug: source.slug,
      uses: count(pieceOrigin.pieceId),
    })
    .from(modelText)
    .innerJoin(person, eq(person.id, modelText.byId))
    .leftJoin(source, eq(source.id, modelText.pieceId))
    .leftJoin(pieceOrigin, eq(pieceOrigin.modelId, modelText.id))
    .groupBy(modelText.id, person.name, source.slug)
    .orderBy(asc(modelText.name));
}

/** A piece another may begin from, as far as a viewer may see it; null where they may not. */
export async function sourceOf(db: Queryable, viewer: Viewer, slug: string) {
  const [row] = await db
    .select({ slug: piece.slug, title: piece.title })
    .from(piece)
    .where(and(eq(piece.slug, slug), visible(viewer)));
  return row ?? null;
}
