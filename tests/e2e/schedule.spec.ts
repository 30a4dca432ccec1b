import { accessible, fits } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { choose, leave, seen, signIn } from "./person.ts";

let ilda: Page;
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
});

const grid = (page: Page) => page.getByRole("grid", { name: "What leaves when" });
const carrying = (page: Page) => page.getByRole("region", { name: "Carrying" });
/** The cell the keyboard is in. */
const active = async (page: Page) => {
  const id = await grid(page).getAttribute("aria-activedescendant");
  return page.locator(`[id="${id}"]`);
};

/** Walks to a planned piece and says where it is. */
async function walkTo(page: Page, title: string): Promise<string> {
  const cell = page.getByRole("gridcell").filter({ has: page.getByTitle(title, { exact: true }) });
  const [, lane, day] = /^cell-(\d+)-(\d+)$/.exec((await cell.getAttribute("id")) ?? "") ?? [];
  await grid(page).focus();
  await page.keyboard.press("Home");
  for (let i = 0; i < 20; i++) await page.keyboard.press("ArrowUp");
  for (let i = 0; i < Number(lane); i++) await page.keyboard.press("ArrowDown");
  for (let i = 0; i < Number(day); i++) await page.keyboard.press("ArrowRight");
  await expect(await active(page)).toHaveAttribute("aria-label", new RegExp(title));
  return (await cell.getAttribute("data-day")) ?? "";
}

test("by keyboard alone: walked, opened beside, taken up, put back, carried, dropped, and undone", async () => {
  await ilda.goto("/schedule");
  await accessible(ilda);
  const title = (await ilda.locator("td [title].cursor-grab").first().getAttribute("title")) ?? "";
  const from = await walkTo(ilda, title);
  await ilda.keyboard.press("Enter");
  const opened = ilda.getByRole("region", { name: /, \w+ \d+ \w+$/ });
  await expect(opened.getByRole("link", { name: title })).toBeVisible();
  await expect(opened.getByRole("button", { name: "Leave" })).toBeFocused();
  await accessible(ilda);
  await ilda.keyboard.press("Escape");
  await expect(grid(ilda)).toBeFocused();
  await ilda.keyboard.press("m");
  await expect(carrying(ilda)).toContainText(title);
  await ilda.keyboard.press("ArrowRight");
  await ilda.keyboard.press("ArrowDown");
  await expect(carrying(ilda)).toContainText(/leaves \d\d:\d\d/);
  await accessible(ilda);
  await ilda.keyboard.press("Escape");
  await expect(carrying(ilda)).toHaveCount(0);
  await expect(grid(ilda)).toBeFocused();
  await expect(await active(ilda)).toHaveAttribute("data-day", from);
  await ilda.keyboard.press("m");
  for (let i = 0; i < 7; i++) await ilda.keyboard.press("ArrowRight");
  const to = (await (await active(ilda)).getAttribute("data-day")) ?? "";
  await ilda.keyboard.press("Enter");
  await seen(ilda.getByText(`${title} moved to`));
  await expect(grid(ilda)).toBeFocused();
  const cellOf = () => ilda.getByRole("gridcell").filter({ has: ilda.getByTitle(title, { exact: true }) });
  await expect(cellOf()).toHaveAttribute("data-day", to);
  await ilda.getByRole("button", { name: "Undo" }).click();
  await expect(cellOf()).toHaveAttribute("data-day", from);
  await ilda.reload();
  await expect(cellOf()).toHaveAttribute("data-day", from);
});

test("by pointer it is carried too; whoever moves what somebody else moved meanwhile is told, and nothing is lost", async ({
  browser,
}) => {
  await ilda.goto("/schedule");
  const mark = ilda.locator("td .cursor-grab[title]").first();
  const title = (await mark.getAttribute("title")) ?? "";
  const kai = await signIn(browser, "Kai Wendt");
  await kai.goto("/schedule");
  const drag = async (page: Page, days: number) => {
    const shown = page.locator(`td .cursor-grab[title="${title}"]`);
    const box = await shown.boundingBox();
    const cell = await shown.locator("xpath=ancestor::td").boundingBox();
    if (!box || !cell) throw new Error("the mark is not there");
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + (cell.width * days) / 2, y, { steps: 4 });
    await page.mouse.move(x + cell.width * days, y, { steps: 4 });
    await expect(carrying(page)).toContainText(title);
    await page.mouse.up();
  };
  await kai.route("**/live**", (route) => route.abort());
  await kai.reload();
  await expect(kai.locator(`td .cursor-grab[title="${title}"]`)).toBeVisible();
  await drag(ilda, 2);
  await seen(ilda.getByText(`${title} moved to`));
  await drag(kai, 3);
  await expect(kai.getByRole("alert")).toContainText(title);
  await leave(kai);
});

test("a month is planned: what is ready is put onto its days by pointer, or by keyboard alone", async () => {
  await ilda.goto("/schedule");
  const waiting = ilda.getByRole("list", { name: "Ready, not planned" });
  const [first = "", second = ""] = await waiting.getByRole("link").allTextContents();
  const cellOf = (title: string) => ilda.getByRole("gridcell").filter({ has: ilda.getByTitle(title, { exact: true }) });
  const dayOf = async (title: string) => (await cellOf(title).getAttribute("data-day")) ?? "";

  // By pointer: from beside onto a day two weeks on.
  const from = await waiting.getByRole("link", { name: first, exact: true }).boundingBox();
  const day = ilda.getByRole("gridcell").and(ilda.locator("[data-day='2026-12-09']")).first();
  const to = await day.boundingBox();
  if (!from || !to) throw new Error("there is nothing to carry");
  await ilda.mouse.move(from.x + 20, from.y + 8);
  await ilda.mouse.down();
  await ilda.mouse.move(from.x - 40, from.y + 8, { steps: 4 });
  await ilda.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await expect(carrying(ilda)).toContainText(first);
  await ilda.mouse.up();
  await seen(ilda.getByText(`${first} moved to`));
  await expect.poll(() => dayOf(first)).toBe("2026-12-09");
  await expect(waiting.getByRole("link", { name: first, exact: true })).toHaveCount(0);

  // By keyboard alone: taken up where it waits, carried by days and weeks, dropped; then moved on.
  await waiting.getByRole("link", { name: second, exact: true }).focus();
  await ilda.keyboard.press("m");
  await expect(carrying(ilda)).toContainText(second);
  await expect(grid(ilda)).toBeFocused();
  await ilda.keyboard.press("ArrowDown");
  await ilda.keyboard.press("ArrowRight");
  const wanted = (await (await active(ilda)).getAttribute("data-day")) ?? "";
  await accessible(ilda);
  await ilda.keyboard.press("Enter");
  await seen(ilda.getByText(`${second} moved to`));
  await expect.poll(() => dayOf(second)).toBe(wanted);
  await expect(grid(ilda)).toBeFocused();
  await walkTo(ilda, first);
  await ilda.keyboard.press("m");
  await ilda.keyboard.press("ArrowDown");
  await ilda.keyboard.press("Enter");
  await expect.poll(() => dayOf(first)).toBe("2026-12-16");
  await ilda.reload();
  await expect.poll(() => dayOf(first)).toBe("2026-12-16");
  await expect.poll(() => dayOf(second)).toBe(wanted);
});

test("weeks, lanes and what is narrowed stay in the address; a day opened on a narrow screen is its list", async ({
  browser,
}) => {
  await ilda.goto("/schedule");
  await ilda.getByRole("link", { name: "a quarter" }).click();
  await ilda.getByRole("link", { name: "by kind" }).click();
  await choose(ilda.getByRole("combobox", { name: "Every section" }), "Huts");
  await ilda.waitForURL(/section=huts/);
  await expect(ilda).toHaveURL(/weeks=13/);
  await expect(ilda.getByRole("rowheader", { name: "Hut page" })).toBeVisible();
  await ilda.reload();
  await expect(ilda.getByRole("rowheader", { name: "Hut page" })).toBeVisible();
  await accessible(ilda);
  const narrow = await signIn(browser, "Kai Wendt");
  await narrow.setViewportSize({ width: 360, height: 800 });
  await narrow.goto("/schedule");
  await expect(grid(narrow)).toBeHidden();
  const days = narrow.getByRole("navigation", { name: "Days" });
  await days.getByRole("link").nth(7).click();
  await expect(days.locator("[aria-current=date]")).toHaveCount(1);
  await accessible(narrow);
  await fits(narrow);
  await leave(narrow);
});

test("windows are written and drawn, what they would move is shown first, and a wish says when it leaves", async () => {
  await ilda.goto("/publication/channels");
  await ilda.getByLabel("Monday").fill("at night");
  await ilda.getByRole("button", { name: "Keep it" }).click();
  await expect(ilda.getByText(/^Write hours as 06:00-22:00/)).toBeVisible();
  await expect(ilda.getByLabel("Monday")).toHaveValue("at night");
  await expect(ilda.getByLabel("Monday")).toBeFocused();
  await accessible(ilda);
  await ilda.getByLabel("Monday").fill("22:00-06:00");
  await ilda.getByRole("button", { name: "Keep it" }).click();
  await expect(ilda.getByText(/planned releases? would move/)).toBeVisible();
  await ilda.getByLabel("Monday").fill("05:00-24:00");
  await ilda.getByRole("button", { name: /^Keep it/ }).click();
  await expect(ilda.getByText("Kept. No release moved.")).toBeVisible();

  await ilda.goto("/schedule");
  // A whole edition has its date on its own page.
  const planned = ilda.locator("td .cursor-grab[title]:not([title^='Bulletin '], [title^='Quarterly '])").first();
  await planned.click();
  await ilda.getByRole("link", { name: "Another time" }).first().click();
  const panel = ilda.getByRole("region", { name: "Plan the release" });
  await panel.getByLabel(/^Date and time/).fill("2027-01-14T02:00");
  await expect(panel.getByText("Leaves Thu 14 Jan 2027, 05:00, when the next window opens.")).toBeVisible();
  await panel.getByRole("button", { name: /^(Move|Plan) the release$/ }).click();
  await expect(ilda.getByText(/Goes live Thu 14 Jan 2027, 05:00/)).toBeVisible();
});

test("the date wished for says by when each stop must be reached; under embargo it says until when", async () => {
  await ilda.goto("/pieces?state=copy-edit");
  await ilda.getByRole("list", { name: "Pieces" }).getByRole("link").first().click();
  await ilda.getByRole("link", { name: "What else" }).click();
  await ilda.getByRole("link", { name: "The date wished for" }).click();
  const panel = ilda.getByRole("region", { name: "The date wished for" });
  await panel.getByLabel(/^Wished for readers/).fill("2027-02-10T10:00");
  await expect(panel.getByRole("row", { name: /^Live/ })).toContainText("10 Feb");
  await expect(panel.getByText(/working days to spare\./)).toBeVisible();
  await panel
    .getByRole("checkbox", { name: /^Without / })
    .first()
    .check();
  await expect(panel.getByRole("cell", { name: "left out" })).toBeVisible();
  await expect(panel.getByText(/working days to spare, if what is left out were switched off\./)).toBeVisible();
  await accessible(ilda);
  await panel.getByRole("button", { name: "Save" }).click();
  await expect(ilda.getByText(/Wished for .*10 Feb/)).toBeVisible();
  await ilda.getByRole("link", { name: "What else" }).click();
  await ilda.getByRole("link", { name: "Embargo", exact: true }).click();
  const embargo = ilda.getByRole("region", { name: "Embargo" });
  await embargo.getByLabel(/^Nothing of it reaches readers before/).fill("2027-02-20T10:00");
  await embargo.getByRole("button", { name: "Save" }).click();
  await expect(ilda.getByText(/Under embargo until .*20 Feb/)).toBeVisible();
});
