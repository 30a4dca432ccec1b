import { accessible, fits } from "./axe.ts";
import { type Browser, expect, type Page, test } from "./house.ts";
import { beginItem, choose, leave, saved, send, served, signIn, write } from "./person.ts";

/** The piece a page shows, by its heading. */
const heading = (page: Page) => page.getByRole("heading", { level: 1 });
const pathOf = (page: Page) => new URL(page.url()).pathname;

/** Several items in copy edit with one person, whose turn they are. */
async function sentTo(browser: Browser, titles: readonly string[]): Promise<void> {
  const noor = await signIn(browser, "Noor Castellan");
  for (const title of titles) {
    await beginItem(noor, title);
    await write(noor, "The bench stands by the trough.");
    await send(noor, "Send for copy edit", async (page) => {
      await page.getByLabel(/Petra Holmqvist/).check();
    });
  }
  await leave(noor);
}

test("one Esc is one step: out of the field, out of the panel, back to the list as it was narrowed, at the row", async ({
  browser,
}) => {
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto("/pieces?sort=title&show=all");
  await ilda.keyboard.press("j");
  await ilda.keyboard.press("j");
  const row = ilda.locator("[data-row] a").nth(1);
  await expect(row).toBeFocused();
  const to = (await row.getAttribute("href")) ?? "";
  await ilda.keyboard.press("Enter");
  await ilda.waitForURL(`**${to}`);
  await ilda.getByRole("link", { name: "What else" }).click();
  await ilda.getByRole("link", { name: "Delete it" }).click();
  await expect(ilda.getByRole("textbox", { name: "Why" })).toBeFocused();
  await ilda.keyboard.type("By mistake");
  await ilda.keyboard.press("Escape");
  await expect(ilda.getByRole("textbox", { name: "Why" })).not.toBeFocused();
  await expect(ilda.getByRole("textbox", { name: "Why" })).toHaveValue("By mistake");
  await ilda.keyboard.press("Escape");
  await expect(ilda.getByRole("textbox", { name: "Why" })).toHaveCount(0);
  expect(pathOf(ilda)).toBe(to);
  await ilda.keyboard.press("Escape");
  await ilda.waitForURL("**/pieces?sort=title&show=all");
  await expect(ilda.locator(`[data-row] a[href="${to}"]`)).toBeFocused();
  await leave(ilda);
});

test("a long list stands at once as far as one sees, whole a moment later, and is left from below and come back to", async ({
  browser,
}) => {
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.getByRole("link", { name: "Pieces", exact: true }).click();
  await expect(heading(ilda)).toHaveText(/pieces in flight$/);
  const rows = ilda.getByRole("list", { name: "Pieces" }).locator("[data-row]");
  const shown = Number((await heading(ilda).textContent())?.match(/\d+/)?.[0]);
  expect(shown).toBeGreaterThan(40);
  await expect(rows).toHaveCount(Math.min(shown, 100));
  const far = rows.nth(40).getByRole("link").first();
  const to = (await far.getAttribute("href")) ?? "";
  await far.focus();
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByRole("link", { name: "What else" })).toBeVisible();
  await ilda.keyboard.press("Escape");
  await ilda.waitForURL("**/pieces");
  const again = rows.locator(`a[href="${to}"]`);
  await expect(again).toBeFocused();
  await expect(again).toBeInViewport();
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByRole("link", { name: "What else" })).toBeVisible();
  await ilda.goBack();
  await expect(again).toBeFocused();
  await expect(again).toBeInViewport();
  await leave(ilda);
});

test("several decisions in a row: the next is a key away, and the keyboard is where one goes on", async ({
  browser,
}) => {
  await sentTo(browser, ["First of two in a row", "Second of two in a row"]);
  const petra = await signIn(browser, "Petra Holmqvist");
  await petra.getByRole("link", { name: "First of two in a row", exact: true }).click();
  await expect(petra.getByRole("article")).toBeVisible();
  await petra.getByRole("link", { name: "Decide", exact: true }).click();
  await petra.getByRole("button", { name: "Copy is right" }).click();
  await expect(petra.getByRole("region", { name: /^Decide on/ })).toHaveCount(0);
  const next = petra.getByRole("link", { name: /→$/ });
  await expect(next).toBeFocused();
  const title = ((await next.textContent()) ?? "").replace(" →", "");
  await petra.keyboard.press("Shift+J");
  await expect(heading(petra)).toHaveText(title);
  await expect(petra.getByRole("region", { name: /^Decide on/ })).toBeVisible();
  await accessible(petra);
  await leave(petra);
});

test("what came back says why at the top, and an approval about to be voided is said before typing", async ({
  browser,
}) => {
  await sentTo(browser, ["Back with a reason"]);
  const petra = await signIn(browser, "Petra Holmqvist");
  await petra.getByRole("link", { name: "Back with a reason", exact: true }).click();
  await expect(petra.getByRole("article")).toBeVisible();
  await petra.getByRole("link", { name: "Decide", exact: true }).click();
  await petra.getByLabel("Note").fill("The bench is gone since May.");
  await petra.getByRole("button", { name: "Back to the writer" }).click();
  await expect(petra.getByRole("region", { name: /^Decide on/ })).toHaveCount(0);
  const noor = await signIn(browser, "Noor Castellan");
  await noor.getByRole("link", { name: "Back with a reason", exact: true }).click();
  await expect(noor.getByRole("article")).toBeVisible();
  const said = noor.getByRole("note");
  await expect(said).toContainText("It came back from Copy edit.");
  await expect(said).toContainText("The bench is gone since May.");
  await leave(noor);
  await leave(petra);
});

test("notes are put in by key, opened where they stand, and changed there; links need no https", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  await beginItem(noor, "A text with notes");
  const text = noor.getByRole("textbox", { name: "Item" });
  await text.click();
  await noor.keyboard.type("The bell rings.");
  await noor.keyboard.press("Control+Alt+n");
  await noor.getByLabel("Words of the note").fill("Since 1911.");
  await noor.keyboard.press("Enter");
  await expect(text.locator(".note-mark")).toHaveAttribute("title", "Since 1911.");
  await expect(text).toBeFocused();
  await noor.keyboard.press("Home");
  await noor.keyboard.press("End");
  await noor.keyboard.type(" At noon.");
  await expect(text).toHaveText(/\[note\] At noon\.$/);
  await text.locator(".note-mark").click();
  await expect(noor.getByLabel("Words of the note")).toHaveValue("Since 1911.");
  await noor.getByLabel("Words of the note").fill("Since 1912.");
  await noor.keyboard.press("Enter");
  await expect(text.locator(".note-mark")).toHaveCount(1);
  await expect(text.locator(".note-mark")).toHaveAttribute("title", "Since 1912.");
  await expect(text).toBeFocused();
  await noor.keyboard.press("Control+End");
  await noor.keyboard.press("Control+Alt+l");
  await noor.getByLabel("Address the words lead to").fill("bells.example/noon");
  await noor.keyboard.press("Enter");
  await expect(text.locator("a")).toHaveAttribute("href", "https://bells.example/noon");
  await saved(noor);
  await leave(noor);
});

test("words are found in texts and comments, from anywhere and in the list, and a list is kept in the frame", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  await beginItem(noor, "Where the words are");
  await write(noor, "A marmotologist counts whistles at dawn.");
  await noor.getByLabel("Comment on the piece").fill("Which zoölogist says so?");
  await noor.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(noor.getByLabel("Comment on the piece")).toHaveValue("");
  await served(noor, "/pieces?words=marmotologist", "A marmotologist counts whistles at dawn.");
  await served(noor, "/find?q=zoologist", "zoölogist");
  const said = noor.getByRole("option", { name: /in a comment: Which zoölogist says so\?/ });
  await noor.goto("/pieces");
  await noor.keyboard.press("Control+k");
  await noor.keyboard.type("zoologist");
  await expect(said).toBeVisible();
  await noor.keyboard.press("Enter");
  await expect(noor.getByRole("textbox", { name: "Title" })).toHaveValue("Where the words are");
  await noor.goto("/pieces?within=30&words=marmotologist");
  await noor.getByRole("button", { name: "Keep this list" }).click();
  await noor.getByLabel("Its name").fill("Marmots");
  await noor.getByRole("button", { name: "Keep it" }).click();
  const kept = noor.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "Marmots" });
  await expect(kept).toBeVisible();
  // Come to from the bare list it shows all it is narrowed by, and goes on with it.
  await noor.goto("/pieces");
  await kept.click();
  await expect(noor.getByLabel("At any time")).toHaveText("Moved in 30 days");
  await noor.getByLabel("late only").check();
  await noor.waitForURL(/late=yes/);
  expect(new URL(noor.url()).searchParams.get("within")).toBe("30");
  await noor.goto("/turn");
  await kept.click();
  await expect(noor.getByText("kept as Marmots")).toBeVisible();
  await noor.getByRole("button", { name: "Let it go" }).click();
  await expect(kept).toHaveCount(0);
  await leave(noor);
});

test("one's own menu closes by Esc, outside it, and by leaving; a page that is not there keeps the frame", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  const own = noor.getByRole("button", { name: "Noor Castellan" });
  const menu = noor.getByRole("menu");
  await own.click();
  await expect(menu).toBeVisible();
  await noor.keyboard.press("Escape");
  await expect(menu).toHaveCount(0);
  await expect(own).toBeFocused();
  expect(pathOf(noor)).toBe("/turn");
  await own.click();
  // Beside the publication's name there is nothing to press.
  await noor.mouse.click(400, 20);
  await expect(menu).toHaveCount(0);
  await own.click();
  await noor.getByRole("menuitem", { name: /^You: / }).click();
  await noor.waitForURL("**/me");
  await expect(menu).toHaveCount(0);
  await noor.goto("/pieces/there-is-no-such-piece");
  await expect(heading(noor)).toHaveText("There is nothing here");
  await expect(noor).toHaveTitle(/There is nothing here/);
  await expect(noor.getByRole("navigation", { name: "Places" })).toBeVisible();
  await accessible(noor);
  await leave(noor);
});

test("a change of page takes the keyboard along, and what an address says is not said by us", async ({ browser }) => {
  const noor = await signIn(browser, "Noor Castellan");
  await noor.getByRole("link", { name: "Schedule" }).click();
  await noor.waitForURL("**/schedule");
  await expect(heading(noor)).toBeFocused();
  await noor.goto(`${await beginItem(noor, "Nothing foreign")}?imported=Call%20this%20number`);
  await expect(noor.getByRole("textbox", { name: "Title" })).toHaveValue("Nothing foreign");
  await expect(noor.getByText("Call this number")).toHaveCount(0);
  await leave(noor);
});

test("where a hand rests is fetched once, by pointer or by keyboard; a session that is gone is heard of by going there", async ({
  browser,
}) => {
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto("/pieces?sort=title&show=all");
  const links = ilda.locator("[data-row] a");
  const fetched: string[] = [];
  ilda.on("request", (request) => {
    const { pathname } = new URL(request.url());
    if (request.method() === "GET" && pathname.endsWith(".data")) fetched.push(pathname.replace(/\.data$/, ""));
  });
  /** Rests on a link until what it leads to comes, and gives its address. */
  const rested = async (at: number, rest: () => Promise<void>) => {
    const to = (await links.nth(at).getAttribute("href")) ?? "";
    const came = ilda.waitForResponse((one) => one.url().includes(`${to}.data`));
    await rest();
    await came;
    return to;
  };
  const pointed = await rested(2, () => links.nth(2).hover());
  expect(pathOf(ilda)).toBe("/pieces");
  await links.nth(2).click();
  await ilda.waitForURL(`**${pointed}`);
  await ilda.getByRole("article").waitFor();
  expect(fetched.filter((one) => one === pointed)).toHaveLength(1);
  await ilda.goBack();
  await expect(links.nth(2)).toBeFocused();
  const reached = await rested(3, () => ilda.keyboard.press("j"));
  await ilda.keyboard.press("Enter");
  await ilda.waitForURL(`**${reached}`);
  await ilda.getByRole("article").waitFor();
  expect(fetched.filter((one) => one === reached)).toHaveLength(1);
  await ilda.goBack();
  await expect(links.nth(3)).toBeFocused();
  await ilda.context().clearCookies();
  const session = ilda.waitForResponse((one) => one.url().includes(".data"));
  await links.nth(4).hover();
  await session;
  await expect(links.nth(4)).toBeVisible();
  expect(pathOf(ilda)).toBe("/pieces");
  await links.nth(4).click();
  await ilda.waitForURL("**/sign-in**");
  await leave(ilda);
});

test("a press beside what stands over the page closes it and reaches nothing below, which lies in shade under a dialog", async ({
  browser,
}) => {
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto("/pieces");
  const below = await ilda.getByRole("link", { name: "New piece" }).boundingBox();
  const beside = () => ilda.mouse.click((below?.x ?? 0) + 20, (below?.y ?? 0) + 10);
  await ilda.getByLabel("Every section").click();
  await expect(ilda.getByRole("listbox")).toBeVisible();
  await beside();
  await expect(ilda.getByRole("listbox")).toHaveCount(0);
  await expect(ilda.getByLabel("Every section")).toBeFocused();
  await heading(ilda).click();
  await ilda.keyboard.press("?");
  const keys = ilda.getByRole("dialog", { name: "Keys" });
  await expect(keys).toBeVisible();
  const shade = await ilda.evaluate(
    ([x, y]) => {
      const top = document.elementFromPoint(x ?? 0, y ?? 0);
      return top && getComputedStyle(top).backgroundColor;
    },
    [(below?.x ?? 0) + 20, (below?.y ?? 0) + 10],
  );
  expect(shade).toMatch(/ \/ 0\.|, 0\./);
  await beside();
  await expect(keys).toHaveCount(0);
  expect(pathOf(ilda)).toBe("/pieces");
  await leave(ilda);
});

test("many at once: chosen by keyboard and by Shift, looked at, done, and what failed stays chosen", async ({
  browser,
}) => {
  const titles = ["Many, one", "Many, two", "Many, three"];
  await sentTo(browser, titles);
  const petra = await signIn(browser, "Petra Holmqvist");
  await petra.goto("/pieces?words=Many,");
  const boxes = petra.getByRole("checkbox", { name: /^Choose Many/ });
  await expect(boxes).toHaveCount(3);
  await petra.keyboard.press("j");
  await petra.keyboard.press("x");
  await expect(petra.getByRole("region", { name: "Chosen pieces" })).toContainText("one piece chosen");
  await boxes.nth(2).click({ modifiers: ["Shift"] });
  await expect(petra.getByRole("region", { name: "Chosen pieces" })).toContainText("3 pieces chosen");
  await petra.reload();
  await expect(boxes.nth(1)).toBeChecked();
  await accessible(petra);
  await petra.getByRole("link", { name: "Do one thing to them" }).click();
  await expect(petra.getByRole("heading", { name: "One thing to 3 pieces" })).toBeVisible();
  await petra.getByRole("button", { name: "Show what would happen" }).click();
  await expect(petra.getByText("Choose what to do.")).toBeVisible();
  await choose(petra.getByLabel("What", { exact: true }), "Approve");
  await petra.getByLabel("A note to all of them").fill("All of them are right.");
  await petra.getByRole("button", { name: "Show what would happen" }).click();
  await expect(petra.getByText("3 pieces would go. Nothing is done yet.")).toBeVisible();
  await accessible(petra);
  // Meanwhile one of them is called back.
  const noor = await signIn(browser, "Noor Castellan");
  await noor.goto("/turn");
  await noor.getByRole("link", { name: "Many, two", exact: true }).first().click();
  await noor.getByRole("link", { name: "What else" }).click();
  await noor.getByRole("link", { name: "Call it back" }).click();
  await noor.getByRole("button", { name: "Call it back" }).click();
  await expect(noor.getByRole("textbox", { name: "Title" })).toBeVisible();
  await expect(petra.getByRole("button", { name: "Do it for these 3" })).toBeFocused();
  await petra.keyboard.press("Enter");
  await expect(petra.getByText("2 pieces done. One piece not: chosen still, and below is why.")).toBeVisible();
  await petra.setViewportSize({ width: 360, height: 800 });
  await fits(petra);
  await petra.setViewportSize({ width: 1280, height: 800 });
  await petra.getByRole("link", { name: "Back to the list" }).click();
  await petra.goto("/pieces?words=Many,");
  await expect(petra.getByRole("region", { name: "Chosen pieces" })).toContainText("one piece chosen");
  await expect(petra.getByRole("checkbox", { name: "Choose Many, two" })).toBeChecked();
  await leave(petra);
  await leave(noor);
});
