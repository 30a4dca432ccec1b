import { type Browser, type BrowserContext, expect, type Locator, type Page, test } from "./house.ts";

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

/** Browsers of people who left, by the publication and the name: a page of theirs opens three times as fast as one of a new browser. */
const left = new Map<string, BrowserContext[]>();
const owners = new WeakMap<BrowserContext, string>();

/**
 * Signs a demo person in, in a browser of their own: by the form of the sign-in page, without the page.
 * Who left before is back in that browser, which has kept nothing but the sign-in.
 */
export async function signIn(browser: Browser, name: string): Promise<Page> {
  const { baseURL = "" } = test.info().project.use;
  const owner = `${baseURL} ${name}`;
  const known = left.get(owner)?.pop();
  if (known) {
    const page = await newPage(known);
    await page.goto("/turn");
    if (new URL(page.url()).pathname === "/turn") return page;
    await known.close();
  }
  const context = await browser.newContext();
  owners.set(context, owner);
  const door = await (await context.request.get("/sign-in")).text();
  const [, person] = new RegExp(`value="([0-9a-f-]{36})"[^>]*>(?:<[^>]*>)*${name}`).exec(door) ?? [];
  if (!person) throw new Error(`${name} is not at the door`);
  await context.request.post("/sign-in", { form: { person } });
  const page = await newPage(context);
  await page.goto("/turn");
  return page;
}

/** Closes a person's pages, and forgets what their browser kept of them. */
export async function leave(page: Page): Promise<void> {
  const context = page.context();
  const owner = owners.get(context);
  if (!owner || page.isClosed()) return context.close();
  await page.goto("/healthz");
  await page.evaluate(async () => {
    localStorage.clear();
    for (const { name } of await indexedDB.databases()) if (name) indexedDB.deleteDatabase(name);
  });
  for (const open of context.pages()) await open.close();
  left.set(owner, [...(left.get(owner) ?? []), context]);
}

/** Moves the demo's clock forward by an ISO 8601 duration. */
export async function advance(page: Page, length: string): Promise<void> {
  await page.goto("/standins/clock");
  const before = await page.getByRole("status").textContent();
  await page.getByLabel("Or by a length of your own").fill(length);
  await page.getByRole("button", { name: "Move on" }).click();
  await expect(page.getByRole("status")).not.toHaveText(before ?? "");
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

/** Expects something to be on the screen, once or more often. */
export const seen = (wanted: Locator): Promise<void> => expect(wanted.filter({ visible: true })).not.toHaveCount(0);

interface Mail {
  recipient: string;
  subject: string;
  body: string;
}

/** The mail to an address that says something in its subject or text, once it has come. */
export async function mailTo(page: Page, to: string, says: string | RegExp): Promise<Mail> {
  let found: Mail | undefined;
  const has = (text: string) => (typeof says === "string" ? text.includes(says) : says.test(text));
  const look = async () => {
    const mails = (await (await page.request.get("/standins/post.json")).json()) as Mail[];
    found = mails.find((mail) => mail.recipient === to && has(`${mail.subject}\n${mail.body}`));
    return found !== undefined;
  };
  await expect.poll(look, { message: `a mail to ${to} says ${says}` }).toBe(true);
  return found as Mail;
}

/** An address out of the latest mail to somebody that names one, once it has come. */
export const linkInMail = async (page: Page, to: string, pattern: RegExp): Promise<string> =>
  pattern.exec((await mailTo(page, to, pattern)).body)?.[0] ?? "";

/** Waits until what is at an address says something: what jobs do comes a moment after its reason. */
export async function served(page: Page, address: string, says: string | RegExp): Promise<void> {
  const words = async () =>
    (await (await page.request.get(address)).text())
      .replace(/<!--.*?-->/g, "")
      .replace(/<[^>]*>/g, " ")
      .replace(/\s+/g, " ");
  await expect.poll(words).toMatch(says);
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

/** Holds back what a page asks the server for while somebody quick acts; afterwards the page learns it. */
export async function slowToLearn(page: Page, acts: () => Promise<void>): Promise<void> {
  const asked = /\.data(\?|$)/;
  const held: (() => Promise<void>)[] = [];
  let holds = true;
  await page.route(asked, (route) => {
    if (!holds || route.request().method() !== "GET") return route.fallback();
    held.push(() => route.fallback());
  });
  await acts();
  holds = false;
  for (const goOn of held) await goOn();
}
