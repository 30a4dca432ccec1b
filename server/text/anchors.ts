import { and, eq, isNotNull, sql } from "drizzle-orm";
import type { Anchor } from "#core/text/anchor.ts";
import { carry } from "#core/text/carry.ts";
import type { Content, Value } from "#core/text/fields.ts";
import type { Stretch } from "#core/text/survivors.ts";
import { groupBy } from "#core/words/group.ts";
import { thread } from "../db/schema/index.ts";
import type { Change } from "../write.ts";

/** What lasted of fields whose change is known exactly, by their key. */
export type Lasted = Readonly<Record<string, readonly Stretch[]>>;

/** Carries the remarks on a piece's words over a change of its text. */
export async function carryAnchors(
  { tx }: Change,
  pieceId: string,
  before: Content,
  after: Content,
  lasted: Lasted = {},
): Promise<void> {
  const standing = await tx
    .select({ id: thread.id, field: thread.field, anchor: thread.anchor })
    .from(thread)
    .where(and(eq(thread.pieceId, pieceId), isNotNull(thread.anchor), isNotNull(thread.field)));
  const moved: { id: string; anchor: Anchor }[] = [];
  for (const [key, here] of groupBy(standing, ({ field }) => field ?? "")) {
    const [was, now] = [fieldValue(before, key), fieldValue(after, key)];
    if (JSON.stringify(was) === JSON.stringify(now)) continue;
    const anchors = here.map(({ anchor }) => anchor as Anchor);
    carry(anchors, was, now, lasted[key]).forEach((anchor, i) => {
      const row = here[i];
      if (row && JSON.stringify(anchor) !== JSON.stringify(row.anchor)) moved.push({ id: row.id, anchor });
    });
  }
  if (moved.length === 0) return;
  const rows = JSON.stringify(moved.map(({ id, anchor }) => ({ id, anchor: JSON.stringify(anchor) })));
  // One statement however many moved: every word typed in front of them moves them all.
  await tx.execute(sql`UPDATE ${thread} INNER JOIN JSON_TABLE(${rows}, '$[*]' COLUMNS (
      moved CHAR(36) CHARACTER SET ascii COLLATE ascii_bin PATH '$.id', stands LONGTEXT PATH '$.anchor'
    )) AS carried ON ${thread.id} = carried.moved SET ${thread.anchor} = carried.stands`);
}

/** A field's value as remarks name it: the title is one of them. */
export const fieldValue = (content: Content, field: string): Value | undefined =>
  field === "title" ? content.title : content.fields[field];
