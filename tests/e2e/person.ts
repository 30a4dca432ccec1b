import path from "node:path";
import { setTimeout } from "node:timers/promises";
import { type Browser, type BrowserContext, expect, type Locator, type Page, test } from "@playwright/test";

/** Signs a person out by their own menu. */
export async function signOut(page: Page, name: string): Promise<void> {
  await page.getByRole("button", { name, exact: true }).click();
  await page.getByRole("menuitem", { name: "Sign out" }).click();
}

/** Picks from what a field offers while one types; with no words it is emptied. */
export async function pick(field: Locator, words: string): Promise<void> {
  await field.fill(words);
  if (words) await field.page().getByRole("option", { name: words, exact: true }).click();
  else await field.blur();
}

/** Chooses from a list by what a choice is called. */
export async function choose(list: Locator, name: string | RegExp): Promise<void> {
  await list.click();
  await list.page().getByRole("option", { name, exact: true }).click();
}

/** Where the node under test keeps its data: each half of the specs has its own. */
export const dataFolder = () => path.join(process.env.ELENCO_DATA_DIR ?? "test-results/data", test.info().project.name);

/**
 * A page that, gone to or loaded anew, is waited for until it hears: one clicked on while its
 * scripts are still coming says nothing.
 */
export async function newPage(context: BrowserContext): Promise<Page> {
  const page = await context.newPage();
  const hears = async () => {
    await page.waitForFunction(() => {
      // A page without the router hears nothing by it, whatever script of its own it has.
      if (!("__reactRouterContext" in window)) return true;
      const there = document.querySelectorAll("h1, main, section");
      const heard = (one: object) => Object.keys(one).some((key) => /^__react/.test(key));
      return there.length > 0 ? [...there].every(heard) : heard(document);
    });
    // What listens to keys begins to once that is on screen.
    await page.evaluate(() => new Promise((seen) => requestAnimationFrame(() => requestAnimationFrame(seen))));
  };
  const { goto, reload } = page;
  page.goto = async (...asked) => {
    const answer = await goto.apply(page, asked);
    // Who acts the moment a page appears does not wait.
    if (asked[1]?.waitUntil !== "commit") await hears();
    return answer;
  };
  page.reload = async (...asked) => {
    const answer = await reload.apply(page, asked);
    await hears();
    return answer;
  };
  return page;
}

/** Signs a demo person in, in a browser of their own: by the form of the sign-in page, without the page. */
export async function signIn(browser: Browser, name: string): Promise<Page> {
  const context = await browser.newContext();
  const door = await (await context.request.get("/sign-in")).text();
  const [, person] = new RegExp(`value="([0-9a-f-]{36})"[^>]*>(?:<[^>]*>)*${name}`).exec(door) ?? [];
  if (!person) throw new Error(`${name} is not at the door`);
  await context.request.post("/sign-in", { form: { person } });
  const page = await newPage(context);
  await page.goto("/turn");
  return page;
}

/** Moves the demo's clock forward by an ISO 8601 duration. */
export async function advance(page: Page, length: string): Promise<void> {
  await page.goto("/standins/clock");
  const before = await page.getByRole("status").textContent();
  await page.getByLabel("Or by a length of your own").fill(length);
  await page.getByRole("button", { name: "Move on" }).click();
  await expect(page.getByRole("status")).not.toHaveText(before ?? "");
}

/** Has bulletin items travel their usual line, whichever another spec put them on. */
export async function onTheirLine(ilda: Page): Promise<void> {
  await ilda.goto("/workflows");
  await choose(ilda.getByLabel("Workflow of Bulletin", { exact: true }), "Bulletin item");
  await expect(ilda.getByRole("region", { name: "Bulletin item", exact: true })).toContainText("Bulletin");
}

/** Begins a bulletin item and returns its address. */
export async function beginItem(page: Page, title: string, section = "Bulletin"): Promise<string> {
  await page.goto("/pieces/new");
  await choose(page.getByLabel("Kind"), "Bulletin item");
  await choose(page.getByLabel("Section"), section);
  await page.getByLabel("Title").fill(title);
  await page.getByRole("button", { name: "Begin" }).click();
  await page.waitForURL(/\/pieces\/(?!new)/);
  return page.url();
}

/** Writes into the text and waits until the server has it. */
export async function write(page: Page, words: string, field = "Item"): Promise<void> {
  const text = page.getByRole("textbox", { name: field });
  await text.click();
  await page.keyboard.press("Control+End");
  await page.keyboard.type(words);
  await saved(page);
}

/** Waits until the head says the text is saved. */
export async function saved(page: Page): Promise<void> {
  await expect(page.locator("p", { hasText: /version \d+ · saved/ })).toBeVisible();
}

/** Takes a step from the head, filling the panel beside the text. */
export async function send(
  page: Page,
  step: string,
  fill: (page: Page) => Promise<void> = async () => undefined,
): Promise<void> {
  await page.getByRole("link", { name: step, exact: true }).click();
  await fill(page);
  await page.getByRole("region", { name: step, exact: true }).getByRole("button", { name: step, exact: true }).click();
  await expect(page.getByRole("region", { name: step, exact: true })).toBeHidden();
}

/** An address out of the latest mail to somebody, once it has come. */
export async function linkInMail(page: Page, to: string, pattern: RegExp): Promise<string> {
  let link = "";
  await expect
    .poll(async () => {
      const mails = (await (await page.request.get("/standins/post.json")).json()) as {
        recipient: string;
        body: string;
      }[];
      const found = mails.flatMap((mail) => (mail.recipient === to ? (pattern.exec(mail.body)?.[0] ?? []) : []));
      link = found[0] ?? "";
      return link;
    })
    .not.toBe("");
  return link;
}

/** Selects words of the text as a hand does. */
export async function select(page: Page, words: string): Promise<void> {
  const done = await page.evaluate((wanted) => {
    const text = document.querySelector("article [data-field] .manuscript");
    const walk = document.createTreeWalker(text ?? document, NodeFilter.SHOW_TEXT);
    for (let node = walk.nextNode(); node; node = walk.nextNode()) {
      const at = (node as Text).data.indexOf(wanted);
      if (at < 0) continue;
      (text as HTMLElement).focus();
      getSelection()?.setBaseAndExtent(node, at, node, at + wanted.length);
      return true;
    }
    return false;
  }, words);
  expect(done, `“${words}” stands in the text`).toBe(true);
}

/** Lets a page wait a while for what it asks the server for, and acts meanwhile as somebody does who is quick. */
export async function slowToLearn(page: Page, acts: () => Promise<void>): Promise<void> {
  const asked = /\.data(\?|$)/;
  await page.route(asked, async (route) => {
    if (route.request().method() === "GET") await setTimeout(4_000);
    await route.fallback();
  });
  await acts();
  await page.unroute(asked);
}
