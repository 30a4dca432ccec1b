import { faults, faultsByNight, fits } from "./axe.ts";
import { type Browser, expect, type Page, test } from "./house.ts";
import { beginItem, choose, leave, seen, signIn } from "./person.ts";

/** One page for each person, who goes from screen to screen in it. */
const pages = new Map<string, Page>();
const pageOf = async (browser: Browser, who: string) => {
  const page = pages.get(who) ?? (await signIn(browser, who));
  pages.set(who, page);
  return page;
};
test.afterAll(() => Promise.all([...pages.values()].map((page) => leave(page))));

const firstPiece = async (page: Page) => {
  if (!page.url().endsWith("/turn")) await page.goto("/turn");
  return (await page.locator("[data-row] a").first().getAttribute("href")) ?? "";
};

const SCREENS: [name: string, heading: RegExp, who: string, where: (page: Page) => Promise<string>][] = [
  ["your turn", /wait/, "Jorun Faas", async () => "/turn"],
  ["pieces", /pieces? in all/, "Ilda Marenzi", async () => "/pieces?show=all"],
  ["a piece to decide on", /Decide on version/, "Jorun Faas", async (page) => `${await firstPiece(page)}?do=decide`],
  ["a piece to write", /./, "Noor Castellan", firstPiece],
  ["a new piece", /New piece|A new piece/, "Noor Castellan", async () => "/pieces/new"],
  ["schedule", /^What leaves when$/, "Ilda Marenzi", async () => "/schedule"],
  ["what else there is to do", /What else/, "Ilda Marenzi", async (page) => `${await firstPiece(page)}?do=more`],
  ["who has it", /Who has it/, "Ilda Marenzi", async (page) => `${await firstPiece(page)}?do=pass`],
  ["where it belongs", /Where it belongs/, "Ilda Marenzi", async (page) => `${await firstPiece(page)}?do=place`],
  ["past its rules", /past its rules/, "Ilda Marenzi", async (page) => `${await firstPiece(page)}?do=override`],
  ["one thing to many, none chosen", /Nothing is chosen/, "Ilda Marenzi", async () => "/together"],
  ["deleted pieces", /^Deleted pieces$/, "Ilda Marenzi", async () => "/pieces/deleted"],
  ["the publication", /^Publication$/, "Ilda Marenzi", async () => "/publication"],
  ["workflows", /^Workflows$/, "Ilda Marenzi", async () => "/workflows"],
  ["the studio", /Route guide/, "Ilda Marenzi", async () => "/workflows/route-guide"],
  ["a rehearsal", /Route guide/, "Ilda Marenzi", async () => "/workflows/route-guide?look=rehearse"],
  ["what changes", /Route guide/, "Ilda Marenzi", async () => "/workflows/route-guide?look=changes"],
  ["people", /works? here$/, "Ilda Marenzi", async () => "/people?do=invite"],
  ["a person", /Ansel Brio/, "Ilda Marenzi", async () => "/people/who/ansel"],
  ["ending access", /Petra Holmqvist/, "Ilda Marenzi", async () => "/people/who/petra?do=end"],
  ["roles", /^What each role allows$/, "Ilda Marenzi", async () => "/people/roles?role=lead&with=writer"],
  ["groups", /Groups/, "Ilda Marenzi", async () => "/people/groups?group=winter-desk"],
  ["taking in", /^Taking in$/, "Ilda Marenzi", async () => "/publication/intake"],
  [
    "a request's form",
    /A mistake on a path/,
    "Ilda Marenzi",
    async () => "/publication/intake?form=a-mistake-on-a-path",
  ],
  ["sections", /Sections/, "Ilda Marenzi", async () => "/publication/sections"],
  ["kinds", /^Kinds$/, "Ilda Marenzi", async () => "/publication/kinds?kind=route-guide"],
  ["the record", /^The record$/, "Ilda Marenzi", async () => "/publication/record"],
  ["why", /./, "Ilda Marenzi", async () => "/why?person=tobia&action=piece.release"],
  ["one's own account", /Noor Castellan/, "Noor Castellan", async () => "/me?do=second-factor"],
  ["a forgotten password", /./, "Noor Castellan", async () => "/forgot"],
  ["how one is told", /^How you are told$/, "Noor Castellan", async () => "/notices/how"],
  ["what waits anywhere", /^Waiting$/, "Ilda Marenzi", async () => "/pending"],
  ["the load", /^Load$/, "Ilda Marenzi", async () => "/load"],
  ["messages", /^Messages$/, "Ilda Marenzi", async () => "/publication/telling"],
  ["rules", /^Rules$/, "Ilda Marenzi", async () => "/publication/rules"],
  ["channels", /^Channels$/, "Ilda Marenzi", async () => "/publication/channels"],
  ["a channel of editions", /^Channels$/, "Ilda Marenzi", async () => "/publication/channels?channel=bulletin"],
  ["a new channel", /^Channels$/, "Ilda Marenzi", async () => "/publication/channels?channel="],
  ["editions", /^Editions$/, "Ilda Marenzi", async () => "/editions?make=bulletin"],
  ["an edition being filled", /^Bulletin 49$/, "Ilda Marenzi", async () => "/editions/bulletin/49?do=add"],
  ["a signed edition", /^Bulletin 48$/, "Ilda Marenzi", async () => "/editions/bulletin/48?do=reopen"],
  ["an empty edition", /^Bulletin 51$/, "Ilda Marenzi", async () => "/editions/bulletin/51"],
  ["an edition as it went out", /^Bulletin 46$/, "Noor Castellan", async () => "/editions/bulletin/46"],
  ["wording", /^Wording$/, "Ilda Marenzi", async () => "/publication/wording"],
  ["the words of a notice", /commented on/, "Ilda Marenzi", async () => "/publication/wording/comment.made/concerned"],
  ["the chat stand-in", /^Chat$/, "Noor Castellan", async () => "/standins/chat"],
  ["notices", /^Notices$/, "Noor Castellan", async () => "/notices"],
  ["the reader site", /./, "Noor Castellan", async () => "/read"],
  ["the mail stand-in", /./, "Noor Castellan", async () => "/standins/post"],
  ["the clock stand-in", /./, "Noor Castellan", async () => "/standins/clock"],
  ["what screens are made of", /^Surface$/, "Noor Castellan", async () => "/standins/surface"],
  ["sign-in", /Fontelba Trails/, "Noor Castellan", async () => "/sign-in"],
];

/** The screens that are looked at by night too: between them they have every colour there is. */
const BY_NIGHT = ["your turn", "a piece to decide on", "the studio", "schedule"];

for (const [name, heading, who, where] of SCREENS) {
  test(`${name}: nothing for axe to find, no error in the console, no sideways scrolling at 360 px`, async ({
    browser,
  }) => {
    const page = await pageOf(browser, who);
    await page.setViewportSize({ width: 1280, height: 800 });
    const address = await where(page);
    const errors: string[] = [];
    page.on("console", (message) => message.type() === "error" && errors.push(message.text()));
    page.on("pageerror", (error) => errors.push(String(error)));
    const answer = await page.goto(address);
    expect(answer?.status()).toBe(200);
    await seen(page.getByRole("heading", { name: heading }));
    expect(await faults(page)).toEqual([]);
    if (BY_NIGHT.includes(name)) expect(await faultsByNight(page)).toEqual([]);
    await page.setViewportSize({ width: 360, height: 740 });
    await fits(page);
    expect(errors).toEqual([]);
    page.removeAllListeners("console").removeAllListeners("pageerror");
  });
}

test("a decision by keyboard alone", async ({ browser }) => {
  const page = await signIn(browser, "Jorun Faas");
  const row = page.locator("[data-row]").first();
  await page.keyboard.press("j");
  await expect(page.locator("[data-row] a:focus")).toBeVisible();
  await page.keyboard.press("j");
  for (let i = 0; i < 12; i++) await page.keyboard.press("k");
  await expect(row.getByRole("link").first()).toBeFocused();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Tab");
  await expect(row.getByRole("link", { name: "Decide" })).toBeFocused();
  await page.keyboard.press("Enter");
  const note = page.getByRole("region", { name: /Decide on version/ }).getByLabel("Note");
  await note.focus();
  await page.keyboard.type("The distance is wrong.");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Tab");
  await expect(page.getByRole("button", { name: "Needs work" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByText(/With .* since today/)).toBeVisible();
  await leave(page);
});

test("a panel opens where one sees it, and begins at its first field, at any width", async ({ browser }) => {
  const page = await signIn(browser, "Ilda Marenzi");
  const address = await beginItem(page, "Looked at on a small screen");
  const panels = { "What else": "What else", "take along": "Take it along", "no guests": "Guests" };
  for (const width of [360, 800, 1280]) {
    await page.setViewportSize({ width, height: 740 });
    for (const [link, panel] of Object.entries(panels)) {
      await page.goto(address);
      await page.getByRole("link", { name: link, exact: true }).click();
      const begun = page.getByRole("region", { name: panel, exact: true }).locator(":focus");
      await expect(begun).toHaveCount(1);
      await expect(begun).not.toHaveAttribute("data-back");
      await expect(begun).toBeInViewport();
    }
  }
  await leave(page);
});

test("finding a piece and a place from anywhere, and the list of keys", async ({ browser }) => {
  const page = await signIn(browser, "Ilda Marenzi");
  await page.goto("/schedule", { waitUntil: "load" });
  await expect(page.getByRole("combobox", { name: "Find a piece or a place" })).toBeEditable();
  await page.keyboard.press("Control+k");
  await page.keyboard.type("Snowshoe loop");
  await expect(page.getByRole("option", { name: /Snowshoe loop at Prato Alto/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Snowshoe loop at Prato Alto" })).toBeVisible();
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.keyboard.press("Escape");
  // It leads back to the list one came from.
  await page.waitForURL("**/schedule");
  await leave(page);
});

test("what waits on somebody appears while they look, without a reload", async ({ browser }) => {
  const petra = await signIn(browser, "Petra Holmqvist");
  const noor = await signIn(browser, "Noor Castellan");
  const title = "Seen at once";
  await noor.goto("/pieces/new");
  await choose(noor.getByLabel("Kind"), "Hut page");
  await choose(noor.getByLabel("Section"), "Huts");
  await noor.getByLabel("Title").fill(title);
  await noor.getByRole("button", { name: "Begin" }).click();
  await noor.getByLabel("Standfirst", { exact: true }).fill("A hut.");
  await noor.getByLabel("Opening weeks", { exact: true }).fill("All year");
  await noor.getByLabel("Beds", { exact: true }).fill("12");
  await noor
    .getByRole("textbox", { name: "The hut" })
    .fill("The hut stands above the mill and has a bench. ".repeat(8));
  await expect(noor.getByRole("link", { name: "Send for copy edit", exact: true })).toBeVisible();
  await noor.getByRole("link", { name: "Send for copy edit", exact: true }).click();
  await noor.getByLabel(/Petra Holmqvist/).check();
  await noor.getByRole("button", { name: "Send for copy edit" }).click();
  await expect(petra.getByRole("listitem").filter({ hasText: title })).toBeVisible();
  for (const page of [petra, noor]) await leave(page);
});

test("a very long name fits everywhere", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  await beginItem(page, `${"Donaudampfschifffahrtsgesellschaftskapitänsmütze".repeat(4)}`);
  for (const address of [page.url(), "/turn", "/pieces"]) {
    await page.goto(address);
    for (const width of [1280, 360]) {
      await page.setViewportSize({ width, height: 800 });
      await fits(page);
    }
  }
  await leave(page);
});
