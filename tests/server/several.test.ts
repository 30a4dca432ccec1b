import { writersFor } from "#server/pieces/commission.ts";
import { readSeveral, SEVERAL_MOST } from "#server/pieces/several.ts";
import { makeWorld, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

async function read(text: string, who = "ilda") {
  const viewer = await world.viewer(who);
  return readSeveral(text, viewer, await writersFor(world.db, viewer));
}
async function lines(text: string, who?: string) {
  const several = await read(text, who);
  if ("problem" in several) throw new Error(several.problem);
  return several.lines;
}

test.each<[string, string]>([
  ["with commas", "The bus,Bulletin item,Bulletin,Noor Castellan,3 Dec 17:30,Eighty words"],
  ["with semicolons", "The bus;bulletin-item;Bulletin;noor castellan;2026-12-03 17:30;Eighty words"],
  ["as a table is copied", "The bus\tBulletin item\tBulletin\tNoor Castellan\tThu 3 Dec 17:30\tEighty words"],
  [
    "in another order, named",
    "Writer;Title;Kind;Section;Brief;Wished\nNoor Castellan;The bus;Bulletin item;Bulletin;Eighty words;3 Dec 17:30",
  ],
  [
    "quoted, from a file",
    `\uFEFFtitle,kind,section,writer,wished,brief\r\n"The bus","Bulletin item","Bulletin","Noor Castellan","3 Dec 17:30","Eighty words"\r\n`,
  ],
])("a list %s is understood", async (_, text) => {
  expect(await lines(text)).toMatchObject([
    {
      problems: [],
      piece: {
        title: "The bus",
        kindId: world.id("kind bulletin-item"),
        sectionId: world.id("section bulletin"),
        publishAt: Date.parse("2026-12-03T16:30Z"),
        commission: { writerId: world.id("noor"), brief: "Eighty words" },
      },
    },
  ]);
});

test("who is named by nobody writes it themself, and need not be asked", async () => {
  const [line] = await lines("The bus;Bulletin item;Bulletin");
  expect(line?.piece).toMatchObject({ commission: null, publishAt: null });
  const [briefed] = await lines("The bus;Bulletin item;Bulletin;;;Short");
  expect(briefed?.piece?.commission).toEqual({ writerId: world.id("ilda"), brief: "Short" });
});

test.each<[string, string[]]>([
  [";Bulletin item;Bulletin", ["It needs a title."]],
  ["A;;Bulletin", ["It needs a kind."]],
  ["A;Poem;Bulletin", ["No kind of yours is called “Poem”."]],
  [
    "A;Bulletin item;Attic;Nobody",
    ["No section of yours is called “Attic”.", "No writer of yours is called “Nobody”."],
  ],
  ["A;Bulletin item;Bulletin;;one day", ["“one day” is no date."]],
])("what is amiss with %s is said", async (text, problems) => {
  expect(await lines(text)).toMatchObject([{ piece: null, problems }]);
});

test.each<[string, string, RegExp]>([
  ["nothing but a first line", "title;kind;section", /empty/],
  ["a column nobody knows", "title;colour\na;b", /called “colour”/],
  ["a quote that never ends", 'title;kind\n"a;b', /cannot be read/],
  ["too many lines", "a;b;c\n".repeat(SEVERAL_MOST + 1), /At most 100/],
])("%s is no list", async (_, text, problem) => {
  expect(await read(text)).toEqual({ problem: expect.stringMatching(problem) });
});

test("whoever may ask nobody names nobody", async () => {
  const [line] = await lines("A;Bulletin item;Bulletin;Noor Castellan", "tobia");
  expect(line?.problems).toEqual(["No writer of yours is called “Noor Castellan”."]);
});
