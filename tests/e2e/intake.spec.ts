import { accessible, fits } from "./axe.ts";
import { type Browser, expect, type Page, test } from "./house.ts";
import { choose, leave, linkInMail, mailTo, newPage, seen, served, signIn } from "./person.ts";

test.describe.configure({ mode: "serial" });

/** A browser without an account. */
const outsider = async (browser: Browser) => newPage(await browser.newContext());

let warden: Page;
let ilda: Page;
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
});

test("somebody outside asks for something, is told what is missing and what can be had when, and confirms their address", async ({
  browser,
}) => {
  warden = await outsider(browser);
  await warden.goto("/ask/something-for-the-bulletin");
  await accessible(warden);
  await warden.getByLabel("What is it about?").fill("The hut closes for a week");
  await warden.getByLabel("Text").fill("We mend the roof.");
  await expect(warden.getByText("4 words of at most 90")).toBeVisible();
  const wish = warden.getByLabel("When would you like it?");
  await wish.fill("tomorrow 9");
  await wish.press("Tab");
  await expect(warden.getByText(/the earliest you can have is/)).toBeVisible();
  await warden.getByRole("button", { name: "Is anything missing?" }).click();
  await expect(warden.getByRole("alert")).toContainText("Who can be asked is empty");
  await expect(warden.getByLabel("Text")).toHaveValue("We mend the roof.");
  await expect(wish).toHaveValue("tomorrow 9");
  await wish.fill("next Martinmas");
  await warden.getByLabel("Your name").fill("Nives Toral");
  await warden.getByLabel("Your mail address").fill("nives@huts.example");
  await warden.getByRole("button", { name: "Send it" }).click();
  await expect(warden.getByText("This is no date.")).toBeVisible();
  await expect(warden.getByLabel("Your name")).toHaveValue("Nives Toral");
  await wish.fill("10 Dec");
  await warden
    .getByLabel("Files (if you like)")
    .setInputFiles({ name: "roof.txt", mimeType: "text/plain", buffer: Buffer.from("Tiles, some forty.") });
  await warden.getByRole("button", { name: "Send it" }).click();
  await expect(warden.getByRole("heading", { name: "One thing is left to do" })).toBeVisible();
  await ilda.goto("/intake");
  await expect(ilda.getByRole("link", { name: "The hut closes for a week" })).toHaveCount(0);
  const link = await linkInMail(ilda, "nives@huts.example", /http\S+\/asked\/\S+/);
  await warden.goto(new URL(link).pathname);
  await accessible(warden);
  await warden.getByRole("button", { name: "Open it" }).click();
  await expect(warden.getByRole("heading", { name: "What you asked for" })).toBeVisible();
  await seen(warden.getByText("Who can be asked is empty"));
  await accessible(warden);
  await warden.setViewportSize({ width: 360, height: 800 });
  await fits(warden);
  const late = await outsider(browser);
  await late.goto(new URL(link).pathname);
  await expect(late.getByText("This link was used already, or is too old.")).toBeVisible();
  await late.getByRole("button", { name: "Send me a new one" }).click();
  await expect(late.getByText("A new link is on its way to you.")).toBeVisible();
  await leave(late);
});

test("they amend it, it is judged by keyboard, asked back, answered and taken up; they see it on their strip", async () => {
  await warden.getByText("Amend it").click();
  await warden.getByLabel("Who can be asked").fill("Nives, 0471 55 33");
  await warden.getByRole("button", { name: "Keep it so" }).click();
  await expect(warden.getByText("It is with us, and waits to be read.")).toBeVisible();
  await ilda.goto("/intake?sort=request");
  await accessible(ilda);
  await ilda.getByRole("link", { name: "The hut closes for a week" }).focus();
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByText("Its sender amended it")).toBeVisible();
  const file = await ilda.getByRole("link", { name: "roof.txt" }).getAttribute("href");
  expect(await (await ilda.request.get(file ?? "")).text()).toBe("Tiles, some forty.");
  await ilda.keyboard.press("b");
  await expect(ilda.getByLabel("What do you ask?")).toBeFocused();
  // One Esc is one step: out of the field, out of the form, out of what was chosen.
  await ilda.keyboard.press("Escape");
  await ilda.keyboard.press("Escape");
  await expect(ilda.getByRole("region", { name: "Ask back" })).toHaveCount(0);
  await expect(ilda.getByRole("link", { name: "Ask back" })).toBeFocused();
  await ilda.keyboard.press("b");
  await expect(ilda.getByLabel("What do you ask?")).toBeFocused();
  await ilda.keyboard.type("Which week?");
  await accessible(ilda);
  await ilda.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(ilda.getByRole("region", { name: "Ask back" })).toHaveCount(0);
  await warden.reload();
  await seen(warden.getByText("Which week?"));
  await warden.getByLabel("Your answer").fill("The second of December.");
  await warden.getByRole("button", { name: "Answer" }).click();
  await expect(warden.getByText("It is with us, and waits to be read.")).toBeVisible();
  await ilda.goto("/intake?sort=request");
  await ilda.getByRole("link", { name: "The hut closes for a week" }).click();
  await expect(ilda.getByText("The second of December.")).toBeVisible();
  await ilda.keyboard.press("t");
  await expect(ilda.getByRole("region", { name: "Take it up" }).getByLabel("Title")).toBeFocused();
  await ilda.getByLabel("Who writes it").press("Enter");
  await ilda.getByRole("option", { name: /^Noor Castellan/ }).click();
  await ilda.getByRole("button", { name: "Begin the piece" }).click();
  await expect(ilda.getByRole("link", { name: "The hut closes for a week" })).toHaveCount(0);
  await ilda.goto("/intake?show=done");
  await ilda.getByRole("listitem").filter({ hasText: "The hut closes for a week" }).getByRole("link").last().click();
  await ilda.waitForURL(/\/pieces\//);
  await ilda.getByText("Where it comes from").click();
  await expect(ilda.getByRole("link", { name: "The hut closes for a week" })).toBeVisible();
  await expect(ilda.getByText("We mend the roof.")).toBeVisible();
  await warden.reload();
  await expect(warden.getByText("It is being written.")).toBeVisible();
  await mailTo(ilda, "nives@huts.example", "We do it");
  await leave(warden);
});

test("what somebody asked for is taken back by them, and nobody has to judge it", async ({ browser }) => {
  const asker = await outsider(browser);
  await asker.goto("/ask/something-for-the-bulletin");
  await asker.getByLabel("What is it about?").fill("A concert that falls through");
  await asker.getByLabel("Text").fill("The choir sings at the chapel.");
  await asker.getByLabel("Who can be asked").fill("Pia, 0471 55 44");
  await asker.getByLabel("Your name").fill("Pia Solder");
  await asker.getByLabel("Your mail address").fill("pia@choir.example");
  await asker.getByRole("button", { name: "Send it" }).click();
  const link = await linkInMail(ilda, "pia@choir.example", /http\S+\/asked\/\S+/);
  await asker.goto(new URL(link).pathname);
  await asker.getByRole("button", { name: "Open it" }).click();
  await ilda.goto("/intake?sort=request");
  await expect(ilda.getByRole("link", { name: "A concert that falls through" })).toBeVisible();
  await asker.getByRole("button", { name: "Take it back" }).click();
  await expect(asker.getByRole("button", { name: "Take it back" })).toHaveCount(0);
  await seen(asker.getByText(/took it back/));
  await ilda.goto("/intake?sort=request");
  await expect(ilda.getByRole("link", { name: "A concert that falls through" })).toHaveCount(0);
  await leave(asker);
});

test("an idea is noted from anywhere, what was like it shown; it is judged, and set aside with a reason to be found", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  await noor.keyboard.press("Control+k");
  await noor.keyboard.type("Springs one can drink in winter");
  await noor.getByRole("option", { name: /Note it as an idea/ }).click();
  const line = noor.getByLabel("An idea, in a line");
  await expect(line).toHaveValue("Springs one can drink in winter");
  await expect(noor.getByRole("list", { name: "Like it" })).toContainText("Every spring one can drink from");
  await accessible(noor);
  await noor.getByRole("button", { name: "Note it" }).press("Enter");
  await expect(noor.getByText("It is noted.")).toBeVisible();
  await noor.getByRole("link", { name: "Outline it" }).click();
  await noor.getByLabel("Outline", { exact: true }).fill("Which do not freeze.");
  await noor.getByRole("button", { name: "Keep the outline" }).click();
  await noor.getByText("Judge it", { exact: true }).click();
  await noor.getByLabel("a few would").check();
  await noor.getByRole("button", { name: "Say so" }).click();
  await expect(noor.getByText("a few would (1)")).toBeVisible();
  await expect(noor.getByRole("link", { name: "Set aside" })).toHaveCount(0);
  await leave(noor);
  await ilda.goto("/intake?sort=idea");
  await ilda.getByRole("link", { name: "Springs one can drink in winter" }).click();
  await seen(ilda.getByText("Which do not freeze."));
  await ilda.getByRole("button", { name: "Put it on the short list" }).click();
  await expect(ilda.getByRole("button", { name: "Take it off the short list" })).toBeVisible();
  await ilda.keyboard.press("n");
  await ilda.getByLabel("Why", { exact: true }).fill("We have one on springs already.");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByRole("complementary").getByRole("heading", { level: 3 })).toBeFocused();
  await expect(ilda.getByRole("link", { name: "Springs one can drink in winter" })).toHaveCount(0);
  await ilda.goto("/intake?new=Springs one can drink at night");
  await expect(ilda.getByRole("list", { name: "Like it" })).toContainText("We have one on springs already.");
});

test("several things are declined with one reason, each told; what somebody else settled meanwhile is said", async ({
  browser,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  for (const title of ["A first thought", "A second thought", "A third thought"]) {
    await noor.goto("/intake?sort=idea");
    await noor.getByLabel("An idea, in a line").fill(title);
    await noor.getByRole("button", { name: "Note it" }).click();
    await expect(noor.getByText("It is noted.")).toBeVisible();
  }
  await leave(noor);
  await ilda.goto("/intake?sort=idea");
  for (const title of ["A first thought", "A second thought", "A third thought"])
    await ilda.getByLabel(`Choose ${title}`).check();
  await expect(ilda.getByText("3 things chosen")).toBeVisible();
  await accessible(ilda);
  await ilda.getByLabel("Decline them, because").fill("Not now.");
  await ilda.getByRole("button", { name: "Decline", exact: true }).click();
  await expect(ilda.getByRole("link", { name: "A first thought" })).toHaveCount(0);
  await expect(ilda.getByRole("link", { name: "A third thought" })).toHaveCount(0);
  await expect(ilda.getByRole("list", { name: "What came in" }).locator("a:focus")).toHaveCount(1);
  await ilda.getByRole("link", { name: "Settled" }).click();
  await expect(ilda.getByRole("link", { name: "A first thought" })).toBeVisible();
  await ilda.getByRole("searchbox", { name: "Find by words" }).fill("second thought");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByRole("link", { name: "A first thought" })).toHaveCount(0);
  await ilda.getByRole("link", { name: "A second thought" }).click();
  await seen(ilda.getByText("Not now."));
  await ilda.getByRole("searchbox", { name: "Find by words" }).fill("nobody wrote this");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByText("Nothing here says these words.")).toBeVisible();
});

test("a reader says without script that something is not right; it is given to somebody and answered by mail", async ({
  browser,
}) => {
  const reader = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
  await reader.goto("/read");
  await reader.locator("h2 a").first().click();
  const title = (await reader.locator("article h1").textContent()) ?? "";
  await reader.getByRole("link", { name: "Something not right here?" }).click();
  await reader.getByLabel("Your mail address").fill("no address");
  await reader.getByLabel("What is not right?").fill("The bridge is gone since Sunday.");
  await reader.evaluate(() => document.querySelector("form")?.setAttribute("novalidate", ""));
  await reader.getByRole("button", { name: "Send it" }).click();
  await expect(reader.getByText("This is no address.")).toBeVisible();
  await expect(reader.getByLabel("What is not right?")).toHaveValue("The bridge is gone since Sunday.");
  await reader.getByLabel("Your mail address").fill("reader@post.example");
  await reader.getByRole("button", { name: "Send it" }).click();
  await expect(reader.getByRole("heading", { name: "Thank you" })).toBeVisible();
  await leave(reader);
  await ilda.goto("/intake?sort=report");
  const said = ilda.getByRole("listitem").filter({ hasText: "The bridge is gone since Sunday." });
  await said.getByRole("link", { name: title }).click();
  await expect(ilda.getByRole("button", { name: "Correct the piece" })).toBeVisible();
  await ilda.keyboard.press("g");
  await choose(ilda.getByLabel("Who sees to it"), "Kai Wendt");
  await ilda.getByRole("button", { name: "Give it" }).click();
  await expect(said).toContainText("given to Kai Wendt");
  const kai = await signIn(browser, "Kai Wendt");
  await kai.goto("/intake?mine=yes");
  await kai.getByRole("link", { name: title }).first().click();
  await kai.getByRole("link", { name: "Answer", exact: true }).click();
  await kai.getByLabel("Your answer").fill("Thank you, we look.");
  await accessible(kai);
  await kai.getByRole("button", { name: "Answer", exact: true }).click();
  await expect(kai.getByText("Nothing waits here.")).toBeVisible();
  await mailTo(kai, "reader@post.example", "Thank you, we look.");
  await leave(kai);
});

test("a form is made by the team, and asks what it says; its mistakes are said where they are", async ({ browser }) => {
  await ilda.goto("/publication/intake");
  await ilda.getByRole("link", { name: "A new form" }).click();
  await ilda.getByLabel("Name", { exact: true }).fill("A picture of the valley");
  await ilda.getByLabel("Needs at least").fill("soon");
  await choose(ilda.getByLabel("It becomes a"), "Bulletin item");
  await choose(ilda.getByLabel("For", { exact: true }), "Bulletin");
  await ilda.getByRole("button", { name: "Add a field" }).click();
  await ilda.getByLabel("Name of the new field").fill("Where it was taken");
  await ilda.getByRole("button", { name: "Make it" }).click();
  await expect(ilda.getByText(/expected a length/)).toBeVisible();
  await expect(ilda.getByLabel("Name", { exact: true })).toHaveValue("A picture of the valley");
  await ilda.getByLabel("Needs at least").fill("5wd");
  await accessible(ilda);
  await ilda.getByRole("button", { name: "Make it" }).click();
  await ilda.waitForURL(/form=a-picture-of-the-valley/);
  const anybody = await outsider(browser);
  await anybody.goto("/ask/a-picture-of-the-valley");
  await expect(anybody.getByLabel("Where it was taken")).toBeVisible();
  await leave(anybody);
  await ilda.getByLabel("It takes requests").uncheck();
  await ilda.getByRole("button", { name: "Keep this form" }).click();
  await expect(ilda.getByText("Kept.")).toBeVisible();
  expect((await ilda.request.get("/ask/a-picture-of-the-valley")).status()).toBe(404);
});

test("a feed is named and looked at; what it brings is left, or taken up with its source", async () => {
  await ilda.goto("/publication/intake");
  await ilda.getByRole("button", { name: "No more: Avalanche service" }).click();
  await expect(ilda.getByRole("button", { name: "No more: Avalanche service" })).toHaveCount(0);
  await ilda.getByText("Look at another").click();
  await ilda.getByLabel("What is it called").fill("Snow");
  await ilda.getByLabel("Its address").fill("https://10.1.1.1/feed");
  await ilda.getByRole("button", { name: "Look at it from now on" }).click();
  await expect(ilda.getByText(/lies within this house/)).toBeVisible();
  await ilda.getByLabel("Its address").fill(`${new URL(ilda.url()).origin}/standins/feed.atom`);
  await ilda.getByRole("button", { name: "Look at it from now on" }).click();
  await expect(ilda.getByRole("list", { name: "Feeds" })).toContainText("Snow");
  await served(ilda, "/intake?sort=material", "from Snow");
  await ilda.goto("/intake?sort=material");
  await accessible(ilda);
  const brought = ilda.getByRole("listitem").filter({ hasText: "from Snow" });
  const title = (await brought.first().getByRole("link").first().textContent()) ?? "";
  await brought.first().getByRole("link").first().click();
  await expect(ilda.getByText("Stands at")).toBeVisible();
  await ilda.keyboard.press("t");
  await expect(ilda.getByLabel("The brief")).toHaveValue(/^Source: http/);
  await ilda.getByRole("region", { name: "Take it up" }).getByLabel("Title").fill(`${title}, for walkers`);
  await choose(ilda.getByLabel("Kind"), "Safety notice");
  await choose(ilda.getByLabel("Section"), "Safety");
  await ilda.getByRole("button", { name: "Begin the piece" }).click();
  await expect(ilda.getByRole("button", { name: "Begin the piece" })).toHaveCount(0);
  await ilda.goto("/pieces?words=for walkers");
  await expect(ilda.getByRole("link", { name: `${title}, for walkers` })).toBeVisible();
});
