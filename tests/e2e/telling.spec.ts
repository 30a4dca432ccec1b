import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { beginItem, choose, pick, seen, send, signIn, write } from "./person.ts";

let chief: Page;
let noor: Page;
test.beforeAll(async ({ browser }) => {
  chief = await signIn(browser, "Ilda Marenzi");
  noor = await signIn(browser, "Noor Castellan");
});

test("a notice is worded anew: an unknown field is refused where it stands, the preview follows, and the ready-made words come back", async () => {
  await chief.goto("/publication/wording");
  await chief.getByRole("link", { name: "Somebody commented on “a piece”" }).click();
  await chief.getByRole("button", { name: "in Elenco" }).click();
  const headline = chief.getByLabel("Headline");
  await headline.fill("{{who}} wrote on {{titel}}");
  await expect(chief.getByText("Line 1, column 18: {{titel}} is no field of this notice.")).toBeVisible();
  await chief.getByRole("button", { name: "Say it so" }).click();
  await expect(headline).toHaveValue("{{who}} wrote on {{titel}}");
  await expect(headline).toBeFocused();
  await accessible(chief);
  await headline.fill("{{who}} wrote on ");
  await headline.press("End");
  await chief.getByRole("button", { name: "{{piece}}: put it in" }).click();
  await expect(headline).toHaveValue("{{who}} wrote on {{piece}}");
  await expect(headline).toBeFocused();
  await expect(chief.getByRole("region", { name: "How it reads" })).toContainText(/ wrote on /);
  await headline.press("Enter");
  await expect(chief.getByText("It is said so from now on.")).toBeVisible();
  await chief.reload();
  await chief.getByRole("button", { name: "in Elenco" }).click();
  await expect(headline).toHaveValue("{{who}} wrote on {{piece}}");
  await noor.goto("/notices");
  await expect(noor.getByText(/^\w+ \w+ wrote on /).first()).toBeAttached();
  await chief.getByRole("button", { name: "Back to the ready-made words" }).click();
  await expect(headline).toHaveValue("{{what}}");
  await chief.getByRole("button", { name: "by mail" }).click();
  await chief.getByRole("button", { name: "Send it to me to try" }).click();
  await expect(chief.getByText("It is on its way to you.")).toBeVisible();
  await noor.reload();
  await expect(noor.getByText(/ wrote on /)).toHaveCount(0);
});

test("notices stand together by piece, and what came since one last looked stands above", async () => {
  await noor.goto("/notices");
  await seen(noor.getByText(/more of it/));
  await noor
    .getByText(/more of it/)
    .first()
    .press("Enter");
  await accessible(noor);
  await noor.goto("/turn");
  await beginItem(noor, "Looked at later");
  await write(noor, "A word about the bridge.");
  await send(noor, "Send for copy edit", async () => {
    await expect(noor.getByText(/^Decided by then, readers can have it /)).toBeVisible();
  });
});

test("a chat channel hears of a section; the address of one within the house is refused", async () => {
  await chief.goto("/publication/telling");
  await chief.getByText("Name a chat channel").click();
  await choose(chief.getByLabel("It hears of"), /Bulletin$/);
  await chief.getByLabel("The address of its incoming webhook").fill("https://10.0.0.1/hook");
  await chief.getByRole("button", { name: "Name it" }).click();
  await expect(chief.getByText("That address lies within this house; it must lie outside.")).toBeVisible();
  await accessible(chief);
  const base = new URL(chief.url()).origin;
  await chief.getByLabel("The address of its incoming webhook").fill(`${base}/standins/chat`);
  await chief.getByRole("button", { name: "Name it" }).click();
  const list = chief.getByRole("list", { name: "Chat channels" });
  await expect(list.getByRole("listitem")).toHaveCount(1);
  await list.getByRole("button", { name: /^Take the channel of / }).click();
  await expect(list.getByRole("listitem")).toHaveCount(0);
});

test("three pieces in a table each take a step of their own, by keyboard", async () => {
  for (const title of ["Timber, one", "Timber, two", "Timber, three"]) {
    await noor.goto("/turn");
    await beginItem(noor, title);
    await write(noor, `The words of ${title}.`);
  }
  await noor.goto("/pieces?words=Timber%2C");
  const boxes = noor.getByRole("checkbox", { name: /^Choose Timber/ });
  await boxes.first().click();
  await boxes.nth(2).click({ modifiers: ["Shift"] });
  await noor.getByRole("link", { name: "Do one thing to them" }).click();
  await choose(noor.getByLabel("What", { exact: true }), "To each its own: a table of steps");
  await noor.getByRole("button", { name: "To the table" }).click();
  await expect(noor.getByRole("heading", { name: /To each its own: 3 pieces/ })).toBeVisible();
  await noor.getByRole("button", { name: "Show what would happen" }).click();
  await expect(noor.getByText("Choose a step for at least one of them.")).toBeVisible();
  await accessible(noor);
  await choose(noor.getByLabel("Step of Timber, one"), "Send for copy edit");
  await noor.getByLabel("When Timber, one is due").fill("in 3 wd");
  await choose(noor.getByLabel("Step of Timber, two"), "Send for copy edit");
  await noor.getByLabel("A note with Timber, two").fill("Mind the bridge.");
  await noor.getByRole("button", { name: "Show what would happen" }).press("Enter");
  await expect(noor.getByText("Choose who reviews it.")).toHaveCount(2);
  for (const title of ["Timber, one", "Timber, two"])
    await pick(noor.getByRole("combobox", { name: `To whom goes ${title}` }), "Petra Holmqvist");
  await noor.getByRole("button", { name: "Show what would happen" }).press("Enter");
  await expect(noor.getByText("2 pieces would go. Nothing is done yet.")).toBeVisible();
  await noor.reload();
  await expect(noor.getByLabel("A note with Timber, two")).toHaveValue("Mind the bridge.");
  await noor.getByRole("button", { name: "Do it for these 2" }).click();
  await expect(noor.getByText("2 pieces done.")).toBeVisible();
});

test("people are told that pieces are ready, several people and pieces at once, in one notice", async () => {
  await chief.goto("/pieces");
  const boxes = chief.getByRole("checkbox", { name: /^Choose / });
  await boxes.first().click();
  await boxes.nth(2).click({ modifiers: ["Shift"] });
  await chief.getByRole("link", { name: "Do one thing to them" }).click();
  await choose(chief.getByLabel("What", { exact: true }), "Tell people they are ready");
  await chief.getByRole("button", { name: "Show what would happen" }).click();
  await expect(chief.getByText("Who is told?")).toBeVisible();
  for (const name of ["Petra Holmqvist", "Lene Quist"]) await pick(chief.getByLabel("Who is told"), name);
  await chief.getByRole("button", { name: "Without Lene Quist" }).click();
  await expect(chief.getByLabel("Who is told")).toBeFocused();
  await chief.getByLabel("A note to all of them").fill("The whole set for Thursday.");
  await chief.getByRole("button", { name: "Show what would happen" }).click();
  await chief.getByRole("button", { name: "Do it for these 3" }).click();
  await expect(chief.getByText("3 pieces done.")).toBeVisible();
});
