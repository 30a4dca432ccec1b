import { accessible, fits } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { beginItem, choose, leave, seen, send, signIn, write } from "./person.ts";

let chief: Page;
test.beforeAll(async ({ browser }) => {
  chief = await signIn(browser, "Ilda Marenzi");
});

test("sections: moved by mouse with what that changes shown first, by form, and back", async () => {
  await chief.goto("/publication/sections");
  await accessible(chief);
  const handle = chief.getByRole("button", { name: "Move Columns" });
  const target = chief.getByRole("link", { name: "Bulletin", exact: true });
  const [from, to] = [await handle.boundingBox(), await target.boundingBox()];
  await chief.mouse.move((from?.x ?? 0) + 5, (from?.y ?? 0) + 5);
  await chief.mouse.down();
  await chief.mouse.move((to?.x ?? 0) + 20, (to?.y ?? 0) + 6, { steps: 8 });
  await chief.mouse.up();
  const changes = chief.getByRole("region", { name: "What moving it changes" });
  await expect(changes).toContainText("Columns: new pieces begin on Bulletin item, no longer Magazine feature.");
  await expect(changes).toContainText("No longer reach it: Dario Lunt (Section lead)");
  await accessible(chief);
  await chief.getByRole("button", { name: "Move it" }).click();
  await expect(
    chief
      .getByRole("listitem")
      .filter({ hasText: /^.{0,3}Columns/ })
      .last(),
  ).toContainText("Bulletin item, from above");
  await choose(chief.getByLabel("It is under"), "Magazine");
  await chief.getByRole("button", { name: "Move it" }).click();
  await expect(
    chief
      .getByRole("listitem")
      .filter({ hasText: /^.{0,3}Columns/ })
      .last(),
  ).toContainText("Magazine feature, from above");
  await chief.goto("/publication/sections");
  await chief.getByRole("link", { name: "Magazine", exact: true }).click();
  await choose(chief.getByLabel("It is under"), "Magazine / Features");
  await expect(chief.getByRole("alert")).toContainText("cannot go under itself");
});

test("a kind gets a field with guidance and a limit, and writers see it", async ({ browser }) => {
  await chief.goto("/publication/kinds?kind=bulletin-item");
  await chief.getByRole("button", { name: "Add a field" }).click();
  await chief.getByLabel("Name of the new field").fill("Where it is");
  await chief.getByLabel("Guidance for Where it is").fill("The nearest stop.");
  await chief.getByLabel("max words for Where it is").fill("5");
  await accessible(chief);
  await chief.getByRole("button", { name: "Keep this kind" }).click();
  await expect(chief.getByText("Kept.")).toBeVisible();
  await chief.reload();
  await expect(chief.getByLabel("Guidance for Where it is")).toHaveValue("The nearest stop.");
  const tobia = await signIn(browser, "Tobia Rensk");
  await beginItem(tobia, "With a place");
  await expect(tobia.getByText("Where it is")).toBeVisible();
  await chief.getByRole("button", { name: "Take Item out" }).click();
  await chief.getByRole("button", { name: "Keep this kind" }).click();
  await expect(chief.getByRole("alert")).toContainText("holds words in");
});

test("ending access: what waits is passed on in the same step, and the open session is over at once", async ({
  browser,
}) => {
  const gus = await signIn(browser, "Gus Ferrante");
  await chief.goto("/people/who/gus?do=end");
  await expect(chief.getByRole("heading", { name: /waits on them/ })).toBeVisible();
  await accessible(chief);
  await chief.getByRole("button", { name: "End Gus’s access" }).click();
  await expect(chief.getByText(/^Access ended/)).toBeVisible();
  await gus.goto("/turn");
  await gus.waitForURL(/\/sign-in/);
  await chief.getByRole("button", { name: "Let them in again" }).click();
  await expect(chief.getByText("They hold no role")).toBeVisible();
});

test("the record: narrowed, unfolded, taken along as a file, and verified", async () => {
  await chief.goto("/people/roles?role=picture-desk");
  await chief.getByRole("button", { name: /Picture desk, let a guest in/ }).press("o");
  await chief.getByRole("button", { name: "Keep this" }).click();
  await chief.waitForURL(/\/people\/roles$/);
  await chief.goto("/publication/record");
  await accessible(chief);
  await choose(chief.getByLabel("What", { exact: true }), "all about role");
  const entries = chief.getByRole("list", { name: "Entries" });
  await expect(entries).toContainText("changed the role Picture desk");
  await entries
    .getByRole("listitem")
    .filter({ hasText: "changed the role Picture desk" })
    .getByRole("button", { name: "Before and after" })
    .click();
  await expect(entries).toContainText("guest.invite.own");
  await chief.getByRole("button", { name: "Verify it" }).click();
  await expect(chief.getByRole("status").filter({ hasText: "follow one another unbroken" })).toBeVisible();
  const csv = await (await chief.request.get("/publication/record/file?as=csv&action=role.")).text();
  expect(csv.split("\r\n")[0]).toBe("seq,at,actor,for,action,piece,subject,before,after,origin,request");
  const lines = await (await chief.request.get("/publication/record/file?as=jsonl&action=role.")).text();
  const parsed = lines
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line) as { action: string; hash: string });
  expect(parsed.every((one) => one.action.startsWith("role.") && one.hash.length === 64)).toBe(true);
  expect(csv.trim().split("\r\n")).toHaveLength(parsed.length + 1);
});

test("the load: who has too much is said, one thing is handed on by keyboard, the rest is evened out", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  for (const title of ["Too much, one", "Too much, two", "Too much, three"]) {
    await beginItem(noor, title);
    await write(noor, "Somebody has to read this.");
    await send(noor, "Send for copy edit", async (page) => {
      await page.getByLabel(/Petra Holmqvist/).check();
    });
  }
  await leave(noor);
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto("/people/who/ansel");
  const away = ilda.getByRole("button", { name: /^Take away/ });
  await seen(away);
  for (let left = await away.count(); left > 0; left--) {
    await away.first().click();
    await expect(away).toHaveCount(left - 1);
  }
  await ilda.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "Load" }).click();
  const days = ilda.getByRole("region", { name: "Who has how much, by the day it is due" });
  const enough = days.getByRole("spinbutton", { name: "Enough for Petra Holmqvist" });
  await enough.fill("2");
  await enough.press("Tab");
  await expect(ilda.getByText(/Petra Holmqvist \(\d+ of 2\)/)).toBeVisible();
  await days.getByRole("link", { name: "Petra Holmqvist" }).click();
  const thing = ilda.getByRole("listitem").filter({ hasText: "Too much, one" });
  await choose(thing.getByLabel("Hand Too much, one to").first(), "Ansel Brio");
  await thing.getByRole("button", { name: "Hand on: Too much, one" }).press("Enter");
  await expect(ilda.getByRole("button", { name: "Hand on: Too much, one" })).toHaveCount(0);
  await accessible(ilda);
  await ilda.getByRole("button", { name: /^Move (all \d+|it)$/ }).click();
  await expect(ilda.getByText("It is done, and everybody concerned is told.")).toBeVisible();
  await ilda.reload();
  await days.getByRole("link", { name: "Ansel Brio" }).click();
  await expect(ilda.getByRole("listitem").filter({ hasText: "Too much, one" })).toBeVisible();
  await ilda.setViewportSize({ width: 360, height: 800 });
  await fits(ilda);
  await leave(ilda);
});
