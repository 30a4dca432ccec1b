import { rmSync } from "node:fs";
import path from "node:path";
import { picture } from "#server/files/samples.ts";
import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { choose, saved, signIn, write } from "./person.ts";

test.describe.configure({ mode: "serial" });

let noor: Page;
let ilda: Page;
let address: string;

test.beforeAll(async ({ browser }) => {
  noor = await signIn(browser, "Noor Castellan");
  ilda = await signIn(browser, "Ilda Marenzi");
  address = await beginHut(noor, "Malga Mirta in winter");
});

async function beginHut(page: Page, title: string): Promise<string> {
  await page.goto("/pieces/new");
  await choose(page.getByLabel("Kind"), "Hut page");
  await choose(page.getByLabel("Section"), "Huts");
  await page.getByLabel("Title").fill(title);
  await page.getByRole("button", { name: "Begin" }).click();
  await page.waitForURL(/\/pieces\/(?!new)/);
  return page.url();
}

const text = (page: Page) => page.getByRole("textbox", { name: "The hut" });
const dialog = (page: Page) => page.getByRole("dialog");
const jpeg = async (name: string, colour: string) => ({
  name,
  mimeType: "image/jpeg",
  buffer: await picture(colour),
});

/** Drops files on the text, as from a folder. */
async function drop(page: Page, files: { name: string; mimeType: string; buffer: Buffer }[]): Promise<void> {
  const carried = files.map(({ buffer, ...file }) => ({ ...file, body: buffer.toString("base64") }));
  await text(page).evaluate((element, all) => {
    const data = new DataTransfer();
    for (const { name, mimeType, body } of all) {
      const bytes = Uint8Array.from(atob(body), (one) => one.charCodeAt(0));
      data.items.add(new File([bytes], name, { type: mimeType }));
    }
    const { left, top } = element.getBoundingClientRect();
    const at = { clientX: left + 20, clientY: top + 10 };
    element.dispatchEvent(new DragEvent("drop", { ...at, dataTransfer: data, bubbles: true, cancelable: true }));
  }, carried);
}

/** Whether a picture on the page was fetched and could be shown. */
const isShown = (page: Page, selector: string) =>
  page
    .locator(selector)
    .first()
    .evaluate(async (image: HTMLImageElement) => {
      await image.decode();
      return image.naturalWidth > 0;
    });

async function say(page: Page, words: Record<string, string>): Promise<void> {
  for (const [label, value] of Object.entries(words)) await dialog(page).getByLabel(label, { exact: true }).fill(value);
}

test("pictures dropped on the text ask what they show, by whom and by what right, one after another", async () => {
  await write(noor, "Beds for twelve.", "The hut");
  await drop(noor, [await jpeg("stove.jpg", "#753"), await jpeg("door.jpg", "#357")]);
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(dialog(noor).getByText("Say what it shows: some readers only hear it.")).toBeVisible();
  await expect(dialog(noor).getByText("Whom it is by.")).toBeVisible();
  await expect(dialog(noor).getByText("By what right it may be shown.")).toBeVisible();
  await accessible(noor);
  await say(noor, { "What it shows": "An iron stove", By: "G. Ferrante", Licence: "Own work" });
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(dialog(noor)).toContainText("door.jpg");
  await say(noor, {
    "What it shows": "The winter door",
    "Caption, if it needs one": "Left open",
    By: "N. C.",
    Licence: "CC BY 4.0",
  });
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(dialog(noor)).toHaveCount(0);
  await expect(text(noor).locator("figure img")).toHaveCount(2);
  await expect(text(noor).locator("figcaption").last()).toHaveText("Left openN. C.");
  expect(
    await text(noor)
      .locator("img")
      .evaluateAll((all) => all.map((one) => one.getAttribute("alt"))),
  ).toEqual(["An iron stove", "The winter door"]);
  await saved(noor);
  await noor.reload();
  await expect(text(noor).locator("figure img")).toHaveCount(2);
  expect(await isShown(noor, "figure img")).toBe(true);
});

test("a drawing with a script, a program named a picture and a file too large are refused where one is, with the reason", async () => {
  const script = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
  const refusals: [string, string, Buffer, RegExp][] = [
    ["plan.svg", "image/svg+xml", script, /a drawing that can carry a program/],
    ["plan.png", "image/png", Buffer.from([0x7f, 0x45, 0x4c, 0x46, 2, 1, 1, 0, 0, 0]), /neither a picture/],
    ["plan.png", "image/png", Buffer.alloc(21_000_000), /It has 21 MB; a file of at most 20 MB is taken/],
  ];
  for (const [name, mimeType, buffer, reason] of refusals) {
    await drop(noor, [{ name, mimeType, buffer }]);
    await say(noor, { "What it shows": "A plan", By: "Nobody", Licence: "Own work" });
    await dialog(noor).getByRole("button", { name: "Put it in" }).click();
    await expect(dialog(noor).getByText(reason)).toBeVisible();
    await expect(dialog(noor).getByLabel("What it shows", { exact: true })).toHaveValue("A plan");
    await dialog(noor).getByRole("button", { name: "Leave" }).click();
  }
  await drop(noor, [{ name: "list.pdf", mimeType: "application/pdf", buffer: Buffer.from("%PDF-1.7") }]);
  await expect(noor.getByText("Only pictures stand in the text.")).toBeVisible();
  await expect(text(noor).locator("figure")).toHaveCount(2);
});

test("with the keyboard alone: a picture the piece has is put in, its words changed, Esc leaves the dialog only", async () => {
  await text(noor).press("Control+End");
  await noor.getByRole("button", { name: "Picture", exact: true }).focus();
  await noor.keyboard.press("Enter");
  await choose(dialog(noor).getByLabel("or one the piece has"), "stove.jpg");
  await expect(dialog(noor).getByLabel("What it shows", { exact: true })).toHaveValue("An iron stove");
  await dialog(noor).getByLabel("By", { exact: true }).press("Enter");
  await expect(text(noor).locator("figure")).toHaveCount(3);
  await expect(text(noor)).toBeFocused();
  await noor.keyboard.press("ArrowLeft");
  await expect(noor.getByRole("button", { name: "Picture", exact: true })).toHaveAttribute("aria-pressed", "true");
  await noor.getByRole("button", { name: "Picture", exact: true }).press("Enter");
  await dialog(noor).getByLabel("What it shows", { exact: true }).fill("The stove once more");
  await noor.keyboard.press("Enter");
  await expect(text(noor).locator("img").last()).toHaveAttribute("alt", "The stove once more");
  await noor.getByRole("button", { name: "Picture", exact: true }).press("Enter");
  await noor.keyboard.press("Escape");
  await expect(dialog(noor)).toHaveCount(0);
  expect(noor.url()).toBe(address);
  await saved(noor);
});

test("a connection lost while a picture is brought says so and keeps what was typed", async () => {
  await drop(noor, [await jpeg("lost.jpg", "#777")]);
  await say(noor, { "What it shows": "A ridge", By: "G. F.", Licence: "Own work" });
  await noor.context().setOffline(true);
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(dialog(noor).getByRole("alert")).toContainText("there is no connection");
  await noor.context().setOffline(false);
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(text(noor).locator("figure")).toHaveCount(4);
  await saved(noor);
});

test("a field of its own holds a picture; the preview shows it on the page, in lists and in the feed", async () => {
  const add = noor.getByRole("button", { name: "Add a picture for Picture" });
  await add.press("Enter");
  await expect(dialog(noor).getByLabel("From your machine")).toBeFocused();
  await noor.keyboard.press("Escape");
  await expect(add).toBeFocused();
  await add.click();
  await dialog(noor)
    .getByLabel("From your machine")
    .setInputFiles(await jpeg("front.jpg", "#264"));
  await say(noor, { "What it shows": "The hut from below", By: "G. Ferrante", Licence: "Own work" });
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(noor.getByRole("button", { name: "Another picture for Picture" })).toBeVisible();
  await saved(noor);
  await noor.goto(`${address}/preview`);
  await expect(noor.getByRole("img")).toHaveCount(5);
  for (const shape of ["list", "feed"]) {
    await noor.goto(`${address}/preview?as=${shape}`);
    await expect(noor.getByRole("img", { name: "The hut from below" })).toHaveCount(1);
  }
  expect(await isShown(noor, "main img")).toBe(true);
});

test("a picture that went is seen in the comparison, and brought back from there", async () => {
  await noor.goto(address);
  await saved(noor);
  await ilda.goto(address);
  const before = Number((await noor.getByText(/^version \d+ ·/).textContent())?.match(/\d+/)?.[0]);
  await text(noor).locator("figure").last().click();
  await noor.keyboard.press("Delete");
  await saved(noor);
  await noor.goto(`${address}/versions?from=${before}&to=${before + 1}`);
  await expect(noor.locator(".compared del img")).toHaveAttribute("alt", "The stove once more");
  await noor.getByRole("button", { name: "Bring this passage back" }).click();
  await expect(noor.getByText("nothing differs")).toBeVisible();
  await noor.goto(address);
  await expect(text(noor).locator("figure")).toHaveCount(4);
});

test("a file that is missing where files are kept is said on the piece, and adding it again mends it", async ({
  house,
}) => {
  const stove = noor.getByRole("region", { name: "Files", exact: true }).getByRole("link", { name: "stove.jpg" });
  const id = (await stove.getAttribute("href"))?.split("/").pop() ?? "";
  rmSync(path.join(house.data, "files", id.slice(0, 2)), { recursive: true });
  await noor.reload();
  const problem = noor.getByText(/“stove.jpg” is no longer among the files kept; add it again/).first();
  await expect(problem).toBeVisible();
  await accessible(noor);
  await drop(noor, [await jpeg("stove.jpg", "#753")]);
  await say(noor, { "What it shows": "The stove", By: "G. Ferrante", Licence: "Own work" });
  await dialog(noor).getByRole("button", { name: "Put it in" }).click();
  await expect(dialog(noor)).toHaveCount(0);
  await expect(problem).toHaveCount(0);
  await saved(noor);
});

test("working papers: added, described, taken out and put back; what stands in the text stays", async () => {
  await noor.goto(`${address}?do=files`);
  const files = noor.getByRole("region", { name: "The piece’s files" });
  await files.getByRole("button", { name: "Add a file" }).click();
  await dialog(noor).getByRole("button", { name: "Add it" }).click();
  await expect(dialog(noor).getByText("Choose a file.")).toBeVisible();
  await dialog(noor)
    .getByLabel("From your machine")
    .setInputFiles({
      name: "leave to print.txt",
      mimeType: "text/plain",
      buffer: Buffer.from("Print what you like. Ottavia"),
    });
  await say(noor, { "What it is": "The warden’s leave", By: "Ottavia Prell", Licence: "By permission" });
  await dialog(noor).getByRole("button", { name: "Add it" }).click();
  await expect(files.getByText("The warden’s leave")).toBeVisible();
  const row = files.getByRole("listitem").filter({ hasText: "leave to print.txt" });
  await row.getByRole("button", { name: "Describe" }).click();
  await row.getByLabel("Licence").fill("");
  await row.getByRole("button", { name: "Keep it" }).click();
  await expect(row.getByText("By what right it may be shown.")).toBeVisible();
  await row.getByLabel("Licence").fill("By letter");
  await row.getByRole("button", { name: "Keep it" }).click();
  await expect(row.getByText("Kept.")).toBeVisible();
  await accessible(noor);
  await row.getByRole("button", { name: "Take out leave to print.txt" }).click();
  await files.getByRole("button", { name: "Put back leave to print.txt" }).click();
  await expect(row.getByText("Ottavia Prell, By letter")).toBeVisible();
  await expect(files.getByRole("button", { name: "Take out stove.jpg" })).toHaveCount(0);
  const download = await noor.request.get((await row.getByRole("link").getAttribute("href")) ?? "");
  expect(download.headers()["content-disposition"]).toBe('attachment; filename="leave to print.txt"');
  expect(download.headers()["x-content-type-options"]).toBe("nosniff");
});

test("a picture copied into another piece comes along with what is said of it, and readers' copies are smaller", async () => {
  await noor.goto(address);
  const source = (await text(noor).locator("figure img").first().getAttribute("src")) ?? "";
  await beginHut(noor, "Copied from Mirta");
  await text(noor).click();
  await text(noor).evaluate((element, src) => {
    const data = new DataTransfer();
    const small = "<small>G. Ferrante</small>";
    data.setData(
      "text/html",
      `<p>Soup.</p><figure><img src="${src}" alt="A stove"><figcaption>Lit ${small}</figcaption></figure>`,
    );
    element.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
  }, source);
  await expect(text(noor).locator("figcaption")).toHaveText("LitG. Ferrante");
  await saved(noor);
  const files = noor.getByRole("region", { name: "Files", exact: true });
  await expect(files.getByRole("link", { name: /\.jpg$/ })).toHaveCount(1);
  await noor.goto(`${noor.url().split("?")[0]}?do=files`);
  await expect(noor.getByRole("region", { name: "The piece’s files" })).toContainText("G. Ferrante, Own work");
  const small = await noor.request.get(source);
  expect(small.headers()["content-type"]).toBe("image/webp");
});

test("a document with pictures becomes a draft that has them, and says what is missing about them", async () => {
  const document = await noor.request.get(`${address}/document?as=docx`);
  await noor.goto("/pieces/new");
  await choose(noor.getByLabel("Kind"), "Hut page");
  await choose(noor.getByLabel("Section"), "Huts");
  await noor.getByLabel("Start from files").setInputFiles({
    name: "mirta.docx",
    mimeType: "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
    buffer: await document.body(),
  });
  await noor.getByRole("button", { name: "Begin" }).click();
  await noor.waitForURL(/\/pieces\/(?!new)/);
  await expect(noor.getByText(/pictures came without a word by whom/)).toBeVisible();
  await expect(text(noor).locator("figure img").first()).toHaveAttribute("alt", "The hut from below");
  expect(await isShown(noor, "figure img")).toBe(true);
  const files = noor.getByRole("region", { name: "Files", exact: true });
  await expect(files.getByText(/“picture-1.jpg” comes without a licence/)).toBeVisible();
});
