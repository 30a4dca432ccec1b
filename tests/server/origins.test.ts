import { eq } from "drizzle-orm";
import { modelText, piece } from "#server/db/schema/index.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { deletePiece, erasePiece } from "#server/pieces/deleting.ts";
import { dropModel, keepModel, modelTexts, originsOf, sourceOf } from "#server/pieces/origins.ts";
import { withdrawPiece } from "#server/release/commands.ts";
import {
  accepted,
  approve,
  approved,
  begin,
  bindReview,
  codeOf,
  heard,
  look,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const beginFrom = (who: string, from: { modelId: string } | { slug: string }, kind = "bulletin-item") =>
  createPiece(world.act(who), {
    sectionId: world.id(kind === "bulletin-item" ? "section bulletin" : "section huts"),
    kindId: world.id(`kind ${kind}`),
    title: "Another",
    private: false,
    from,
  });
const words = async (id: string) => JSON.stringify((await look(world, id)).version.content.fields);
const slugOf = async (id: string) => (await look(world, id)).piece.slug;

test("a model text is kept from a piece, begun from by its kind alone, counted, and done away with", async () => {
  const { id } = await begin(world);
  accepted(await keepModel(world.act("ilda"), { pieceId: id, name: "A short item" }));
  accepted(await save(world, id, "tobia", "Other words by now."));
  accepted(await keepModel(world.act("ilda"), { pieceId: id, name: "A short item" }));
  const [model] = await modelTexts(world.db);
  expect(model).toMatchObject({ name: "A short item", by: "Ilda Marenzi", uses: 0 });
  const modelId = model?.id ?? "";
  const made = accepted(await beginFrom("noor", { modelId }));
  expect(await words(made.id)).toContain("Other words by now.");
  expect(await originsOf(world.db, await world.viewer("noor"), made.id)).toMatchObject({ model: "A short item" });
  expect((await modelTexts(world.db))[0]?.uses).toBe(1);
  expect(codeOf(await beginFrom("ilda", { modelId }, "hut-page"))).toBe("unknown-model");
  accepted(await dropModel(world.act("ilda"), { modelId }));
  expect(await originsOf(world.db, await world.viewer("noor"), made.id)).toMatchObject({ model: null });
  expect(await words(made.id)).toContain("Other words by now.");
});

test("another begins from a piece one may see, with what readers see of it; each leads to the other", async () => {
  const id = await approved(world, "The first");
  accepted(await send(world, id, "ilda", "release"));
  accepted(await send(world, id, "tobia", "revise"));
  accepted(await save(world, id, "tobia", "Not out yet."));
  const slug = await slugOf(id);
  expect(codeOf(await beginFrom("noor", { slug: "none" }))).toBe("unknown-piece");
  const made = accepted(await beginFrom("ilda", { slug }, "hut-page"));
  expect(await words(made.id)).toContain("The keys hang at the bus office.");
  expect(await words(made.id)).not.toContain("Not out yet.");
  const ilda = await world.viewer("ilda");
  expect(await originsOf(world.db, ilda, made.id)).toMatchObject({ from: { slug, title: "The first" } });
  expect((await originsOf(world.db, ilda, id)).became).toMatchObject([{ title: "Another" }]);
  // Who may not see the one is not led to it.
  expect((await originsOf(world.db, await world.viewer("tobia"), id)).became).toEqual([]);
  expect(await sourceOf(world.db, ilda, slug)).toMatchObject({ title: "The first" });
  const hidden = await begin(world, "Private", "tobia", undefined, true);
  expect(codeOf(await beginFrom("noor", { slug: hidden.slug }))).toBe("unknown-piece");
});

test("whose piece was begun from another is told when that is corrected, and when it is withdrawn", async () => {
  const id = await approved(world, "The first");
  accepted(await send(world, id, "ilda", "release"));
  accepted(await beginFrom("ilda", { slug: await slugOf(id) }));
  accepted(await send(world, id, "tobia", "revise"));
  accepted(await save(world, id, "tobia", "The keys hang elsewhere."));
  accepted(await send(world, id, "tobia", "send"));
  await approve(world, id);
  accepted(await send(world, id, "kai", "release").then((one) => (one.ok ? one : send(world, id, "ilda", "release"))));
  const { piece: row } = await look(world, id);
  const away = { pieceId: id, revision: row.revision, note: "Wrong.", notice: "Withdrawn." };
  accepted(await withdrawPiece(world.act("kai"), away));
  const said = (await heard(world, "ilda")).map((one) => one.headline);
  expect(said).toContain("“The first” was taken from readers: your “Another” was begun from it");
});

test("the model texts of an erased piece go with its words", async () => {
  const { id } = await begin(world);
  accepted(await keepModel(world.act("ilda"), { pieceId: id, name: "Secret" }));
  const revision = async () => {
    const [row] = await world.db.select().from(piece).where(eq(piece.id, id));
    return { pieceId: id, revision: row?.revision ?? 0 };
  };
  accepted(await deletePiece(world.act("ilda"), { ...(await revision()), note: "Gone." }));
  accepted(await erasePiece(world.act("ilda"), { ...(await revision()), note: "Asked to." }));
  expect(await world.db.select().from(modelText)).toEqual([]);
});
