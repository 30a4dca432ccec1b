import { and, inArray } from "drizzle-orm";
import type { Grant } from "#core/access/decide.ts";
import type { Names } from "#core/access/explain.ts";
import { below, pathName } from "#core/sections/tree.ts";
import { sayDate } from "#core/time/words.ts";
import type { Queryable } from "../db/client.ts";
import { kind, piece } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { visible } from "./visible.ts";

/** How what grants speak of is called, for somebody who may not know every piece by its title. */
export async function namesFor(db: Queryable, viewer: Viewer, grants: readonly Grant[]): Promise<Names> {
  const ids = [...new Set(grants.flatMap(({ scope }) => (scope.kind === "piece" ? [scope.id] : [])))];
  const [kinds, pieces] = await Promise.all([
    db.select({ id: kind.id, name: kind.name }).from(kind),
    ids.length === 0
      ? []
      : db
          .select({ id: piece.id, title: piece.title })
          .from(piece)
          .where(and(visible(viewer), inArray(piece.id, ids))),
  ]);
  return {
    scope: ({ scope }) => {
      if (scope.kind === "publication") return "the whole publication";
      if (scope.kind === "kind")
        return `every ${kinds.find((one) => one.id === scope.id)?.name ?? "piece of one kind"}`;
      if (scope.kind === "piece") return `“${pieces.find((one) => one.id === scope.id)?.title ?? "one piece"}”`;
      if (!viewer.places.sections.has(scope.id)) return "a section that is gone";
      const wide = below(viewer.places, scope.id).length > 1;
      return `${pathName(viewer.places, scope.id)}${wide ? " and all below" : ""}`;
    },
    at: (instant) => sayDate(instant, viewer.zone, viewer.now),
  };
}
