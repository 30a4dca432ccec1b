import { expect, type Page, test } from "./house.ts";
import { advance, beginItem, send, signIn, write } from "./person.ts";

let ilda: Page;
let petra: Page;
let address = "";
let slug = "";
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
  petra = await signIn(browser, "Petra Holmqvist");
});

/** Moves the clock on to a time of the day that comes next. */
async function until(time: string): Promise<void> {
  await ilda.goto("/standins/clock");
  const said = (await ilda.getByRole("status").textContent()) ?? "";
  const minutes = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
  const now = /\d\d:\d\d/.exec(said)?.[0] ?? "";
  await advance(ilda, `PT${(minutes(time) - minutes(now) + 1440) % 1440 || 1440}M`);
}
const status = async () => (await ilda.request.get(`/read/${slug}`)).status();
const feeds = async () => ({
  atom: await (await ilda.request.get("/read/feed.atom")).text(),
  json: (await (await ilda.request.get("/read/feed.json")).json()).items.find((one: { url: string }) =>
    one.url.endsWith(slug),
  ),
});
async function approve(): Promise<void> {
  await send(ilda, "Send for copy edit", async (page) => {
    await page.getByLabel(/Petra Holmqvist/).check();
  });
  await petra.goto(`${address}?do=decide`);
  await petra
    .getByRole("region", { name: /^Decide on/ })
    .getByRole("button", { name: "Copy is right" })
    .click();
  await expect(petra.getByText("In Ready since today")).toBeVisible();
}

test("wished for at night it leaves when the window opens, not a minute before", async () => {
  address = await beginItem(ilda, "The night bus has a new stop");
  slug = address.split("/").at(-1) ?? "";
  await write(ilda, "It stops at the sawmill.");
  await approve();
  await ilda.goto(`${address}?do=plan`);
  await ilda.getByLabel(/^Date and time/).fill("tomorrow 02:00");
  await ilda.getByLabel(/^Date and time/).press("Tab");
  await expect(ilda.getByText(/^Leaves .*05:00, when the next window opens\.$/)).toBeVisible();
  await ilda.getByRole("button", { name: "Plan the release" }).click();
  await expect(ilda.getByText(/Goes live .*05:00/)).toBeVisible();
  await until("04:30");
  expect(await status()).toBe(404);
  await advance(ilda, "PT31M");
  await expect.poll(status).toBe(200);
  expect((await feeds()).atom).toContain(slug);
});

test("a correction is told to readers, on the page and as an update in both feeds", async () => {
  const before = (await feeds()).json;
  await ilda.goto(address);
  await send(ilda, "Revise");
  await write(ilda, " And at the mill.");
  await approve();
  await ilda.goto(`${address}?do=plan`);
  await ilda.getByLabel(/^Date and time/).fill("tomorrow 10:00");
  await ilda.getByLabel(/^What is corrected/).fill("It stops at the mill as well.");
  await ilda.getByRole("button", { name: "Plan the release" }).click();
  await expect(ilda.getByText(/Goes live .*10:00/)).toBeVisible();
  await until("09:59");
  await until("09:59");
  expect(await (await ilda.request.get(`/read/${slug}`)).text()).not.toContain("as well");
  await advance(ilda, "PT2M");
  await expect
    .poll(async () => (await ilda.request.get(`/read/${slug}`)).text())
    .toMatch(/Corrected.*It stops at the mill as well\./s);
  const { atom, json } = await feeds();
  expect(Date.parse(json.date_modified)).toBeGreaterThan(Date.parse(before.date_modified ?? before.date_published));
  expect(json.date_published).toBe(before.date_published);
  expect(atom).toContain("It stops at the mill as well.");
});

test("visible until: it leaves readers and both feeds by itself, and stays findable in the workshop", async () => {
  await ilda.goto(`${address}?do=until`);
  await ilda.getByLabel(/^Until \(/).fill("tomorrow 09:00");
  await ilda.getByRole("button", { name: "Save" }).click();
  await expect(ilda.getByText(/Readers see it until .*09:00/)).toBeVisible();
  await until("08:59");
  expect(await status()).toBe(200);
  await advance(ilda, "PT2M");
  await expect.poll(status).not.toBe(200);
  const { atom, json } = await feeds();
  expect(json).toBeUndefined();
  expect(atom).not.toContain(slug);
  await ilda.goto(address);
  await expect(ilda.getByRole("textbox", { name: "Title" }).or(ilda.getByRole("heading", { level: 1 }))).toBeVisible();
});
