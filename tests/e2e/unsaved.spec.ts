import { readFileSync } from "node:fs";
import { accessible } from "./axe.ts";
import { expect, type Page, type Route, test } from "./house.ts";
import { beginItem, leave, newPage, saved, seen, signIn, signOut, write } from "./person.ts";

/** Where the managing editor may write too, whatever other tests did to the Bulletin. */
const SECTION = "Safety";
const item = (page: Page) => page.getByRole("textbox", { name: "Item" });

test("typed and left at once, by whatever way: the words are saved", async ({ browser }) => {
  let page = await signIn(browser, "Mina Tauberg");
  const where = await beginItem(page, "In a hurry", SECTION);
  const ways: [word: string, leave: (page: Page) => Promise<unknown>][] = [
    ["link", (left) => left.getByRole("link", { name: "Schedule", exact: true }).click()],
    ["preview", (left) => left.getByRole("link", { name: "preview", exact: true }).click()],
    ["reload", (left) => left.goto("/notices")],
    ["back", (left) => left.goBack()],
    [
      "twice",
      async (left) => {
        await left.keyboard.press("Escape");
        await left.keyboard.press("Escape");
      },
    ],
    ["closed", (left) => Promise.all([left.waitForEvent("close"), left.close({ runBeforeUnload: true })])],
  ];
  for (const [word, leave] of ways) {
    await page.goto(where);
    await item(page).click();
    await page.keyboard.press("Control+End");
    await page.keyboard.type(` ${word}`);
    await leave(page);
    if (page.isClosed()) {
      // What a closing window sends may be cut off; then the words go home from the next one.
      page = await newPage(page.context());
      await page.goto("/turn");
    }
    const texts = page.context().request;
    await expect.poll(async () => (await texts.get(`${where}/text`)).text()).toContain(` ${word}`);
  }
  await page.goto("/turn");
  await expect(page.getByText("Not saved yet")).toHaveCount(0);
  await leave(page);
});

test("the last letter before a page goes is sent along with the others", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  const where = await beginItem(page, "To the last letter", SECTION);
  await write(page, "The pat");
  const texts = page.context().request;
  await expect.poll(async () => (await texts.get(`${where}/text`)).text()).toContain("The pat");
  await saved(page);
  const sent = page.waitForRequest((request) => request.postData()?.includes('"leaves":true') ?? false);
  await page.evaluate(async () => {
    document.execCommand("insertText", false, "h");
    // The editor has seen it, and still gathers.
    await new Promise((seen) => requestAnimationFrame(seen));
    window.dispatchEvent(new Event("pagehide"));
  });
  expect((await sent).postData()).toContain("The path");
  await leave(page);
});

test("words that arrived without being heard of are one's own, in this window and in the next", async ({ browser }) => {
  let page = await signIn(browser, "Mina Tauberg");
  const where = await beginItem(page, "Half heard", SECTION);
  const texts = page.context().request;
  const there = async () => (await texts.get(`${where}/text`)).text();
  await write(page, "The path.");
  // The server takes what is sent; its answer gets lost.
  const unheard = async (route: Route) => {
    if (route.request().method() === "POST") await route.fetch();
    await route.abort();
  };
  await page.route("**/text", unheard);
  await page.keyboard.type(" One");
  await expect(page.getByText("not saved: no connection, kept here")).toBeVisible();
  await page.keyboard.type(" and two");
  await page.unroute("**/text", unheard);
  await saved(page);
  await expect(page.getByRole("region", { name: "Two texts" })).toHaveCount(0);
  expect(await there()).toContain("The path. One and two");
  let arrived = 0;
  await page.route("**/text", async (route) => {
    await route.fetch();
    arrived += 1;
  });
  await page.keyboard.type(" and three");
  await expect.poll(() => arrived).toBeGreaterThan(0);
  await page.keyboard.type(" and four.");
  await expect
    .poll(() => page.evaluate(() => JSON.stringify(Object.values(localStorage)).includes("and four.")))
    .toBe(true);
  await page.close();
  page = await newPage(page.context());
  await page.goto("/turn");
  await expect.poll(there).toContain("The path. One and two and three and four.");
  await expect(page.getByText("Not saved yet")).toHaveCount(0);
  await leave(page);
});

test("words no piece takes any more are taken along, and then let go of", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  await beginItem(page, "Nowhere to go", SECTION);
  await write(page, "Seen by all.");
  await page.route("**/text", (route) => route.abort());
  await page.keyboard.type(" Mine alone.");
  await expect(page.getByText("not saved: no connection, kept here")).toBeVisible();
  await page.getByRole("link", { name: "Schedule", exact: true }).click();
  await page.getByText("They do not go home?").click();
  const words = page.getByRole("list", { name: "Words kept here" });
  await expect(words.getByRole("button", { name: /^Let them go/ })).toHaveCount(0);
  const download = page.waitForEvent("download");
  await words.getByRole("button", { name: "Take the words along" }).click();
  expect(readFileSync(await (await download).path(), "utf8")).toBe("Nowhere to go\n\nSeen by all. Mine alone.");
  await accessible(page);
  await words.getByRole("button", { name: /^Let them go/ }).click();
  await expect(page.getByText("Not saved yet")).toHaveCount(0);
  await leave(page);
});

test("words nobody could save are their writer's: the next person in the same browser never meets them", async ({
  browser,
}) => {
  const page = await signIn(browser, "Mina Tauberg");
  const where = await beginItem(page, "Left on a shared machine", SECTION);
  await write(page, "Seen by all.");
  await page.route("**/text", (route) => route.abort());
  await page.keyboard.type(" Mine alone.");
  await expect(page.getByText("not saved: no connection, kept here")).toBeVisible();
  await page.getByRole("link", { name: "Schedule", exact: true }).click();
  await expect(page.getByText("Not saved yet, kept in this browser: Left on a shared machine")).toBeVisible();
  await accessible(page);

  await signOut(page, "Mina Tauberg");
  await expect(page.getByText("They wait in this browser for whoever typed them")).toBeVisible();
  await page.unroute("**/text");
  await page.goto(`/sign-in?to=${encodeURIComponent(new URL(where).pathname)}`);
  await expect(page.getByText("You are led there afterwards.")).toBeVisible();
  await page.getByRole("button", { name: /^Ilda Marenzi/ }).click();
  await expect(page.getByText("Seen by all.")).toBeVisible();
  await expect(page.getByText("Mine alone.")).toHaveCount(0);
  await page.goto("/turn");
  await expect(page.getByText("Not saved yet")).toHaveCount(0);

  await signOut(page, "Ilda Marenzi");
  await page.getByRole("button", { name: /^Mina Tauberg/ }).click();
  await page.waitForURL("**/turn");
  // They go where they belong without being opened.
  const texts = page.context().request;
  await expect.poll(async () => (await texts.get(`${where}/text`)).text()).toContain("Mine alone.");
  await page.goto(where);
  await expect(item(page)).toContainText("Seen by all. Mine alone.");
  await saved(page);
  await leave(page);
});

test("a browser without room says so, and asks before the words are lost", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  await beginItem(page, "A full disk", SECTION);
  await page.evaluate(() => {
    Storage.prototype.setItem = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
  });
  await write(page, "Saved all the same.");
  await page.route("**/text", (route) => route.abort());
  await page.keyboard.type(" Nowhere.");
  await seen(page.getByText("no room in this browser: leave it open"));
  const asked = page.waitForEvent("dialog");
  await page.close({ runBeforeUnload: true });
  await (await asked).dismiss();
  await expect(item(page)).toContainText("Nowhere.");
  await leave(page);
});
