import { newId } from "#server/db/schema/columns.ts";
import { piece, stay, version } from "#server/db/schema/index.ts";
import { approved, look, MORNING, type World } from "./world.ts";

/** Copies of one approved piece of the Bulletin, whose review is Wim's: as many as are asked for. */
export async function layCopies(world: World, many: number): Promise<{ pieceId: string; versionId: string }[]> {
  const model = await look(world, await approved(world, "One of many"));
  const copies = Array.from({ length: many }, () => ({ pieceId: newId(), versionId: newId() }));
  await world.db
    .insert(version)
    .values(copies.map((copy) => ({ ...model.version, id: copy.versionId, pieceId: copy.pieceId })));
  await world.db.insert(piece).values(
    copies.map((copy) => ({
      ...model.piece,
      id: copy.pieceId,
      slug: `copy-${copy.pieceId}`,
      currentVersionId: copy.versionId,
      approvedVersionId: copy.versionId,
    })),
  );
  await world.db.insert(stay).values(
    copies.map((copy) => ({
      id: newId(),
      pieceId: copy.pieceId,
      stateKey: "ready",
      workflowRevisionId: model.piece.workflowRevisionId,
      sectionId: model.piece.sectionId,
      kindId: model.piece.kindId,
      arrivedAt: MORNING,
      note: "",
    })),
  );
  return copies;
}
