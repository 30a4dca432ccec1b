import { accessible, faults } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { leave, newPage, seen, signIn } from "./person.ts";

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await newPage(await browser.newContext());
  await page.goto("/standins/surface");
});

/** What is open has nothing for axe to find, its colours included. */
const sound = async (within?: string) => expect(await faults(page, within)).toEqual([]);

test("a list of choices: opened, walked and taken by keyboard; Esc leaves it as it was", async () => {
  const list = page.getByLabel("One of a few");
  await list.focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("option", { name: "Rifugio Passo Grigio" })).toBeFocused();
  // The rest of the page is hidden and out of reach meanwhile, which axe takes for a fault.
  await sound("[role=listbox]");
  await page.keyboard.press("ArrowUp");
  await expect(page.getByRole("option", { name: "Rifugio Casere" })).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(list).toHaveText("Rifugio Casere");
  await expect(list).toBeFocused();
  await page.keyboard.press("Enter");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Escape");
  await expect(list).toHaveText("Rifugio Casere");
  await expect(list).toBeFocused();
});

test("a closed list not reached yet loses nothing: a letter typed on it, a press that ends elsewhere, a tap", async ({
  browser,
}) => {
  await page.reload();
  const list = page.getByLabel("One of a few");
  await list.focus();
  await expect(list).toBeFocused();
  await page.keyboard.press("c");
  await expect(list).toHaveText("choose");
  await page.reload();
  await list.scrollIntoViewIfNeeded();
  const box = await list.boundingBox();
  if (!box) throw new Error("the list is not there");
  await page.mouse.move(box.x + 8, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 8, box.y - 100);
  await page.mouse.up();
  await expect(list).toBeFocused();
  await expect(page.getByRole("listbox")).toHaveCount(0);
  await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("option", { name: "Rifugio Passo Grigio" })).toBeFocused();
  await page.keyboard.press("Escape");
  await expect(list).toBeFocused();
  const touched = await newPage(await browser.newContext({ hasTouch: true }));
  await touched.goto("/standins/surface");
  await touched.getByLabel("One of a few").tap();
  await touched.getByRole("option", { name: "Rifugio Casere" }).tap();
  await expect(touched.getByLabel("One of a few")).toHaveText("Rifugio Casere");
  await leave(touched);
});

test("one of many is found by typing; what is left without a choice stays what it was", async () => {
  const field = page.getByLabel("One of many");
  await field.fill("brenna");
  await sound();
  await page.keyboard.press("Enter");
  await expect(field).toHaveValue("Malga Brenna");
  await field.fill("nowhere");
  await expect(page.getByText("Nothing here is called so.")).toBeVisible();
  await field.blur();
  await expect(field).toHaveValue("Malga Brenna");
});

for (const [typed, said] of [
  ["tomorrow", "Wed 25 Nov"],
  ["in 3 wd", "Fri 27 Nov"],
  ["24.12.", "Thu 24 Dec"],
  ["2027-01-08", "Fri 8 Jan 2027"],
] as const)
  test(`a day written as ${typed} is said as ${said}`, async () => {
    const field = page.getByLabel("A day", { exact: true });
    await field.fill(typed);
    await field.blur();
    await expect(field).toHaveValue(said);
  });

test("words that are no date are left as they were typed, and it is said so where they stand", async () => {
  const field = page.getByLabel("A moment", { exact: true });
  await field.fill("when the snow melts");
  await field.blur();
  await expect(field).toHaveValue("when the snow melts");
  await expect(page.getByText("This is no date and time. Write them as 26 Nov, 17:30 or tomorrow 9.")).toBeVisible();
  await field.fill("tomorrow 9");
  await field.blur();
  await expect(field).toHaveValue("Wed 25 Nov, 09:00");
});

test("the month: opened by keyboard, closed days struck through, the time kept, the keyboard back in the field", async () => {
  const field = page.getByLabel("A moment", { exact: true });
  await field.focus();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  const month = page.getByRole("grid", { name: /November 2026/ });
  await expect(month).toBeVisible();
  await sound();
  await expect(month.getByRole("button", { name: /28 November/ })).toHaveCSS("text-decoration-line", "line-through");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Enter");
  await expect(field).toHaveValue("Thu 26 Nov, 09:00");
  await expect(field).toBeFocused();
});

for (const name of ["A dialog", "A sheet", "A menu", "A popover"])
  test(`${name.toLowerCase()} opens by keyboard, is left by one Esc, and the keyboard is back where it was`, async () => {
    const opener = page.getByRole("button", { name });
    await opener.focus();
    await page.keyboard.press("Enter");
    const layer = page.locator("[role=dialog], [role=menu]");
    await expect(layer).toBeVisible();
    await expect(
      page.locator("[role=dialog] :focus, [role=dialog]:focus, [role=menu] :focus, [role=menu]:focus"),
    ).toHaveCount(1);
    await sound();
    await page.keyboard.press("Escape");
    await expect(layer).toHaveCount(0);
    await expect(opener).toBeFocused();
  });

test("a toast says what was done and offers to undo it", async () => {
  await page.getByRole("button", { name: "A toast" }).click();
  await seen(page.getByText("It is moved to Friday."));
  await sound();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "Undo" })).toHaveCount(0);
});

test("rows are walked by j and k, and an order of one's own is changed by the arrows on a handle", async () => {
  await page.locator("h1").click();
  await page.keyboard.press("j");
  await page.keyboard.press("j");
  await expect(page.getByRole("list", { name: "Rows" }).getByRole("link").nth(1)).toBeFocused();
  await page.keyboard.press("k");
  await expect(page.getByRole("list", { name: "Rows" }).getByRole("link").nth(0)).toBeFocused();
  const order = page.getByRole("list", { name: "In one’s own order" }).locator("p");
  const first = page.getByRole("button", { name: "Move Rifugio Casere" });
  await first.focus();
  await page.keyboard.press("ArrowDown");
  await expect(order).toHaveText(["Rifugio Passo Grigio", "Rifugio Casere", "Malga Brenna", "Bivacco Tre Fonti"]);
  await expect(first).toBeFocused();
});

test("a form that was refused says why, what is missing and who could, and begins at the field", async () => {
  const form = page.getByRole("form", { name: "Send it back" });
  await expect(form.getByRole("alert")).toContainText("Open to: Ilda Marenzi.");
  await expect(form.getByLabel("Note")).toHaveAccessibleDescription("Say why it is sent back.");
  await expect(form.getByLabel("Note")).toHaveValue("What was typed stays.");
});

test("what is busy keeps the keyboard and does nothing", async () => {
  const busy = page.getByRole("button", { name: "go, busy" });
  await busy.focus();
  await page.keyboard.press("Enter");
  await expect(busy).toBeFocused();
  await expect(busy).toHaveAttribute("aria-busy", "true");
});

test("colours and rows are chosen in one's own menu and outlive a reload", async ({ browser }) => {
  const own = await signIn(browser, "Noor Castellan");
  const choose = async (name: string) => {
    await own.getByRole("button", { name: "Noor Castellan" }).click();
    await own.getByRole("menuitemradio", { name }).click();
  };
  await choose("Night train");
  await choose("Roomy");
  const shown = () =>
    own.evaluate(() => [
      getComputedStyle(document.documentElement).backgroundColor,
      document.documentElement.dataset.density,
    ]);
  expect(await shown()).toEqual(["rgb(19, 27, 46)", "roomy"]);
  await own.reload();
  expect(await shown()).toEqual(["rgb(19, 27, 46)", "roomy"]);
  await accessible(own);
  await own.close();
});
