import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { choose, leave, seen, signIn } from "./person.ts";

let ilda: Page;
let tobia: Page;
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
  tobia = await signIn(browser, "Tobia Rensk");
});

/** Fills the form of a new piece; `more` what else. */
async function fill(page: Page, title: string): Promise<void> {
  await page.goto("/pieces/new");
  await choose(page.getByLabel("Kind"), "Bulletin item");
  await choose(page.getByLabel("Section"), "Bulletin");
  await page.getByLabel("Title").fill(title);
}

test("before a piece is begun its line is shown, with what the date wished for means for each stop", async () => {
  await fill(tobia, "The ski bus at New Year");
  const line = tobia.getByRole("region", { name: /^The line it travels: / });
  await expect(line.getByRole("listitem").first()).toContainText("Draft");
  await expect(line.getByRole("listitem").nth(1)).toContainText("about");
  const wish = tobia.getByLabel(/^Wished for/);
  await wish.fill("in 2 h");
  await wish.press("Tab");
  await expect(line.getByRole("status")).toContainText("too late");
  await accessible(tobia);
  await wish.fill("yesterday 9");
  await wish.press("Tab");
  await tobia.getByRole("button", { name: "Begin" }).click();
  await expect(tobia.getByText("The publish date lies in the past.")).toBeVisible();
  await expect(tobia.getByLabel("Title")).toHaveValue("The ski bus at New Year");
  await wish.fill("in 20 wd");
  await wish.press("Tab");
  await expect(line.getByRole("status")).toContainText("to spare");
  await tobia.getByRole("button", { name: "Begin" }).click();
  await tobia.waitForURL(/\/pieces\/the-ski-bus/);
  await expect(tobia.getByText(/Wished for/)).toBeVisible();
});

test("a piece is begun for somebody, who takes it on; another is handed back with the reason", async () => {
  const asks = async (title: string) => {
    await fill(ilda, title);
    await choose(ilda.getByLabel("Who writes it"), /^Tobia Rensk/);
    await ilda.getByLabel("The brief").fill("Sixty words. Who carries it, and since when?");
    await ilda.getByRole("button", { name: "Begin" }).click();
    await ilda.waitForURL(/\/pieces\/(?!new)/);
    return new URL(ilda.url()).pathname;
  };
  const first = await asks("The post on skis");
  await expect(ilda.getByText("What Ilda Marenzi asked for")).toBeVisible();
  await tobia.goto(first);
  const asked = tobia.getByRole("region", { name: "What you are asked for" });
  await expect(asked).toContainText("Sixty words. Who carries it, and since when?");
  await accessible(tobia);
  await asked.getByRole("button", { name: "Take it on" }).click();
  await expect(asked).toHaveCount(0);
  await expect(tobia.getByText("What Ilda Marenzi asked for")).toBeFocused();

  const second = await asks("The post by mule");
  await tobia.goto(second);
  await asked.getByRole("link", { name: "Hand it back" }).click();
  const panel = tobia.getByRole("region", { name: "Hand it back" });
  await expect(panel.getByLabel("Why you hand it back")).toBeFocused();
  await panel.getByRole("button", { name: "Hand it back" }).click();
  await expect(panel.getByLabel("Why you hand it back")).toBeFocused();
  await panel.getByLabel("Why you hand it back").fill("There is no mule any more.");
  await panel.getByRole("button", { name: "Hand it back" }).click();
  await expect(panel).toHaveCount(0);
  await ilda.goto(second);
  await seen(ilda.getByText(/With Ilda Marenzi|Your turn|since/));
  await ilda.goto("/notices");
  await expect(ilda.getByText(/Tobia Rensk hands “The post by mule” back to you/)).toBeVisible();
  await expect(ilda.getByText("There is no mule any more.")).toBeVisible();
});

test("several are begun from a list: looked at first, mended, then each for whom it names", async ({ browser }) => {
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto("/pieces/new");
  await ilda.getByRole("link", { name: "Several from a list" }).click();
  const list = ilda.getByLabel("The list");
  await list.fill(
    "A first of several; Bulletin item; Bulletin; Noor Castellan; in 5 wd; Short\nA second of several; Poem; Bulletin",
  );
  await ilda.getByRole("button", { name: "Look at it first" }).click();
  const lines = ilda.getByRole("list", { name: "What becomes of each line" });
  await expect(lines.getByRole("listitem").nth(0)).toContainText("can be begun");
  await expect(lines.getByRole("listitem").nth(1)).toContainText("No kind of yours is called “Poem”.");
  await accessible(ilda);
  const beginThem = ilda.getByRole("button", { name: "Begin them" });
  await expect(ilda.getByText("Of 2 lines, 1 is to be mended first; none is begun.")).toBeVisible();
  // What is pressed while the answer is on its way does nothing.
  const answer = ilda.waitForResponse((one) => one.request().method() === "POST");
  await beginThem.click();
  await answer;
  await expect(beginThem).not.toHaveAttribute("aria-busy");
  await expect(lines.getByRole("listitem").nth(0)).toContainText("can be begun");
  await expect(list).toHaveValue(/A second of several; Poem/);
  await list.fill(
    "A first of several; Bulletin item; Bulletin; Noor Castellan; in 5 wd; Short\nA second of several; Bulletin item; Bulletin",
  );
  await beginThem.press("Enter");
  await expect(ilda.getByText("2 pieces begun.")).toBeVisible();
  await lines.getByRole("link", { name: "A first of several" }).click();
  await expect(ilda.getByRole("heading", { name: "A first of several" })).toBeVisible();
  await leave(ilda);
});

test("a piece is kept as a model text, and another begins from its words; whose it is stands on the page", async () => {
  await fill(ilda, "The lost dog at the Malga Serra");
  await ilda.getByRole("button", { name: "Begin" }).click();
  await ilda.waitForURL(/\/pieces\/the-lost-dog/);
  await ilda.getByRole("link", { name: "What else" }).click();
  await ilda.getByRole("link", { name: "Keep it as a model text" }).click();
  const name = ilda.getByLabel("What is it called");
  await expect(name).toBeFocused();
  await ilda.getByRole("button", { name: "Keep it" }).click();
  await expect(name).toHaveValue("");
  await name.fill("Something was lost");
  await name.press("Enter");
  await expect(name).toHaveCount(0);
  await fill(tobia, "The lost hat at the ford");
  await choose(tobia.getByLabel("Begin from"), "Something was lost");
  await tobia.getByRole("button", { name: "Begin" }).click();
  await tobia.waitForURL(/\/pieces\/the-lost-hat/);
  await tobia.getByText("Where it comes from").click();
  await expect(tobia.getByText("Begun from the model text “Something was lost”")).toBeVisible();
  await ilda.goto("/publication/kinds?kind=bulletin-item");
  await seen(ilda.getByText("Something was lost"));
});

test("what readers see begins another piece, and each leads to the other", async ({ browser }) => {
  const reader = await browser.newPage();
  await reader.goto("/read");
  const address = (await reader.locator("main h2 a, main h3 a").first().getAttribute("href")) ?? "";
  await reader.close();
  const slug = address.split("/").at(-1) ?? "";
  await ilda.goto(`/pieces/${slug}?do=more`);
  await ilda.getByRole("link", { name: "Begin another from it" }).click();
  await expect(ilda.getByText("It begins with the words of")).toBeVisible();
  await accessible(ilda);
  await choose(ilda.getByLabel("Kind"), "Bulletin item");
  await choose(ilda.getByLabel("Section"), "Bulletin");
  await ilda.getByLabel("Title").fill("In short: what we said at length");
  await ilda.getByRole("button", { name: "Begin" }).click();
  await ilda.waitForURL(/\/pieces\/in-short/);
  await ilda.getByText("Where it comes from").click();
  await ilda
    .getByText(/^Begun from/)
    .getByRole("link")
    .click();
  await ilda.waitForURL(new RegExp(`/pieces/${slug}$`));
  await ilda.getByText("Where it comes from").click();
  await expect(ilda.getByRole("link", { name: "In short: what we said at length" })).toBeVisible();
});
