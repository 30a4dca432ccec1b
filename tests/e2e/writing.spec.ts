import { readFileSync } from "node:fs";
import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { beginItem, choose, leave, saved, signIn, write } from "./person.ts";

test.describe.configure({ mode: "serial" });

let mina: Page;
let ilda: Page;
let address: string;

test.beforeAll(async ({ browser }) => {
  mina = await signIn(browser, "Mina Tauberg");
  ilda = await signIn(browser, "Ilda Marenzi");
});

/** Where the managing editor may write too, whatever other tests did to the Bulletin. */
const SECTION = "Safety";
const item = (page: Page) => page.getByRole("textbox", { name: "Item" });

/** Puts HTML on the clipboard of the page and pastes it, as a browser does. */
async function paste(page: Page, html: string): Promise<void> {
  await item(page).evaluate((element, source) => {
    const data = new DataTransfer();
    data.setData("text/html", source);
    element.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
  }, html);
}

test("what is pasted keeps its structure, loses its dress, and what could not be kept is said", async () => {
  address = await beginItem(mina, "Pasted from elsewhere");
  await item(mina).click();
  await paste(
    mina,
    `<html><body><!--StartFragment--><h2 style="color:teal">Ways up</h2><p class=MsoNormal>By <b>bus</b>, or
     <a href="https://bus.example" onclick="x()">on foot</a>.<o:p></o:p></p><script>evil()</script>
     <p class=MsoListParagraph style='mso-list:l0 level1 lfo1'><span style='mso-list:Ignore'>·</span>first</p>
     <p class=MsoListParagraph style='mso-list:l0 level1 lfo1'><span style='mso-list:Ignore'>·</span>second</p>
     <iframe src="https://x.example"></iframe><!--EndFragment--></body></html>`,
  );
  await expect(item(mina).getByRole("heading", { name: "Ways up" })).toBeVisible();
  await expect(item(mina).getByRole("listitem")).toHaveText(["first", "second"]);
  await expect(item(mina).locator("strong")).toHaveText("bus");
  await expect(item(mina).locator("script, iframe, [style*=color], [onclick]")).toHaveCount(0);
  await expect(mina.getByText("A frame, film or sound was left out.")).toBeVisible();
  await saved(mina);
  await accessible(mina);
});

test("words are found and replaced with the keyboard alone, and signs put in", async () => {
  await item(mina).click();
  await mina.keyboard.press("Control+f");
  await expect(mina.getByLabel("Find in the text")).toBeFocused();
  await mina.keyboard.type("first");
  await expect(mina.getByText("1 place")).toBeVisible();
  await mina.getByLabel("Put in its place").fill("at the mill");
  await mina.getByRole("search").getByRole("button", { name: "All" }).press("Enter");
  await expect(item(mina).getByRole("listitem").first()).toHaveText("at the mill");
  await mina.getByLabel("Find in the text").press("Escape");
  await expect(mina.getByLabel("Find in the text")).toHaveCount(0);
  await mina.keyboard.press("Control+End");
  await mina.getByRole("button", { name: "Signs" }).click();
  await mina.getByRole("button", { name: "degree", exact: true }).click();
  await expect(item(mina)).toContainText("°");
  await saved(mina);
});

test("what was written can be undone after a reload", async () => {
  const before = await item(mina).textContent();
  await write(mina, " One sentence too many.");
  await mina.reload();
  await expect(item(mina)).toContainText("One sentence too many.");
  await item(mina).click();
  await mina.keyboard.press("Control+z");
  await expect(item(mina)).toHaveText(before ?? "");
  await saved(mina);
  await mina.keyboard.press("Control+Shift+z");
  await expect(item(mina)).toContainText("One sentence too many.");
  await saved(mina);
});

test("counts go along with the typing, and a title too long says so, is kept here, and not saved", async () => {
  const limit = mina.getByText(/\d+ of 90 words/);
  const words = async () => Number((await limit.textContent())?.match(/^\d+/)?.[0]);
  const before = await words();
  await write(mina, " two more");
  expect(await words()).toBe(before + 2);
  const title = mina.getByRole("textbox", { name: "Title" });
  await title.fill("x".repeat(5_000));
  await expect(mina.getByText("4800 characters too many: a title has at most 200.")).toBeVisible();
  await expect(mina.getByRole("alert")).toContainText("The title is longer than 200 characters.");
  await mina.reload();
  await expect(title).toHaveValue("x".repeat(5_000));
  await title.fill("Pasted from elsewhere");
  await saved(mina);
});

test("right-to-left words, emoji and a pasted megabyte arrive whole", async () => {
  await write(mina, " مسار جبلي 👩‍👩‍👧");
  const other = await beginItem(mina, "A megabyte");
  await item(mina).click();
  const text = "Eighty thousand words about snow and the ridge. ".repeat(21_000);
  await item(mina).evaluate((element, source) => {
    const data = new DataTransfer();
    data.setData("text/plain", source);
    element.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);
  await expect(mina.getByText("168000 of 90 words")).toBeVisible({ timeout: 30_000 });
  await expect(mina.locator("p", { hasText: /version 2 · saved/ })).toBeVisible({ timeout: 30_000 });
  await mina.goto(address);
  await expect(item(mina)).toContainText("مسار جبلي 👩‍👩‍👧");
  expect(other).not.toBe(address);
});

test("two people, one text: the second reads along, takes over, and the first is told and loses nothing", async () => {
  address = await beginItem(mina, "Handed to and fro", SECTION);
  await write(mina, "The path starts behind the mill.");
  await ilda.goto(address);
  await expect(ilda.getByText("Mina Tauberg writes in this text")).toBeVisible();
  await write(mina, " It is steep.");
  await expect(ilda.getByText("The path starts behind the mill. It is steep.")).toBeVisible();
  await ilda.getByRole("button", { name: "Take over" }).press("Enter");
  await write(ilda, " It ends at the hut.");
  await expect(mina.getByText("Ilda Marenzi writes in this text")).toBeVisible();
  await expect(mina.getByText("It is steep. It ends at the hut.")).toBeVisible();
  await write(ilda, " Bring water.");
  await expect(mina.getByText("It ends at the hut. Bring water.")).toBeVisible();
  await mina.goto("/notices");
  await expect(mina.getByText(/Ilda Marenzi took over the text of “Handed to and fro”/)).toBeVisible();
});

test("versions: who, when, how much; any two compared, in one and side by side; a sentence found again", async () => {
  await ilda.getByRole("link", { name: "Compare, find, bring back" }).click();
  const list = ilda.getByRole("list", { name: "Versions", exact: true });
  await expect(list.getByRole("listitem").first()).toContainText("Ilda Marenzi");
  await ilda.getByRole("radio", { name: "Old: version 2" }).check();
  const compare = ilda.getByRole("button", { name: "Compare the two" });
  await compare.press("Enter");
  const comparison = ilda.getByRole("region", { name: "Comparison" });
  await expect(comparison.locator("ins")).toHaveText(" It is steep. It ends at the hut. Bring water.");
  await expect(comparison).toContainText("10 words came, 0 went");
  await expect(compare).toBeFocused();
  const errors: string[] = [];
  ilda.on("pageerror", (error) => errors.push(String(error)));
  await ilda.reload();
  await expect(comparison).toContainText("10 words came, 0 went");
  expect(errors).toEqual([]);
  await comparison.getByRole("link", { name: "side by side" }).click();
  await expect(comparison.getByText("The path starts behind the mill.")).toHaveCount(2);
  await accessible(ilda);

  await ilda.getByRole("link", { name: "since the one before" }).click();
  await expect(comparison).not.toContainText("10 words came, 0 went");
  await expect(ilda.getByRole("radio", { name: "Old: version 3" })).toBeChecked();
  await ilda.goBack();
  await expect(ilda.getByRole("radio", { name: "Old: version 2" })).toBeChecked();

  await ilda.getByLabel("Words that once stood here").fill("ends at the hut");
  await ilda.getByRole("button", { name: "Find" }).click();
  await expect(ilda.getByRole("list", { name: "Found" })).toContainText("version 4, still there");
  await ilda.getByLabel("Words that once stood here").fill("never written");
  await ilda.getByRole("button", { name: "Find" }).click();
  await expect(ilda.getByText("“never written” never stood here.")).toBeVisible();
});

test("the preview at each width, the teaser and the feed; and the piece taken along comes back unchanged", async () => {
  await mina.goto(address);
  await mina.getByRole("link", { name: "preview", exact: true }).click();
  await expect(mina).toHaveURL(/preview/);
  const article = mina.getByRole("article");
  await expect(article).toContainText("The path starts behind the mill.");
  const width = async () => (await article.boundingBox())?.width ?? 0;
  await expect.poll(width).toBeGreaterThan(360);
  await mina.getByRole("link", { name: "telephone" }).press("Enter");
  await expect.poll(width).toBeLessThan(360);
  await mina.getByRole("link", { name: "list" }).click();
  await expect(mina.getByRole("heading", { name: "Handed to and fro" })).toBeVisible();
  await mina.getByRole("link", { name: "feed" }).click();
  await expect(mina.getByText("none: readers of the feed see the title alone")).toBeVisible();
  await accessible(mina);
  await mina.goto(address);
  await mina.getByRole("link", { name: "take along" }).click();
  const take = async (name: string) => {
    const [download] = await Promise.all([mina.waitForEvent("download"), mina.getByRole("link", { name }).click()]);
    return readFileSync(await download.path());
  };
  const markdown = await take("Markdown, which comes back unchanged");
  const document = await take("A document (DOCX)");
  await mina.goto("/pieces/new");
  await choose(mina.getByLabel("Kind"), "Bulletin item");
  await choose(mina.getByLabel("Section"), "Bulletin");
  await mina.getByLabel("Start from files").setInputFiles([
    { name: "again.md", mimeType: "text/markdown", buffer: markdown },
    { name: "again.docx", mimeType: "application/octet-stream", buffer: document },
    {
      name: "page.html",
      mimeType: "text/html",
      buffer: Buffer.from("<h1>From a page</h1><p>Words.</p><iframe src=x></iframe>"),
    },
    { name: "program.md", mimeType: "text/markdown", buffer: Buffer.from([0x7f, 0x45, 0x4c, 0x46, 0xff, 0x00]) },
  ]);
  await mina.getByRole("button", { name: "Begin" }).click();
  await expect(mina.getByRole("heading", { name: "3 of 4 files became drafts" })).toBeVisible();
  const files = mina.getByRole("list", { name: "Files" }).getByRole("listitem");
  await expect(files.nth(2)).toContainText("A frame, film or sound was left out.");
  await expect(files.nth(3)).toContainText("neither a DOCX document nor a text in UTF-8");
  await accessible(mina);
  await files.nth(1).getByRole("link").click();
  await expect(mina.getByRole("textbox", { name: "Title" })).toHaveValue("Handed to and fro");
  await expect(item(mina)).toContainText("It ends at the hut. Bring water.");
});

test("a file too large is said before it is sent", async () => {
  await mina.goto("/pieces/new");
  await mina.getByLabel("Title").fill("Kept while choosing");
  const large = { name: "large.docx", mimeType: "application/octet-stream", buffer: Buffer.alloc(30_000_000) };
  await mina.getByLabel("Start from files").setInputFiles(large);
  await expect(mina.getByText("large.docx has 30 MB; a file of at most 10 MB is taken.")).toBeVisible();
  await expect(mina.getByRole("button", { name: "Begin" })).toBeDisabled();
  await expect(mina.getByLabel("Title")).toHaveValue("Kept while choosing");
});

test("a revision is given up: the piece is live as before", async () => {
  await mina.goto("/pieces?show=live&state=draft&author=mina");
  await mina.getByRole("list", { name: "Pieces" }).getByRole("link").first().click();
  await expect(mina.getByText(/A revision: readers go on seeing version \d+/)).toBeVisible();
  await mina.getByRole("link", { name: "give it up" }).click();
  await mina.getByLabel("Note").fill("The bridge stays closed.");
  await mina.getByRole("button", { name: "Give it up" }).click();
  await expect(mina.getByText(/^Live since/)).toBeVisible();
  await expect(mina.getByRole("region", { name: "Passage" })).toContainText("gave the revision up");
});

test("a version gets a name; an earlier one comes back as a new one", async () => {
  await ilda.getByRole("link", { name: "Name version 2" }).click();
  await ilda.getByLabel("Name of version 2").fill("As it was sent");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByText("“As it was sent”")).toBeVisible();
  await ilda.goto(`${address}/versions?from=2&to=4`);
  await ilda.getByRole("button", { name: "Bring version 2 back" }).click();
  await expect(ilda.getByRole("region", { name: "Comparison" })).toContainText("nothing differs");
  await expect(ilda.getByRole("list", { name: "Versions", exact: true })).toContainText("“from version 2”");
  await ilda.goto(address);
  await expect(item(ilda)).toHaveText("The path starts behind the mill.");
});

test("typed without a connection while the text went on: other paragraphs are brought together, the same one is a choice", async ({
  browser,
}) => {
  const page = await signIn(browser, "Mina Tauberg");
  const where = await beginItem(page, "On the train", SECTION);
  await write(page, "One.");
  await page.keyboard.press("Enter");
  await write(page, "Two.");
  await page.route("**/text", (route) => route.abort());
  await page.keyboard.type(" Typed on the train.");
  await expect(page.getByText("not saved: no connection, kept here")).toBeVisible();
  const change = async (at: "Home" | "End", words: string) => {
    await ilda.goto(where);
    await ilda.getByRole("button", { name: "Take over" }).click();
    await item(ilda).getByText("One.").click();
    await ilda.keyboard.press(at);
    await ilda.keyboard.type(words);
    await saved(ilda);
  };
  await change("Home", "Number ");
  await page.unroute("**/text");
  await page.getByRole("button", { name: "Take it back, and bring both together" }).click();
  await saved(page);
  await expect(item(page)).toContainText("Number One.");
  await expect(item(page)).toContainText("Two. Typed on the train.");

  await page.route("**/text", (route) => route.abort());
  await item(page).getByText("One.").click();
  await page.keyboard.press("End");
  await page.keyboard.type(" Mine.");
  await expect(page.getByText("not saved: no connection, kept here")).toBeVisible();
  await change("End", " Theirs.");
  await page.unroute("**/text");
  await page.getByRole("button", { name: "Take it back, and bring both together" }).click();
  const apart = page.getByRole("region", { name: "Two texts" });
  await expect(apart.getByRole("alert")).toContainText("both of you changed the same place");
  await expect(apart.locator(".compared del")).toContainText("Theirs");
  await expect(apart.locator(".compared ins")).toContainText("Mine");
  await accessible(page);
  await apart.getByRole("button", { name: "Go on with theirs" }).click();
  await saved(page);
  await expect(item(page)).toContainText("Number One. Theirs.");
  await page.goto(`${where}/versions`);
  await expect(page.getByText("“set aside”")).toBeVisible();
  await leave(page);
});
