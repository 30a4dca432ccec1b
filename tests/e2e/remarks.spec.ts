import { accessible, faults } from "./axe.ts";
import { type Browser, expect, type Locator, type Page, test } from "./house.ts";
import { beginItem, choose, leave, saved, select, send, signIn, write } from "./person.ts";

const WORDS = "The key hangs at the bus office. Cross the bridge at dawn.";

/** A piece of Noor's in copy edit with Petra. */
async function sent(browser: Browser, title: string): Promise<{ noor: Page; petra: Page; address: string }> {
  const noor = await signIn(browser, "Noor Castellan");
  const address = await beginItem(noor, title);
  await write(noor, WORDS);
  await send(noor, "Send for copy edit", async (page) => {
    await page.getByLabel(/Petra Holmqvist/).check();
  });
  const petra = await signIn(browser, "Petra Holmqvist");
  await petra.goto(address);
  await expect(petra.getByRole("textbox", { name: "Item" })).toBeVisible();
  return { noor, petra, address };
}

const card = (page: Page, words: string | RegExp): Locator => page.locator("[data-card]").filter({ hasText: words });
const marked = (page: Page, words: string) => page.locator("article mark[data-thread]", { hasText: words });

test("a remark on exact words: said, mentioned, answered, settled, by two people side by side", async ({ browser }) => {
  const { noor, petra, address } = await sent(browser, "Remarks on words");
  await select(petra, "the bridge");
  await petra.getByRole("toolbar", { name: "What is selected" }).getByRole("button", { name: "Remark" }).click();
  const mine = petra.getByRole("textbox", { name: "Your remark" });
  await expect(mine).toBeFocused();
  await mine.pressSequentially("Which one, @noo");
  await petra.keyboard.press("Tab");
  await expect(mine).toHaveValue("Which one, @Noor Castellan ");
  await choose(petra.getByLabel("What sort"), "Question");
  await petra.getByRole("button", { name: "Send at once" }).click();
  await expect(marked(petra, "the bridge")).toBeVisible();
  await expect(petra.getByRole("heading", { name: "1 remark, 1 open" })).toBeFocused();

  await noor.goto(address);
  await expect(card(noor, "Which one")).toContainText("Question");
  await marked(noor, "the bridge").click();
  await expect(card(noor, "Which one").getByRole("button").first()).toBeFocused();
  await card(noor, "Which one").getByRole("button", { name: "Reply" }).click();
  await noor.keyboard.type("The upper one.");
  await noor.keyboard.press("Control+Enter");
  await expect(card(noor, "Which one")).toContainText("The upper one.");
  await card(noor, "Which one").getByRole("button", { name: "Settle" }).click();
  await noor.keyboard.press("Enter");
  await expect(noor.getByRole("heading", { name: "1 remark, none open" })).toBeVisible();
  await noor.goto("/notices");
  await expect(noor.getByRole("main")).toContainText("Petra Holmqvist mentions you on “Remarks on words”");
  await noor.getByRole("link", { name: "Petra Holmqvist mentions you on “Remarks on words”" }).click();
  await expect(card(noor, "Which one").getByRole("button").first()).toBeFocused();

  await petra.reload();
  await petra.getByRole("button", { name: "open ones" }).click();
  await choose(petra.getByRole("dialog").getByLabel("Which"), "all");
  await petra.keyboard.press("Escape");
  await expect(card(petra, "Which one")).toContainText("text changed");
  await accessible(petra);
  await leave(noor);
  await leave(petra);
});

test("what is kept back nobody sees until it is sent with the decision; what is begun survives Esc twice and leaving", async ({
  browser,
}) => {
  const { noor, petra, address } = await sent(browser, "Remarks kept back");
  await select(petra, "bus office");
  await petra.keyboard.press("Control+Alt+m");
  await petra.keyboard.type("Is it still there?");
  await petra.keyboard.press("Escape");
  await petra.keyboard.press("Escape");
  await expect(petra.getByRole("textbox", { name: "Your remark" })).toHaveCount(0);
  await petra.goto(address);
  await petra.getByRole("button", { name: "Go on with it" }).click();
  await expect(petra.getByRole("textbox", { name: "Your remark" })).toHaveValue("Is it still there?");
  await petra.getByRole("button", { name: "Keep for now" }).click();
  await expect(card(petra, "Is it still there?")).toContainText("kept back");
  await noor.goto(address);
  await expect(noor.getByRole("heading", { name: "No remarks yet" })).toBeVisible();
  await petra.getByRole("link", { name: "Decide", exact: true }).click();
  const panel = petra.getByRole("region", { name: /^Decide on/ });
  await expect(panel.getByLabel("Send the one remark I keep back with it")).toBeChecked();
  await panel.getByLabel("Note").fill("One question.");
  await panel.getByRole("button", { name: "Back to the writer" }).click();
  await expect(panel).toHaveCount(0);
  await noor.reload();
  await expect(card(noor, "Is it still there?")).toBeVisible();
  await expect(noor.getByText("It came back from Copy edit")).toBeVisible();
  await leave(noor);
  await leave(petra);
});

test("other wording is proposed in the text, and accepted, alone or together; what overlaps is set aside", async ({
  browser,
}) => {
  const { noor, petra, address } = await sent(browser, "Proposed wording");
  const propose = async (words: string, wording: string) => {
    await select(petra, words);
    await petra.keyboard.press("Control+Alt+w");
    const line = petra.getByRole("textbox", { name: "Wording you propose" });
    await expect(line).toBeFocused();
    await petra.keyboard.type(wording);
    await petra.getByRole("button", { name: "Send at once" }).click();
    await expect(petra.locator("article ins[data-thread]", { hasText: wording })).toBeVisible();
  };
  await propose("the bridge", "the upper bridge");
  await propose("bus office", "post office");
  await expect(petra.locator("article del[data-thread]")).toHaveText(["bus office", "the bridge"]);
  await petra.locator("h2[data-remarks]").focus();
  await petra.keyboard.press("o");
  await expect(petra.locator("article ins[data-thread]").first()).toBeHidden();
  await petra.keyboard.press("o");

  await petra.goto(address);
  const text = petra.getByRole("textbox", { name: "Item" });
  const all = petra.getByRole("listitem").filter({ hasText: "Petra Holmqvist: 2 wordings" });
  await all.getByRole("button", { name: "Set all aside" }).click();
  await expect(petra.locator("article del[data-thread]")).toHaveCount(0);
  await expect(text).toHaveText(WORDS);
  await propose("the bridge", "the upper bridge");
  await card(petra, "the upper bridge").getByRole("button", { name: "Accept" }).click();
  await expect(text).toHaveText("The key hangs at the bus office. Cross the upper bridge at dawn.");
  await expect(petra.getByRole("heading", { name: "3 remarks, none open" })).toBeFocused();
  // One goes on writing in what was accepted.
  await write(petra, " Then rest.");
  await expect(text).toContainText("Cross the upper bridge at dawn. Then rest.");
  await leave(noor);
  await leave(petra);
});

test("the words a remark stands on move with what is typed, and are gone when they are", async ({ browser }) => {
  const { noor, petra } = await sent(browser, "Words that move");
  await select(petra, "Cross the bridge");
  await petra.keyboard.press("Control+Alt+m");
  await petra.keyboard.type("When?");
  await petra.getByRole("button", { name: "Send at once" }).click();
  await expect(marked(petra, "Cross the bridge")).toBeVisible();
  const text = petra.getByRole("textbox", { name: "Item" });
  await text.click();
  await petra.keyboard.press("Control+Home");
  await petra.keyboard.type("Listen. ");
  await saved(petra);
  await petra.reload();
  await expect(marked(petra, "Cross the bridge")).toBeVisible();
  await petra.getByRole("textbox", { name: "Item" }).click();
  await petra.keyboard.press("Control+a");
  await petra.keyboard.type("Nothing is left of it.");
  await saved(petra);
  await petra.reload();
  await expect(card(petra, "When?")).toContainText("Gone from the text: “Cross the bridge”");
  await leave(noor);
  await leave(petra);
});

test("what is selected may cut an emoji in half, be written from right to left, reach over two paragraphs", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  const address = await beginItem(noor, "Odd selections");
  await write(noor, "One \u{1f3d4} peak.");
  await noor.keyboard.press("Enter");
  await write(noor, "מסלול ארוך");
  await send(noor, "Send for copy edit", async (page) => {
    await page.getByLabel(/Petra Holmqvist/).check();
  });
  const wim = await signIn(browser, "Wim Aldera");
  await wim.goto(address);
  await expect(wim.getByRole("article")).toContainText("ארוך");
  await expect(wim.getByRole("textbox", { name: "Item" })).toHaveCount(0);
  const across = () =>
    wim.evaluate(() => {
      const words = document.createTreeWalker(
        document.querySelector("article [data-field]") as Node,
        NodeFilter.SHOW_TEXT,
      );
      const texts: Text[] = [];
      while (words.nextNode()) texts.push(words.currentNode as Text);
      const [peak, path] = ["peak", "מסלול"].map((word) => texts.find((text) => text.data.includes(word)));
      // Within the emoji, to the end of the first word below.
      if (peak && path) getSelection()?.setBaseAndExtent(peak, Math.max(0, peak.data.indexOf(" peak") - 1), path, 5);
    });
  await across();
  await wim.keyboard.press("m");
  await expect(wim.getByText("peak. מסלול")).toBeVisible();
  await wim.getByRole("textbox", { name: "Your remark" }).fill("Both of these.");
  await wim.getByRole("button", { name: "Send", exact: true }).click();
  await expect(wim.locator("article mark[data-thread]")).toHaveText([/ ?peak\.$/, "מסלול"]);
  await across();
  await wim.keyboard.press("w");
  await expect(wim.getByText("Wording is proposed for words of one paragraph")).toBeVisible();
  await wim.keyboard.press("Escape");
  await noor.goto(`${address}/versions`);
  await expect(noor.getByRole("complementary", { name: "Remarks on what is shown" })).toContainText("Both of these.");
  await leave(noor);
  await leave(wim);
});

test("where there is no room for a margin the remarks come from below, by finger and by keyboard", async ({
  browser,
}) => {
  const { noor, petra } = await sent(browser, "A narrow margin");
  await petra.setViewportSize({ width: 360, height: 740 });
  await select(petra, "the bridge");
  await petra.keyboard.press("Control+Alt+m");
  const sheet = petra.getByRole("dialog", { name: "Remarks" });
  await expect(sheet.getByRole("textbox", { name: "Your remark" })).toBeFocused();
  await petra.keyboard.type("Which one?");
  await sheet.getByRole("button", { name: "Send at once" }).click();
  await expect(card(petra, "Which one?")).toBeVisible();
  expect(await faults(petra, "[role=dialog]")).toEqual([]);
  await petra.keyboard.press("Escape");
  await expect(sheet).toHaveCount(0);
  await petra.getByRole("button", { name: "1 remark, 1 open" }).click();
  await expect(card(petra, "Which one?")).toBeVisible();
  await leave(noor);
  await leave(petra);
});

test("in place: what differs from what readers have, a remark and a decision on the page itself", async ({
  browser,
}) => {
  const { noor, petra, address } = await sent(browser, "Looked at in place");
  await petra.goto(`${address}/preview`);
  await expect(petra.getByRole("region", { name: "In place" })).toContainText("Nothing is out · on its way: version");
  await select(petra, "the bridge");
  await petra.keyboard.press("m");
  await petra.keyboard.type("Which?");
  await petra.getByRole("button", { name: "Send at once" }).click();
  await expect(marked(petra, "the bridge")).toBeVisible();
  await petra.getByRole("link", { name: "Decide", exact: true }).click();
  await petra
    .getByRole("region", { name: /^Decide on/ })
    .getByRole("button", { name: "Copy is right" })
    .click();
  await expect(petra.getByText("In Ready since today")).toBeVisible();

  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto(address);
  await send(ilda, "Release");
  await noor.goto(address);
  await send(noor, "Revise", async (page) => {
    await page.getByLabel(/Note/).fill("The bridge is gone.");
  });
  await write(noor, " The ford is higher up.");
  await noor.goto(address.replace("/pieces/", "/read/"));
  await expect(noor.getByRole("region", { name: "In place" })).toContainText("on its way: version");
  await noor.keyboard.press("v");
  await noor.waitForURL(/preview\?look=ours/);
  await expect(noor.getByRole("article")).toContainText("The ford is higher up.");
  await noor.keyboard.press("v");
  await noor.waitForURL(/look=differs/);
  await expect(noor.locator("article ins")).toContainText("The ford is higher up.");
  await accessible(noor);
  await noor.keyboard.press("v");
  await noor.waitForURL(/look=theirs/);
  await expect(noor.getByRole("article")).not.toContainText("The ford is higher up.");
  for (const page of [noor, petra, ilda]) await leave(page);
});

test("a page is signed by name, its text locked meanwhile; a refusal opens it and withdraws what was signed", async ({
  browser,
}) => {
  const open = async (page: Page, title: string) => {
    await page.goto("/turn");
    await page.getByRole("link", { name: title, exact: true }).click();
    await expect(page.getByRole("article")).toBeVisible();
    return new URL(page.url()).pathname;
  };
  const panel = (page: Page) => page.getByRole("region", { name: /^Decide on/ });
  const ilda = await signIn(browser, "Ilda Marenzi");
  const signed = await open(ilda, "Where the old glacier stood");
  await expect(ilda.getByRole("textbox", { name: "Title" })).toHaveCount(0);
  await ilda.getByRole("link", { name: "Decide", exact: true }).click();
  await panel(ilda).getByRole("button", { name: "Page is signed" }).click();
  await expect(panel(ilda)).toContainText("type your name as it stands here: Ilda Marenzi");
  await expect(panel(ilda).getByLabel("Your name, to sign")).toBeFocused();
  await ilda.keyboard.type("Ilda Marenzi");
  await panel(ilda).getByRole("button", { name: "Page is signed" }).click();
  await expect(panel(ilda)).toHaveCount(0);
  await ilda.goto(`${signed}/signed`);
  const signatures = ilda.getByRole("region", { name: "Signatures" }).getByRole("listitem");
  await expect(signatures).toHaveCount(3);
  await expect(signatures.last()).toContainText("Ilda Marenzi");
  await accessible(ilda);

  const dario = await signIn(browser, "Dario Lunt");
  const refused = await open(dario, "Names on no map");
  await dario.getByRole("link", { name: "Decide", exact: true }).click();
  await panel(dario).getByLabel("Note").fill("The second picture is the other ridge.");
  await panel(dario).getByRole("button", { name: "Page to mend" }).click();
  await expect(panel(dario)).toHaveCount(0);
  await dario.goto(`${refused}/passage`);
  await expect(dario.getByRole("main")).toContainText("signed “Petra Holmqvist”, withdrawn");
  await accessible(dario);
  const petra = await signIn(browser, "Petra Holmqvist");
  await petra.goto("/notices");
  await expect(petra.getByRole("main")).toContainText(
    "Dario Lunt did not sign “Names on no map”, and your signature is withdrawn",
  );
  for (const page of [ilda, dario, petra]) await leave(page);
});
