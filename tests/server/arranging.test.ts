import { eq } from "drizzle-orm";
import { lineage } from "#core/sections/tree.ts";
import type { Field } from "#core/text/field.ts";
import { kind, ledger, section } from "#server/db/schema/index.ts";
import { addKind, deleteKind, listKinds, saveKind } from "#server/kinds/commands.ts";
import { exportLedger, readLedger } from "#server/ledger/queries.ts";
import { addSection, deleteSection, moveSection, previewMove, renameSection } from "#server/sections/commands.ts";
import { accepted, begin, bindReview, codeOf, DAY, MORNING, makeWorld, send, type World } from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const of = (key: string) => world.id(`section ${key}`);
const move = (key: string, under: string | null, more: { revision?: number; position?: number; by?: string } = {}) =>
  moveSection(world.act(more.by ?? "ilda"), {
    id: of(key),
    parentId: under && of(under),
    position: more.position ?? 0,
    revision: more.revision ?? 1,
  });

test("a section moved: what that changes is known before, and holds after", async () => {
  const viewer = await world.viewer("ilda");
  const preview = await previewMove(world.db, viewer, { id: of("winter"), parentId: of("magazine") });
  expect(preview).toMatchObject({
    workflows: [{ section: "Winter", before: "Route guide", after: "Magazine feature" }],
    gains: ["Dario Lunt (Section lead)"],
    loses: ["Sefa Okonro (Section lead)"],
    refused: null,
  });
  accepted(await move("winter", "magazine", { position: 1 }));
  const { places } = await world.viewer("ilda");
  expect(lineage(places, of("winter")).map((one) => one.key)).toEqual(["winter", "magazine"]);
  const beside = [...places.sections.values()].filter((one) => one.parentId === of("magazine"));
  expect(beside.map((one) => one.key)).toEqual(["features", "winter", "columns"]);
});

test("a section never goes under itself, also when two are moved at once; stale and forged moves are refused", async () => {
  expect(codeOf(await move("routes", "routes"))).toBe("under-itself");
  expect(codeOf(await move("routes", "winter"))).toBe("under-itself");
  expect(
    (await previewMove(world.db, await world.viewer("ilda"), { id: of("routes"), parentId: of("winter") }))?.refused,
  ).toContain("cannot go under itself");
  expect(codeOf(await move("winter", "huts", { revision: 7 }))).toBe("stale");
  expect(codeOf(await move("winter", "huts", { by: "sefa" }))).toBe("not-granted");
  const both = await Promise.all([move("huts", "safety"), move("safety", "huts")]);
  expect(both.filter((one) => one.ok)).toHaveLength(1);
});

test("sections are added, renamed, and taken away only when they hold nothing", async () => {
  const act = world.act("ilda");
  const { id } = accepted(await addSection(act, { name: "Ferrata", parentId: of("routes") }));
  expect(codeOf(await addSection(act, { name: "ferrata", parentId: of("routes") }))).toBe("taken");
  accepted(await renameSection(act, { id, name: "Via ferrata", revision: 1 }));
  expect(codeOf(await renameSection(act, { id, name: "Old", revision: 1 }))).toBe("stale");
  expect(codeOf(await deleteSection(act, { id: of("routes"), revision: 1 }))).toBe("in-use");
  accepted(await deleteSection(act, { id, revision: 2 }));
  expect(await world.db.select().from(section).where(eq(section.id, id))).toEqual([]);
  expect(codeOf(await addSection(world.act("sefa"), { name: "Mine", parentId: of("routes") }))).toBe("not-granted");
});

test("a kind's fields: added and limited; one that holds words stays what it is", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  await begin(world);
  const item = async () =>
    (await listKinds(world.db)).find((one) => one.key === "bulletin-item") as Awaited<
      ReturnType<typeof listKinds>
    >[number];
  const save = async (fields: Partial<Field>[], revision?: number) => {
    const { name, revision: present } = await item();
    return saveKind(world.act("ilda"), {
      key: "bulletin-item",
      name,
      fields: fields as Field[],
      revision: revision ?? present,
    });
  };
  const body = (await item()).fields[0] as Field;
  const place = { key: "", name: "Where it is", type: "line" as const, required: true };
  accepted(await save([body, place]));
  expect((await item()).fields.map((field) => field.key)).toEqual(["body", "where-it-is"]);
  expect(codeOf(await save([place]))).toBe("in-use");
  expect(codeOf(await save([{ ...body, type: "line" }]))).toBe("in-use");
  accepted(await save([body]));
  expect(codeOf(await save([body], 1))).toBe("stale");
  for (const wrong of [
    [],
    [body, body],
    [{ ...body, minWords: 9, maxWords: 3 }],
    [{ ...place, name: "" }],
    [{ ...body, maxWords: 0.5 }],
  ])
    expect(codeOf(await save(wrong))).toBe("bad-fields");
});

test("kinds are made with a text, and done away with while nothing is of them", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  await begin(world);
  const act = world.act("ilda");
  const { key } = accepted(await addKind(act, "Letter"));
  expect((await world.db.select().from(kind).where(eq(kind.key, key)))[0]?.fields).toHaveLength(1);
  expect(codeOf(await addKind(act, "LETTER"))).toBe("taken");
  expect(codeOf(await deleteKind(act, "bulletin-item"))).toBe("in-use");
  accepted(await deleteKind(act, key));
  expect(codeOf(await addKind(world.act("dario"), "Mine"))).toBe("not-granted");
});

test("the record: by person, piece, action and period; nobody's private draft shows in it", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { slug, id } = await begin(world, "On record");
  await begin(world, "A secret draft", "noor", MORNING, true);
  accepted(await send(world, id, "tobia", "send", { now: MORNING + DAY }));
  accepted(await addSection(world.act("ilda"), { name: "Ferrata", parentId: null }));
  const read = async (filter: Parameters<typeof readLedger>[2], who = "ilda") =>
    (await readLedger(world.db, await world.viewer(who), filter)).rows;
  expect((await read({ piece: slug })).map((row) => row.action)).toEqual(
    ["round.opened", "piece.moved", "version.saved", "piece.created"].filter((action) => action !== "version.saved"),
  );
  expect(
    (await read({ person: "tobia" })).every((row) => row.who === "Tobia Rensk" || row.subject === "Tobia Rensk"),
  ).toBe(true);
  expect((await read({ action: "section." })).map((row) => [row.who, row.words, row.subject])).toEqual([
    ["Ilda Marenzi", "made the section", "Ferrata"],
  ]);
  expect((await read({ from: MORNING + DAY })).map((row) => row.action)).toEqual(["round.opened", "piece.moved"]);
  expect((await read({ until: MORNING })).every((row) => row.at < MORNING)).toBe(true);
  expect(JSON.stringify(await read({}))).not.toContain("secret draft");
  expect(JSON.stringify(await read({}, "noor"))).toContain("A secret draft");
  expect(await read({ action: "%" })).toEqual([]);
});

test("the record's pages and its file hold every entry once", async () => {
  for (let i = 0; i < 60; i++) accepted(await addSection(world.act("ilda"), { name: `Section ${i}`, parentId: null }));
  const viewer = await world.viewer("ilda");
  const first = await readLedger(world.db, viewer, { action: "section.made" });
  const second = await readLedger(world.db, viewer, { action: "section.made", before: first.next ?? 0 });
  const numbers = [...first.rows, ...second.rows].map((row) => row.seq);
  expect([new Set(numbers).size, second.next]).toEqual([60, null]);
  let exported = 0;
  for await (const batch of exportLedger(world.db, viewer, {})) exported += batch.length;
  expect(exported).toBe((await world.db.select().from(ledger)).length);
});
