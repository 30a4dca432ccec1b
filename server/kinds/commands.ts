import { and, asc, count, eq, isNull, sql } from "drizzle-orm";
import { kindChanged, kindDeleted, kindMade } from "#core/events/places.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Field } from "#core/text/field.ts";
import { freeKey } from "#core/words/keys.ts";
import { type Administering, administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { intakeItem, kind, piece, requestForm, version, workflowBinding } from "../db/schema/index.ts";
import type { Act } from "../write.ts";
import { type FieldGiven, readFields } from "./fields.ts";

const MOST_FIELDS = 60;

/** A kind of piece with its fields, and how many pieces are of it. */
export interface KindRow {
  id: string;
  key: string;
  name: string;
  fields: Field[];
  revision: number;
  pieces: number;
}

/** Every kind of piece, by name. */
export async function listKinds(db: Queryable): Promise<KindRow[]> {
  const [kinds, counts] = await Promise.all([
    db.select().from(kind).orderBy(asc(kind.name)),
    db.select({ id: piece.kindId, pieces: count() }).from(piece).where(isNull(piece.deletedAt)).groupBy(piece.kindId),
  ]);
  return kinds.map((row) => ({ ...row, pieces: counts.find((one) => one.id === row.id)?.pieces ?? 0 }));
}

/** Makes a kind with one field, the text. */
export function addKind(act: Act, name: string): Promise<Result<{ key: string }>> {
  return administering(act, "section.edit", async (change) => {
    const known = await change.tx.select({ key: kind.key, name: kind.name }).from(kind);
    if (known.some((one) => one.name.toLowerCase() === name.toLowerCase())) return refuse(TAKEN);
    const row = { id: newId(), key: freeKey(name, known, "kind"), name, fields: [TEXT] };
    await change.tx.insert(kind).values(row);
    change.happened(kindMade, { name }, { subjectId: row.id });
    return accept({ key: row.key });
  });
}

const TEXT: Field = { key: "body", name: "Text", type: "manuscript", required: true };

/** A kind as it is to be. */
export interface KindChange {
  key: string;
  name: string;
  fields: readonly FieldGiven[];
  revision: number;
}

/** Changes a kind's name, fields, guidance and limits. A field that holds words in some piece stays, and stays what it is. */
export function saveKind(act: Act, wanted: KindChange): Promise<Result<null>> {
  return administering(act, "section.edit", async (change) => {
    const found = await lockKind(change, wanted.key);
    if (!found.ok) return found;
    const before = found.value;
    if (before.revision !== wanted.revision)
      return refuse({
        code: "stale",
        sentence: `${before.name} was changed meanwhile. Look at it as it is now; what you wrote is still here.`,
      });
    const read = readFields(wanted.fields, { of: "A kind", least: 1, most: MOST_FIELDS });
    if (!read.ok) return read;
    const fields = read.value;
    for (const old of before.fields) {
      const kept = fields.find((field) => field.key === old.key);
      if (kept?.type === old.type) continue;
      const pieces = await holding(change, before.id, old.key);
      if (pieces > 0)
        return refuse({
          code: "in-use",
          sentence: `${old.name} holds words in ${pieces === 1 ? "one piece" : `${pieces} pieces`}, so it can be ${kept ? "made nothing else" : "taken out no more"}.`,
        });
    }
    const known = await change.tx.select({ id: kind.id, name: kind.name }).from(kind);
    if (known.some((one) => one.id !== before.id && one.name.toLowerCase() === wanted.name.toLowerCase()))
      return refuse(TAKEN);
    await change.tx
      .update(kind)
      .set({ name: wanted.name, fields, revision: before.revision + 1 })
      .where(eq(kind.id, before.id));
    change.happened(
      kindChanged,
      { name: wanted.name, fields },
      { subjectId: before.id, before: { name: before.name, fields: before.fields } },
    );
    return accept(null);
  });
}

/** Does away with a kind no piece is of. */
export function deleteKind(act: Act, key: string): Promise<Result<null>> {
  return administering(act, "section.edit", async (change) => {
    const found = await lockKind(change, key);
    if (!found.ok) return found;
    const { id, name } = found.value;
    const [used] = await change.tx.select({ pieces: count() }).from(piece).where(eq(piece.kindId, id));
    if (used?.pieces) return refuse({ code: "in-use", sentence: `${used.pieces} pieces are a ${name}; it stays.` });
    const [asked] = await change.tx.select({ forms: count() }).from(requestForm).where(eq(requestForm.kindId, id));
    const [came] = await change.tx.select({ things: count() }).from(intakeItem).where(eq(intakeItem.kindId, id));
    if (asked?.forms || came?.things)
      return refuse({ code: "in-use", sentence: `A ${name} is asked for by a form, or came in by one; it stays.` });
    await change.tx
      .delete(workflowBinding)
      .where(and(eq(workflowBinding.scope, "kind"), eq(workflowBinding.scopeId, id)));
    await change.tx.delete(kind).where(eq(kind.id, id));
    change.happened(kindDeleted, {}, { subjectId: id, before: { name } });
    return accept(null);
  });
}

const TAKEN = { code: "taken", field: "name", sentence: "There is a kind of that name." };

async function lockKind({ tx }: Administering, key: string): Promise<Result<typeof kind.$inferSelect>> {
  const [row] = await tx.select().from(kind).where(eq(kind.key, key)).for("update");
  return row ? accept(row) : refuse({ code: "not-found", sentence: "There is no such kind." });
}

/** How many pieces hold words in a field at present. */
async function holding({ tx }: Administering, kindId: string, key: string): Promise<number> {
  const words = sql`JSON_VALUE(${version.words}, ${`$."${key}"`})`;
  const [row] = await tx
    .select({ pieces: count() })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(and(eq(piece.kindId, kindId), isNull(piece.deletedAt), sql`${words} > 0`));
  return row?.pieces ?? 0;
}
