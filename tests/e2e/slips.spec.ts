import { expect, type Page, test } from "./house.ts";
import { beginItem, pick, saved, seen, send, served, signIn, slowToLearn, write } from "./person.ts";

test.describe.configure({ mode: "serial" });

let ilda: Page;
let tobia: Page;
let sefa: Page;

test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
  tobia = await signIn(browser, "Tobia Rensk");
  sefa = await signIn(browser, "Sefa Okonro");
});

/** Opens the piece a filter of the list shows first. */
async function openFlagged(page: Page, flag: string): Promise<void> {
  await page.goto(`/pieces?flag=${flag}`);
  await page.getByRole("main").locator("[data-row]").first().getByRole("link").first().click();
  await page.waitForURL(/\/pieces\/[^?]/);
}

test("sent too early: it is called back by keyboard, and nobody is asked any more", async () => {
  const address = await beginItem(tobia, "The ford at Ca’ Lunga");
  await write(tobia, "Knee-deep since Tuesday.");
  await send(tobia, "Send for copy edit", async (page) => {
    await page.getByLabel(/Note/).fill("Please.");
  });
  await expect(tobia.getByRole("region", { name: "Passage" })).toContainText("Send for copy edit");

  await tobia.getByRole("link", { name: "What else" }).press("Enter");
  await tobia.getByRole("link", { name: "Call it back to Draft" }).press("Enter");
  await expect(tobia.getByText("Nobody has acted on it in Copy edit yet.")).toBeVisible();
  await tobia.getByRole("button", { name: "Call it back" }).press("Enter");
  await expect(tobia.getByText("With Tobia Rensk since today")).toBeVisible();
  await expect(tobia.getByRole("region", { name: "Passage" })).toContainText(
    "called it back from Copy edit: now in Draft",
  );
  await write(tobia, " And on Wednesday.");
  await sefa.goto(address);
  await expect(sefa.getByRole("link", { name: /^Decide/ })).toHaveCount(0);
});

test("a review that nobody can end says so, and who may mends it where it is said", async () => {
  await openFlagged(ilda, "stuck");
  const title = (await ilda.getByRole("article").getByRole("heading", { level: 1 }).textContent()) ?? "";
  const stuck = ilda.getByText(/^The review is stuck\. /);
  await expect(stuck).toBeVisible();
  await ilda.getByRole("link", { name: "Mend it" }).click();
  const panel = ilda.getByRole("region", { name: "Who has it, and until when" });
  await panel.getByRole("button", { name: "Add the seat" }).click();
  await expect(panel.getByText("Choose whom.")).toBeVisible();
  await panel.getByLabel("One reviewer more").click();
  await ilda.getByRole("option").first().click();
  await panel.getByRole("button", { name: "Add the seat" }).click();
  await expect(stuck).toHaveCount(0);
  await expect(ilda.getByText(/^(Your turn|.* to decide) since /)).toBeVisible();
  await ilda.reload();
  await expect(ilda.getByText(/^The review is stuck\. /)).toHaveCount(0);
  await ilda.goto("/pieces?flag=stuck");
  await seen(ilda.getByText(/^(No|\d+) pieces?|Nothing/));
  await expect(ilda.getByText(title, { exact: true })).toHaveCount(0);
});

test("a step that is closed is taken all the same, with a reason, and says so to everybody after", async () => {
  const address = await beginItem(tobia, "The gate at Prà Basso");
  await write(tobia, "Shut for the herd.");
  await send(tobia, "Send for copy edit", async (page) => {
    await page.getByLabel(/Note/).fill("Please.");
  });
  await ilda.goto(`${address}?do=override`);
  const panel = ilda.getByRole("region", { name: "Move it past its rules" });
  await panel.getByRole("button", { name: "Copy is right" }).click();
  await expect(panel.getByLabel("Why")).toBeFocused();
  await panel.getByLabel("Why").fill("All three are at the rescue.");
  await panel.getByRole("button", { name: "Copy is right" }).click();
  await expect(ilda.getByText("In Ready since today")).toBeVisible();
  await tobia.goto(address);
  await expect(tobia.getByText("Moved past its rules")).toBeVisible();
  await seen(tobia.getByText(/“All three are at the rescue\.”/));
  await ilda.goto("/pieces?flag=overridden");
  await expect(ilda.getByText("The gate at Prà Basso")).toBeVisible();
});

test("who may not let a piece out proposes a date, which waits until it is confirmed", async () => {
  await sefa.goto("/schedule");
  await sefa.getByRole("region", { name: "To confirm" }).getByRole("link").first().click();
  await sefa.waitForURL(/\/pieces\/[^?]/);
  const address = sefa.url().replace(/\?.*/, "");
  await sefa.goto(`${address}?do=plan`);
  const panel = sefa.getByRole("region", { name: "Plan the release" });
  await expect(panel).toContainText("your date is a proposal");
  await panel.getByLabel(/^Date and time/).fill("2027-01-12T08:00");
  await panel.getByRole("button", { name: "Propose this date" }).click();
  await expect(sefa.getByText(/Sefa Okonro proposes .*, to be confirmed/)).toBeVisible();

  await ilda.goto(address);
  await ilda.getByRole("link", { name: "Confirm the date" }).click();
  await ilda.getByRole("button", { name: "Confirm date" }).click();
  await expect(ilda.getByText(/Goes live Tue 12 Jan 2027, 08:00/)).toBeVisible();
});

test("who sends the moment the last word is saved is not told that the piece changed meanwhile", async () => {
  await beginItem(tobia, "Sent in haste");
  await write(tobia, "The ford is dry");
  await tobia.getByRole("link", { name: "Send for copy edit", exact: true }).click();
  const panel = tobia.getByRole("region", { name: "Send for copy edit" });
  await expect(panel.locator(":focus")).toBeVisible();
  await slowToLearn(tobia, async () => {
    await tobia.getByRole("textbox", { name: "Item" }).fill("The ford is dry again.");
    await saved(tobia);
    // What is sent is what the page knows: until it has learnt of the last words there is nothing to press.
    await expect(panel.getByRole("button", { name: "Saving the text" })).toBeVisible();
  });
  await panel.getByRole("button", { name: "Send for copy edit" }).click();
  await expect(panel).toBeHidden();
});

test("who sends the moment the first word is saved goes on, though the page still shows the step closed", async () => {
  await beginItem(tobia, "Sent at once");
  const closed = tobia.getByRole("link", { name: /^Send for copy edit · fields not complete/ });
  await expect(closed).toBeVisible();
  await slowToLearn(tobia, async () => {
    await write(tobia, "The ford is dry");
    await closed.click();
  });
  await expect(tobia.getByRole("region", { name: "Send for copy edit" }).locator(":focus")).toBeVisible();
  await expect(tobia.getByRole("textbox", { name: "Item" })).toHaveText("The ford is dry");
});

test("it is live, then taken away: its address says what readers are told, and lists forget it", async () => {
  await ilda.goto("/pieces?flag=overridden");
  await ilda.getByText("The gate at Prà Basso").first().click();
  await ilda.waitForURL(/\/pieces\/[^?]/);
  const slug = new URL(ilda.url()).pathname.split("/").at(-1) ?? "";
  await send(ilda, "Release");
  await expect.poll(async () => (await ilda.request.get(`/read/${slug}`)).status()).toBe(200);
  await ilda.getByRole("link", { name: "What else" }).click();
  await ilda.getByRole("link", { name: "Withdraw", exact: true }).click();
  const panel = ilda.getByRole("region", { name: "Withdraw" });
  await panel.getByLabel("Why").fill("The herd has left.");
  await panel.getByLabel(/^What readers/).fill("The gate is open again.");
  await panel.getByRole("button", { name: "Withdraw" }).click();
  await expect(ilda.getByText(/It was taken away from readers, who find/)).toBeVisible();
  const gone = await ilda.request.get(`/read/${slug}`);
  expect([gone.status(), await gone.text()]).toEqual([410, expect.stringContaining("The gate is open again.")]);
  expect(await (await ilda.request.get("/read/feed.atom")).text()).not.toContain(slug);
});

test("deleted by mistake: it is gone for everybody, and comes back as it was; erased, it is gone for good", async () => {
  const address = await beginItem(tobia, "Twice the same");
  const slug = address.split("/").at(-1) ?? "";
  await write(tobia, "Said already.");
  const remove = async () => {
    await tobia.goto(`${address}?do=delete`);
    await tobia.getByLabel("Why").fill("Begun twice.");
    await tobia.getByRole("button", { name: "Delete it" }).click();
    await tobia.waitForURL(/\/pieces(\/deleted|\?|$)/);
  };
  await remove();
  expect((await tobia.request.get(address)).status()).toBe(404);
  await tobia.goto("/pieces/deleted");
  const row = tobia.getByRole("listitem").filter({ hasText: "Twice the same" });
  await expect(row).toContainText("Begun twice.");
  await expect(row.getByRole("link", { name: "Erase for good" })).toHaveCount(0);
  await row.getByRole("button", { name: "Bring it back" }).press("Enter");
  await tobia.waitForURL(`**/pieces/${slug}`);
  await expect(tobia.getByRole("textbox", { name: "Item" })).toContainText("Said already.");

  await remove();
  await ilda.goto("/pieces/deleted");
  await ilda
    .getByRole("listitem")
    .filter({ hasText: "Twice the same" })
    .getByRole("link", { name: "Erase for good" })
    .press("Enter");
  await expect(ilda.getByLabel("Why")).toBeFocused();
  await ilda.getByLabel("Why").fill("It named a rescued walker.");
  await ilda.getByRole("button", { name: /^Erase “/ }).press("Enter");
  await expect(ilda.getByText("It is erased. The record says so, and why.")).toBeVisible();
  await expect(ilda.getByText("Twice the same")).toHaveCount(0);
});

test("a person who may no longer decide is told why where the button was, and by the whole of why", async ({
  browser,
}) => {
  const kai = await signIn(browser, "Kai Wendt");
  const address = await beginItem(tobia, "The spring at Fonte Secca");
  await write(tobia, "Dry.");
  await send(tobia, "Send for copy edit", async (page) => {
    await page.getByLabel(/Note/).fill("Please.");
  });
  await kai.goto(address);
  const closed = kai.getByRole("link", { name: /^Decide · .*, closed: / });
  await expect(closed).toBeVisible();
  await closed.press("Enter");
  await expect(kai.getByRole("heading", { level: 1 })).toContainText("Why");
});

test("the working day is changed: what would move is shown first, then moved, and kept dates stay", async () => {
  await ilda.goto("/publication");
  await ilda.getByLabel("Friday").fill("09:00-12:00");
  await ilda.getByRole("button", { name: "Show what it shifts" }).click();
  const shifts = ilda.getByRole("status", { name: "What it shifts" });
  await expect(shifts).toBeVisible();
  await expect(ilda.getByLabel("Friday")).toHaveValue("09:00-12:00");
  await ilda.getByRole("button", { name: /^Keep it/ }).click();
  await expect(ilda.getByText(/^Kept\. /)).toBeVisible();
  await ilda.reload();
  await expect(ilda.getByLabel("Friday")).toHaveValue("09:00-12:00");
  await ilda.getByLabel("Friday").fill("soon");
  await ilda.getByRole("button", { name: "Show what it shifts" }).click();
  await seen(ilda.getByText(/09:00-13:00/));
  await expect(ilda.getByLabel("Friday")).toHaveValue("soon");
  // Kept without a look: what would move is shown all the same, and kept at the second word.
  await ilda.getByLabel("Friday").fill("09:00-13:00, 14:00-17:30");
  await ilda.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(shifts).toBeVisible();
  await ilda.getByRole("button", { name: "Keep it, and move these" }).click();
  await expect(ilda.getByText(/^Kept\. /)).toBeVisible();
});

test("everybody may see times in a zone of their own", async () => {
  const showIn = async (zone: string, seen: RegExp) => {
    await tobia.goto("/me");
    await pick(tobia.getByLabel("Shown in"), zone);
    await tobia.getByRole("button", { name: "Show times so" }).click();
    await served(tobia, "/schedule", seen);
  };
  await showIn("Asia/Tokyo", /Times are .*Asia\/Tokyo/);
  await showIn("", /Times are .*Europe\/Rome/);
});
