import mammoth from "mammoth";
import { everything, type Handed, handedOver } from "#server/editions/handing.ts";
import { releaseEdition } from "#server/editions/leaving.ts";
import { editionPage } from "#server/editions/page.ts";
import { correctedPiece } from "#server/editions/past.ts";
import { signEdition } from "#server/editions/signing.ts";
import { bulletin, editionAt, fill } from "../support/edition.ts";
import {
  accepted,
  approve,
  approved,
  begin,
  bindReview,
  MORNING,
  makeWorld,
  paragraph,
  save,
  send,
  type World,
} from "../support/world.ts";
import { unzipped } from "../support/zip.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
  await bulletin(world, { people: ["ilda"] });
});
afterAll(() => world.close());

const house = () => ({ db: world.db, files: world.files, baseUrl: "http://elenco.test" });

async function page(who = "ilda") {
  const viewer = await world.viewer(who);
  const found = await editionPage(world.db, viewer, "bulletin", 48, house());
  if (!found) throw new Error("no such edition");
  return { viewer, found };
}
async function take(form: Handed, who?: string): Promise<Buffer> {
  const { viewer, found } = await page(who);
  return Buffer.from(await handedOver(house(), viewer, found, form));
}
const STRANGE = "5 < 7 & *stars* _lines_ [brackets] <script>alert(1)</script> 水の道 é";

test("handed over in every form, in its order, with every word; what is not ready is named and left out", async () => {
  const [one, two] = [await approved(world, "A & B <i>", STRANGE), await approved(world, "Zwei")];
  const { id: late } = await begin(world, "Not yet");
  const { id: own } = await begin(world, "Ilda’s own", "ilda", MORNING, true);
  accepted(await fill(world, 48, [two], "ilda", { part: "lead" }));
  accepted(await fill(world, 48, [one, late, own]));
  const words = (await take("txt")).toString();
  expect(words).toContain("Bulletin 48\n===========");
  expect(words).toContain("Not in it: Not yet; Ilda’s own.");
  expect(words).toContain(STRANGE);
  expect(words.indexOf("LEAD")).toBeLessThan(words.indexOf("Zwei"));
  expect(words.indexOf("Zwei")).toBeLessThan(words.indexOf("NEWS"));
  // To who may not see it, it is not named.
  const theirs = (await take("txt", "wim")).toString();
  expect(theirs).toContain("one piece you may not see");
  expect(theirs).not.toContain("Ilda’s own");

  const html = (await take("html")).toString();
  expect(html).not.toMatch(/<script|<i>/);
  expect(html).toContain("&#60;script");
  expect((await take("md")).toString()).toContain("\\*stars\\*");
  const read = await mammoth.convertToHtml({ buffer: await take("docx") });
  expect(read.value).toContain("水の道");
  expect(read.value).not.toContain("<script");
  expect(read.value.indexOf("Zwei")).toBeLessThan(read.value.indexOf("A &amp; B &lt;i&gt;"));

  const { viewer, found } = await page();
  const stream = await everything(house(), viewer, found);
  const files = await unzipped(Buffer.from(await new Response(stream).arrayBuffer()));
  expect([...files.keys()].filter((name) => name.startsWith("pieces/"))).toEqual([
    expect.stringMatching(/^pieces\/001-zwei/),
    expect.stringMatching(/^pieces\/002-a-b/),
  ]);
  expect(JSON.parse(files.get("contents.json")?.toString() ?? "")).toMatchObject({
    format: "elenco.edition/1",
    edition: "Bulletin 48",
    pieces: [
      { part: "Lead", title: "Zwei" },
      { part: "News", title: "A & B <i>" },
    ],
  });
  expect(files.get("bulletin-48.txt")?.toString()).toBe(words);
});

test("gone out, it is handed over as it was, whatever became of its pieces; a corrected one is shown with what differs", async () => {
  const { id: editionId } = await editionAt(world, 48);
  const inIt = (await page()).found.contents?.items ?? [];
  const { takeOut } = await import("#server/editions/commands.ts");
  for (const item of inIt.filter((each) => each.holds.length > 0))
    accepted(await takeOut(world.act("ilda"), { editionId, pieceId: item.pieceId }));
  const on = async () => ({ editionId, revision: (await editionAt(world, 48)).revision });
  accepted(await signEdition(world.act("ilda"), await on()));
  const before = (await take("txt")).toString();
  expect(accepted(await releaseEdition(world.act("ilda"), await on()))).toBe("released");
  expect((await take("txt")).toString()).toBe(before);

  const zwei = inIt.find((each) => each.row.title === "Zwei")?.pieceId ?? "";
  accepted(await send(world, zwei, "tobia", "revise"));
  accepted(await save(world, zwei, "tobia", "The keys hang at the mill."));
  const { viewer } = await page();
  expect(await correctedPiece(world.db, viewer, editionId, zwei)).toBeNull();
  accepted(await send(world, zwei, "tobia", "send"));
  await approve(world, zwei);
  expect((await page()).found.out?.map((each) => each.corrected)).toEqual([true, false]);
  expect(await correctedPiece(world.db, viewer, editionId, zwei)).toMatchObject({
    before: { fields: { body: paragraph("The keys hang at the bus office.") } },
    after: { fields: { body: paragraph("The keys hang at the mill.") } },
  });
  expect((await take("txt")).toString()).toBe(before);
});
