import mammoth from "mammoth";
import { unzipped } from "../support/zip.ts";
import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { choose, leave, seen, signIn } from "./person.ts";

let ilda: Page;
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
});

/** Makes an edition of the bulletin beside those of its rhythm, and stands before it. */
async function make(page: Page, at: string): Promise<string> {
  await page.goto("/editions");
  await page.getByRole("region", { name: "Bulletin" }).getByRole("link", { name: "One more, at a date" }).click();
  await page.getByLabel(/^Leaves/).fill(at);
  await page.getByRole("button", { name: "Create edition" }).click();
  await page.waitForURL(/\/editions\/bulletin\/\d+$/);
  return new URL(page.url()).pathname;
}
const titles = async (page: Page, part: string) =>
  page.getByRole("region", { name: part }).locator("[data-row] a").allTextContents();
const handle = (page: Page, title: string) => page.getByRole("button", { name: `Move ${title}`, exact: false });

test("the keyboard stays where the next step is, and what is refused is said, whoever was faster", async ({
  browser,
}) => {
  // What others do does not reach this window: it acts on what it saw.
  await ilda.context().route("**/live**", (route) => route.abort());
  const address = await make(ilda, "2026-12-10 07:00");
  const puts = ilda.getByRole("button", { name: /^Put in / });
  await expect(puts.nth(2)).toBeVisible();
  const [first = "", second = "", third = ""] = (await puts.evaluateAll((all) =>
    all.map((one) => one.getAttribute("aria-label")?.replace("Put in ", "") ?? ""),
  )) as string[];
  const put = (title: string) => ilda.getByRole("button", { name: `Put in ${title}`, exact: true });
  await put(first).press("Enter");
  await expect(put(first)).toHaveCount(0);
  await expect(put(second)).toBeFocused();
  await put(second).press("Enter");
  await expect(put(third)).toBeFocused();

  await ilda.getByRole("button", { name: `What to do with ${first}` }).press("Enter");
  await ilda.getByRole("menuitem", { name: "Take it out" }).press("Enter");
  await expect(ilda.getByRole("region", { name: "News" }).getByRole("link", { name: first })).toHaveCount(0);
  await expect(handle(ilda, second)).toBeFocused();

  const kai = await signIn(browser, "Kai Wendt");
  await kai.goto("/editions/bulletin/52");
  await kai.getByRole("button", { name: `Put in ${third}`, exact: true }).click();
  await expect(kai.getByRole("region", { name: "News" }).getByRole("link", { name: third })).toBeVisible();
  await leave(kai);
  await put(third).press("Enter");
  await expect(ilda.getByRole("alert")).toContainText(`${third} is in Bulletin 52`);

  await ilda.getByRole("region", { name: "News" }).getByRole("link", { name: second }).press("Enter");
  await ilda.waitForURL(/\/pieces\//);
  await expect(ilda.getByRole("link", { name: "The edition" })).toBeVisible();
  await ilda.keyboard.press("Escape");
  await ilda.waitForURL(address);
  await expect(ilda.getByRole("region", { name: "News" }).getByRole("link", { name: second })).toBeFocused();

  await ilda.getByRole("button", { name: "Sign off" }).press("Enter");
  await expect(ilda.getByText(/is signed as it is/)).toBeVisible();
  await expect(ilda.getByRole("heading", { level: 1 })).toBeFocused();
  await ilda.context().unroute("**/live**");
});

test("from gathering to hand-over: filled by rule, ordered by keyboard and pointer, signed by two, out, and handed over", async ({
  browser,
}) => {
  const address = await make(ilda, "2026-12-07 07:00");
  await expect(ilda.getByText("Nothing is in it yet.")).toBeVisible();
  await expect(ilda.getByRole("button", { name: "Sign off" })).toBeDisabled();
  await accessible(ilda);
  await ilda.getByRole("button", { name: /^Add what is ready/ }).click();
  const news = ilda.getByRole("region", { name: "News" });
  await seen(news.locator("[data-row]"));
  const before = await titles(ilda, "News");
  expect(before.length).toBeGreaterThan(3);

  // Faster than the server answers: each step counts, and the handle keeps the keyboard.
  const [first = "", second = "", third = "", fourth = ""] = before;
  await handle(ilda, first).focus();
  await ilda.keyboard.press("ArrowDown");
  await ilda.keyboard.press("ArrowDown");
  await expect.poll(() => titles(ilda, "News")).toEqual([second, third, first, ...before.slice(3)]);
  await expect(handle(ilda, first)).toBeFocused();
  for (let i = 0; i < 3; i++) await ilda.keyboard.press("ArrowUp");
  await expect.poll(() => titles(ilda, "Lead")).toEqual([first]);
  await expect(handle(ilda, first)).toBeFocused();
  // Who leaves at once loses nothing.
  await ilda.reload();
  await expect.poll(() => titles(ilda, "Lead")).toEqual([first]);
  await expect.poll(() => titles(ilda, "News")).toEqual([second, third, ...before.slice(3)]);

  const from = await handle(ilda, fourth).boundingBox();
  const to = await ilda.getByRole("region", { name: "News" }).locator("[data-row]").first().boundingBox();
  if (!from || !to) throw new Error("there are no rows");
  await ilda.mouse.move(from.x + 8, from.y + 8);
  await ilda.mouse.down();
  await ilda.mouse.move(from.x + 8, from.y - 20, { steps: 4 });
  await ilda.mouse.move(to.x + 60, to.y + 12, { steps: 8 });
  await ilda.mouse.up();
  await expect.poll(async () => (await titles(ilda, "News"))[0]).toBe(fourth);

  await ilda.getByRole("button", { name: `What to do with ${third}` }).click();
  await accessible(ilda);
  await ilda.getByRole("menuitem", { name: "Take it out" }).click();
  await expect(news.getByRole("link", { name: third, exact: true })).toHaveCount(0);
  const order = [...(await titles(ilda, "Lead")), ...(await titles(ilda, "News"))];

  await ilda.getByRole("button", { name: "Sign off" }).click();
  await expect(ilda.getByText(/is signed as it is/)).toBeVisible();
  await expect(handle(ilda, first)).toHaveCount(0);
  const ansel = await signIn(browser, "Ansel Brio");
  await ansel.getByRole("link", { name: (await ilda.getByRole("heading", { level: 1 }).textContent()) ?? "" }).click();
  await ansel.getByRole("button", { name: "Sign off" }).click();
  await expect(ansel.getByRole("listitem").filter({ hasText: /^Ansel Brio ?today/ })).toBeVisible();
  await leave(ansel);

  await ilda.goto(address);
  await accessible(ilda);
  const take = async (form: string) => (await ilda.request.get(`${address}/document?as=${form}`)).body();
  const inOrder = (text: string) => {
    const at = order.map((title) => text.indexOf(title));
    expect(at).not.toContain(-1);
    expect(at).toEqual([...at].sort((a, b) => a - b));
  };
  inOrder((await take("txt")).toString());
  inOrder((await take("md")).toString());
  inOrder((await mammoth.extractRawText({ buffer: await take("docx") })).value);
  const files = await unzipped(await take("zip"));
  const contents = JSON.parse(files.get("contents.json")?.toString() ?? "null");
  expect(contents.pieces.map((one: { title: string }) => one.title)).toEqual(order);
  expect([...files.keys()].filter((name) => name.startsWith("pieces/"))).toHaveLength(order.length);
  inOrder((await mammoth.extractRawText({ buffer: files.get(`bulletin-${contents.number}.docx`) as Buffer })).value);
  expect((await ilda.request.get(`${address}/document?as=exe`)).status()).toBe(404);

  await ilda.getByRole("button", { name: "Release it now" }).click();
  await expect(ilda.getByText(/pieces went out\.$/)).toBeVisible();
  await expect(ilda.getByRole("article").first()).toContainText(first);
  await accessible(ilda);
  await ilda.setViewportSize({ width: 360, height: 740 });
  await accessible(ilda);
  await ilda.setViewportSize({ width: 1280, height: 800 });
});

test("what is not ready is said, a date is moved, an edition is opened again and dropped; what was typed stays when it is refused", async () => {
  const address = await make(ilda, "2026-12-08 07:00");
  await ilda.getByRole("link", { name: "Move its date" }).click();
  const panel = ilda.getByRole("region", { name: "Move its date" });
  await panel.getByLabel(/^Leaves/).fill("2026-01-01 07:00");
  await panel.getByRole("button", { name: "Move it" }).click();
  await expect(panel.getByText("That has passed.")).toBeVisible();
  await expect(panel.getByLabel(/^Leaves/)).toBeFocused();
  await panel.getByLabel(/^Leaves/).fill("2026-12-09 07:00");
  await panel.getByRole("button", { name: "Move it" }).click();
  await expect(ilda.getByText("leaves Wed 9 Dec, 07:00")).toBeVisible();
  await ilda.getByRole("link", { name: "Drop it" }).click();
  await expect(ilda.getByRole("textbox", { name: "Why" })).toBeFocused();
  await ilda.keyboard.press("Escape");
  await ilda.keyboard.press("Escape");
  await expect(ilda.getByRole("region", { name: /^Drop/ })).toHaveCount(0);
  await ilda.goto(address);
  await ilda.getByRole("link", { name: "Drop it" }).click();
  await accessible(ilda);
  await ilda.getByRole("textbox", { name: "Why" }).fill("There is no bulletin on a Wednesday.");
  await ilda.getByRole("button", { name: "Drop it" }).click();
  await ilda.waitForURL("/editions");
  expect((await ilda.goto(address))?.status()).toBe(404);
});

test("a piece is put into an edition from its own page, and through a channel at a date of its own", async () => {
  await ilda.goto("/publication/channels?channel=");
  await ilda.getByLabel("Name", { exact: true }).fill("Valley radio");
  await ilda.getByLabel("leaves at").fill("6 in the morning");
  await ilda.getByRole("button", { name: "Make it" }).click();
  await expect(ilda.getByText("Write a time such as 07:00.")).toBeVisible();
  await ilda.getByLabel("leaves at").fill("06:30");
  await ilda.getByLabel("is seen for").fill("30");
  await ilda.getByRole("button", { name: "Make it" }).click();
  await ilda.waitForURL(/channel=valley-radio/);
  await expect(ilda.getByRole("link", { name: "Valley radio", exact: true })).toBeVisible();
  await ilda.goto("/schedule");
  const ready = ilda
    .getByRole("region", { name: /Ready, not planned/ })
    .getByRole("link")
    .first();
  const title = (await ready.textContent()) ?? "";
  await ready.click();
  await ilda.waitForURL(/\/pieces\/[^?]+/);
  const piece = new URL(ilda.url()).pathname;
  await ilda.goto(`${piece}?do=through`);
  await accessible(ilda);
  await ilda.getByRole("link", { name: "Valley radio" }).click();
  await ilda.getByLabel(/^Date and time/).fill("1 Dec");
  await ilda.getByLabel(/^Date and time/).press("Tab");
  await expect(ilda.getByLabel(/^Date and time/)).toHaveValue(/06:30$/);
  await expect(ilda.getByLabel(/^Until/)).toHaveValue(/31 Dec.*06:30$/);
  await ilda.getByRole("button", { name: "Plan it" }).click();
  await expect(ilda.getByText(/Leaves through Valley radio/)).toBeVisible();
  await ilda.goto(`${piece}?do=through`);
  await choose(ilda.getByLabel("Into an edition"), /^Bulletin 51/);
  await ilda.getByRole("button", { name: "Put it in" }).click();
  await ilda.getByRole("link", { name: "Bulletin 51" }).click();
  await expect(ilda.getByRole("link", { name: title, exact: true })).toBeVisible();
  // The channel still has a date.
  await ilda.goto("/publication/channels?channel=valley-radio&do=retire");
  await ilda.getByRole("button", { name: "Give it up", exact: true }).click();
  await expect(ilda.getByText(/there is still one planned release|there are still one planned release/)).toBeVisible();
  await ilda.getByLabel(/end with it/).check();
  await ilda.getByRole("button", { name: "Give it up", exact: true }).click();
  await ilda.waitForURL(/channels$/);
  await ilda.goto(piece);
  await expect(ilda.getByText(/Leaves through Valley radio/)).toHaveCount(0);
});

test("who sees to no editions looks, and cannot touch; what was corrected since one went out is shown with just the difference", async ({
  browser,
}) => {
  const lene = await signIn(browser, "Lene Quist");
  await lene.goto("/editions");
  await accessible(lene);
  await lene.getByRole("link", { name: "Bulletin 49" }).click();
  await expect(lene.getByRole("heading", { name: "Bulletin 49" })).toBeVisible();
  await expect(lene.getByRole("button", { name: /Sign off|Add what/ })).toHaveCount(0);
  await expect(lene.getByRole("link", { name: /Drop it|Move its date/ })).toHaveCount(0);
  await lene.goto("/editions/bulletin/46");
  await lene.getByRole("link", { name: "What was corrected" }).click();
  await seen(lene.locator("article ins"));
  await accessible(lene);
  await lene.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await lene.getByRole("button", { name: "Copy just the difference" }).click();
  await expect(lene.getByText("Copied.", { exact: true })).toBeVisible();
  expect(await lene.evaluate(() => navigator.clipboard.readText())).toMatch(/^Item:\n- .+\n\+ .*the upper/);
  await leave(lene);
});
