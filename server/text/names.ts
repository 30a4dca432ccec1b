import { and, inArray } from "drizzle-orm";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { type Names, referredTo } from "#core/text/values.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { piece } from "../db/schema/index.ts";
import type { PieceFile } from "../files/queries.ts";
import type { Viewer } from "../viewer.ts";

/** What the ids in contents stand for: the names of the piece's files, the titles of pieces the viewer may see. */
export async function namesIn(
  db: Queryable,
  viewer: Viewer,
  fields: readonly Field[],
  contents: readonly Content[],
  files: readonly PieceFile[],
): Promise<Names> {
  const ids = contents.flatMap((content) => referredTo(fields, content));
  const rows =
    ids.length === 0
      ? []
      : await db
          .select({ id: piece.id, name: piece.title })
          .from(piece)
          .where(and(visible(viewer), inArray(piece.id, ids)));
  return Object.fromEntries([...files, ...rows].map(({ id, name }) => [id, name]));
}
