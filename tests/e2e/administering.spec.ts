import { Secret, TOTP } from "otpauth";
import { accessible, fits } from "./axe.ts";
import { type Browser, expect, type Page, test } from "./house.ts";
import {
  beginItem,
  choose,
  leave,
  linkInMail,
  newPage,
  select,
  send,
  served,
  signIn,
  signOut,
  write,
} from "./person.ts";

let chief: Page;
test.beforeAll(async ({ browser }) => {
  chief = await signIn(browser, "Ilda Marenzi");
});

const codeOf = (secret: string, at = Date.now()) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: at });

async function newBrowser(browser: Browser): Promise<Page> {
  return newPage(await browser.newContext());
}

test("somebody is invited, joins by the link in the mail, is asked for a second factor, and uses a recovery code", async ({
  browser,
}) => {
  await chief.goto("/people");
  await chief.getByRole("link", { name: "Invite somebody" }).click();
  await chief.getByLabel("Name", { exact: true }).fill("Odile Brandt");
  await chief.getByLabel("Mail address").fill("noor@fontelba.example");
  await chief.getByRole("button", { name: "Send the invitation" }).click();
  await expect(chief.getByText("That address is Noor Castellan’s.")).toBeVisible();
  await expect(chief.getByLabel("Name", { exact: true })).toHaveValue("Odile Brandt");
  await chief.getByLabel("Mail address").fill("odile@fontelba.example");
  await choose(chief.getByLabel("Role", { exact: true }), "Safety officer");
  await choose(chief.getByLabel("For", { exact: true }), "a section and all below");
  await choose(chief.getByLabel("Section"), "Huts");
  await accessible(chief);
  await chief.getByRole("button", { name: "Send the invitation" }).click();
  await expect(chief.getByText("Invited, not here yet.")).toBeVisible();
  await expect(chief.getByText("Safety officer for Huts")).toBeVisible();

  await chief.goto("/people/roles?role=safety");
  await chief.getByLabel("Who holds it signs in with a second factor").check();
  await chief.getByRole("button", { name: "Keep this" }).click();
  await chief.waitForURL(/\/people\/roles$/);

  const odile = await newBrowser(browser);
  const link = await linkInMail(chief, "odile@fontelba.example", /\/open\/\S+/);
  await odile.goto(link);
  await odile.getByLabel("Password").fill("short");
  await odile.getByRole("button", { name: "Join" }).click();
  await expect(odile.getByText("A password has at least 10 characters.")).toBeVisible();
  await accessible(odile);
  await odile.getByLabel("Password").fill("four walks and a hut");
  await odile.getByRole("button", { name: "Join" }).click();
  await odile.waitForURL("**/sign-in/code");
  await accessible(odile);
  const secret = (await odile.locator("code").textContent())?.replace(/\s/g, "") ?? "";
  await odile.getByLabel("Code", { exact: true }).fill("000000");
  await odile.getByRole("button", { name: "Set it up" }).click();
  await expect(odile.getByRole("alert")).toContainText("not the code");
  expect((await odile.locator("code").textContent())?.replace(/\s/g, "")).toBe(secret);
  await odile.getByLabel("Code", { exact: true }).fill(codeOf(secret));
  await odile.getByRole("button", { name: "Set it up" }).click();
  const recovery = await odile
    .getByRole("list", { name: "Recovery codes" })
    .getByRole("listitem")
    .first()
    .textContent();
  await odile.getByRole("link", { name: /go on/ }).click();
  await odile.waitForURL("**/turn");

  const again = await newBrowser(browser);
  await again.goto(link);
  await expect(again.getByText("This link opens nothing")).toBeVisible();
  await again.goto("/sign-in");
  await again.getByLabel("Mail address").fill("odile@fontelba.example");
  await again.getByLabel("Password").fill("four walks and a hut");
  await again.getByRole("button", { name: "Sign in", exact: true }).click();
  await again.waitForURL(/\/sign-in\/code/);
  await again.goto("/turn");
  await again.waitForURL(/\/sign-in/);
  await again.goto("/sign-in/code");
  await again.getByLabel("Code", { exact: true }).fill(recovery ?? "");
  await again.getByRole("button", { name: "Sign in", exact: true }).click();
  await again.waitForURL("**/turn");
  await again.goto("/me");
  await expect(again.getByRole("region", { name: "Sessions" }).getByRole("listitem")).toHaveCount(2);
  await again.getByRole("button", { name: "End all but this" }).click();
  await expect(again.getByRole("region", { name: "Sessions" }).getByRole("listitem")).toHaveCount(1);
  await odile.goto("/turn");
  await odile.waitForURL(/\/sign-in/);
  await accessible(again);
  await chief.goto("/people/roles?role=safety");
  await chief.getByLabel("Who holds it signs in with a second factor").uncheck();
  await chief.getByRole("button", { name: "Keep this" }).click();
  await chief.waitForURL(/\/people\/roles$/);
});

test("a forgotten password is chosen anew by mail, whether or not the address is known nobody learns", async ({
  browser,
}) => {
  const page = await newBrowser(browser);
  await page.goto("/sign-in");
  await page.getByRole("link", { name: "Forgot the password" }).click();
  await page.waitForURL("**/forgot");
  await page.getByLabel("Mail address").fill("nobody@fontelba.example");
  await page.getByRole("button", { name: "Send me a link" }).click();
  const said = await page.getByRole("status").textContent();
  await page.goto("/forgot");
  await page.getByLabel("Mail address").fill("mina@fontelba.example");
  await page.getByRole("button", { name: "Send me a link" }).click();
  await expect(page.getByRole("status")).toHaveText(said ?? "");
  await accessible(page);
  await page.goto(await linkInMail(chief, "mina@fontelba.example", /\/open\/\S+/));
  await page.getByLabel("Password").fill("the ledge above Larice");
  await page.getByRole("button", { name: "Keep it and sign in" }).click();
  await page.waitForURL("**/turn");
});

test("a role is changed by keyboard, its consequences shown first; copied, compared, and who has what", async () => {
  await chief.goto("/people/roles");
  await accessible(chief);
  await chief.getByRole("link", { name: "Web and releases" }).click();
  const cell = chief.getByRole("button", { name: /Web and releases, let a piece out to readers/ });
  await cell.focus();
  await chief.keyboard.press("n");
  await expect(cell).toHaveAccessibleName(/: no$/);
  await expect(chief.getByRole("region", { name: "What this changes" })).toContainText(
    "Kai Wendt may no longer let a piece out to readers",
  );
  await chief.keyboard.press("y");
  await expect(chief.getByRole("region", { name: "What this changes" })).toHaveCount(0);
  for (let up = 0; up < 3; up++) await chief.keyboard.press("ArrowUp");
  await expect(chief.getByRole("button", { name: /Web and releases, let a guest in/ })).toBeFocused();
  await chief.keyboard.press("o");
  await expect(chief.getByRole("region", { name: "What this changes" })).toContainText(
    "let a guest in to one piece by a link: no → own pieces only",
  );
  await choose(chief.getByLabel("Compare with"), "Picture desk");
  await expect(chief.getByText(/They differ in the \d+ rows/)).toBeVisible();
  await accessible(chief);
  await chief.getByRole("button", { name: "Keep this" }).click();
  await chief.waitForURL(/\/people\/roles$/);
  await chief.getByRole("link", { name: "let a piece out to readers" }).click();
  await expect(chief.getByRole("complementary")).toContainText("Kai Wendt");
  await accessible(chief);
  await chief.goto("/people/roles?do=new&from=writer");
  await chief.getByLabel("Name", { exact: true }).fill("Night writer");
  await chief.getByRole("button", { name: "Make it" }).click();
  await expect(chief.getByRole("button", { name: /Night writer, begin new pieces: yes/ })).toBeVisible();
  await chief.goto("/people/roles?role=chief");
  for (const name of [/invite people/, /see every screen/])
    await chief.getByRole("button", { name: new RegExp(`Managing editor, ${name.source}`) }).press("n");
  await expect(chief.getByRole("region", { name: "What this changes" })).toContainText("Ilda Marenzi may no longer");
  await chief.getByRole("button", { name: "Keep this" }).click();
  await expect(chief.getByRole("alert").first()).toContainText("Then nobody could give roles any more");
});

test("a change of a role that breaks a workflow says which", async () => {
  await chief.goto("/people/roles?role=checker");
  await chief.getByRole("button", { name: /Route checker, decide in/ }).press("n");
  await expect(chief.getByRole("region", { name: "What this changes" })).toContainText(
    /Route guide.*may not decide in a review/,
  );
});

test("roles are given for a section and a time, overlaps are shown, and ended", async () => {
  await chief.goto("/people/who/gus");
  const give = chief.getByRole("region", { name: "Give a role" });
  await choose(give.getByLabel("Role"), "Writer");
  await choose(give.getByLabel("For", { exact: true }), "a section and all below");
  await choose(give.getByLabel("Section"), "Routes / Winter");
  await give.getByLabel("From", { exact: true }).fill("2026-12-01");
  await give.getByLabel("Until, that day included").fill("2026-11-20");
  await give.getByRole("button", { name: "Give it" }).click();
  await expect(give.getByText("It would end before it begins.")).toBeVisible();
  await give.getByLabel("Until, that day included").fill("2027-01-31");
  await give.getByRole("button", { name: "Give it" }).click();
  await expect(chief.getByRole("region", { name: "Held later" })).toContainText("from Tue 1 Dec until Sun 31 Jan");
  await choose(give.getByLabel("For", { exact: true }), "a section and all below");
  await choose(give.getByLabel("Role"), "Picture desk");
  await give.getByLabel("From", { exact: true }).fill("");
  await give.getByLabel("Until, that day included").fill("");
  await give.getByRole("button", { name: "Give it" }).click();
  await expect(
    chief.getByText(/Adds nothing while this is held: Picture desk for the whole publication/),
  ).toBeVisible();
  await accessible(chief);
  const later = chief.getByRole("region", { name: "Held later" });
  await later.getByRole("link", { name: "End it" }).click();
  await later.getByRole("button", { name: "End it now" }).click();
  await expect(later).toHaveCount(0);
});

test("a group holds a role together", async () => {
  await chief.goto("/people/groups");
  await chief.getByLabel("A new group").fill("Weather desk");
  await chief.getByRole("button", { name: "Make it" }).click();
  await chief.getByRole("checkbox", { name: "Gus Ferrante" }).check();
  await chief.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(chief.getByRole("status").filter({ hasText: "Kept." })).toBeVisible();
  await choose(chief.getByLabel("Role", { exact: true }), "Copy editor");
  await chief.getByRole("button", { name: "Give it to all of them" }).click();
  await expect(chief.getByRole("region", { name: "What they hold" })).toContainText(
    "Copy editor for the whole publication",
  );
  await accessible(chief);
  await chief.goto("/people/who/gus");
  await expect(chief.getByText("through the group Weather desk")).toBeVisible();
  await chief.goto("/people/groups?group=weather-desk&do=delete");
  await chief.getByRole("button", { name: "Do away with Weather desk" }).click();
  await chief.waitForURL(/\/people\/groups$/);
});

test("why: from a closed button, and asked for somebody else", async ({ browser }) => {
  const noor = await signIn(browser, "Noor Castellan");
  const url = await beginItem(noor, "Why can I not release it");
  await noor.getByRole("link", { name: /Send for copy edit.*closed/ }).click();
  await expect(noor.getByRole("region", { name: "Answer" })).toContainText(
    "Noor Castellan cannot take “Send for copy edit” here now.",
  );
  await expect(noor.getByRole("region", { name: "Answer" })).toContainText("Item is empty");
  await accessible(noor);
  await chief.goto(`/why?piece=${url.split("/pieces/")[1]}`);
  const answer = chief.getByRole("region", { name: "Answer" });
  await choose(chief.getByLabel("May"), "Tobia Rensk");
  await choose(chief.getByLabel("do this"), "let a piece out to readers");
  await chief.getByRole("button", { name: "Ask" }).click();
  await expect(answer).toContainText("Tobia Rensk may not let a piece out to readers here.");
  await expect(answer).toContainText("Kai Wendt");
  await noor.goto("/why?action=piece.release");
  await expect(noor.getByRole("region", { name: "Answer" })).toContainText("None of their roles allows it: Writer.");
});

test("seeing as somebody: their screen, their buttons, nothing changed, left by one key", async () => {
  await chief.goto("/people/who/tobia");
  await chief.getByRole("button", { name: "See as Tobia" }).click();
  await chief.waitForURL("**/turn");
  await expect(chief.getByText(/This is what Tobia Rensk sees/)).toBeVisible();
  await expect(chief.getByRole("navigation", { name: "Places" }).getByRole("link", { name: "People" })).toHaveCount(0);
  expect((await chief.request.get("/people")).status()).toBe(404);
  await accessible(chief);
  await chief.goto("/pieces/new");
  await choose(chief.getByLabel("Kind"), "Bulletin item");
  await choose(chief.getByLabel("Section"), "Bulletin");
  await chief.getByLabel("Title").fill("In Tobia's name");
  await chief.getByRole("button", { name: "Begin" }).click();
  await expect(chief.getByRole("alert")).toContainText("nothing can be changed until you leave");
  await expect(chief.getByLabel("Title")).toHaveValue("In Tobia's name");
  await chief.goto("/turn");
  await chief.getByRole("main").click({ position: { x: 5, y: 5 } });
  await chief.keyboard.press("l");
  await chief.waitForURL("**/people/who/tobia");
  await chief.goto("/publication/record?action=see-as.");
  await expect(chief.getByRole("list", { name: "Entries" })).toContainText("began to see as Tobia Rensk");
});

test("days away: a calendar's file, a stand-in, seats that move when the day comes", async ({ browser }) => {
  const petra = await signIn(browser, "Petra Holmqvist");
  const tobia = await signIn(browser, "Tobia Rensk");
  await beginItem(tobia, "While Petra is away");
  await write(tobia, " A few words.");
  await petra.goto("/me");
  const days = petra.getByRole("region", { name: "Days away" });
  await choose(days.getByLabel("Who stands in meanwhile"), "Lene Quist");
  await days.getByRole("button", { name: "Keep", exact: true }).click();
  await days
    .getByLabel("From a calendar’s file")
    .setInputFiles({ name: "x.ics", mimeType: "text/calendar", buffer: Buffer.from("nothing") });
  await days.getByRole("button", { name: "Read it" }).click();
  await expect(days.getByText("This is no iCalendar file, or it is damaged.")).toBeVisible();
  const event = (uid: string, from: string, until: string, summary: string) =>
    `BEGIN:VEVENT\r\nUID:${uid}\r\nDTSTAMP:20261101T000000Z\r\nDTSTART;VALUE=DATE:${from}\r\nDTEND;VALUE=DATE:${until}\r\nSUMMARY:${summary}\r\nEND:VEVENT`;
  const source = [
    "BEGIN:VCALENDAR",
    "VERSION:2.0",
    "PRODID:-//x//EN",
    event("1", "20261214", "20261219", "Ski touring"),
    event("2", "20261221", "20261222", "Dentist"),
    "END:VCALENDAR",
    "",
  ].join("\r\n");
  await days
    .getByLabel("From a calendar’s file")
    .setInputFiles({ name: "mine.ics", mimeType: "text/calendar", buffer: Buffer.from(source) });
  await days.getByRole("button", { name: "Read it" }).click();
  await days.getByRole("checkbox", { name: /Dentist/ }).uncheck();
  await accessible(petra);
  await days.getByRole("button", { name: "Note those chosen" }).click();
  await expect(days.getByText("Mon 14 Dec to Fri 18 Dec")).toBeVisible();
  await days.getByLabel("Away from").fill("2026-12-09");
  await days.getByLabel("Last day away").fill("2026-12-08");
  await days.getByRole("button", { name: "Note these days" }).click();
  await expect(days.getByText("The absence would end before it begins.")).toBeVisible();
});

test("a guest: a link on the piece, a name, a comment, a decision; taken back it opens nothing", async ({
  browser,
}) => {
  const tobia = await signIn(browser, "Tobia Rensk");
  const url = new URL(await beginItem(tobia, "For the glaciologist")).pathname;
  await write(tobia, " A few words.");
  await send(tobia, "Send for copy edit", async (page) => {
    await page.getByLabel(/^Note/).fill("As agreed.");
  });
  await chief.goto(`${url}?do=guests`);
  const panel = chief.getByRole("region", { name: "Guests" });
  await panel.getByLabel("Whom you let in").fill("A glaciologist");
  await panel.getByLabel("Until").fill("2026-11-01T10:00");
  await panel.getByRole("button", { name: "Make a link" }).click();
  await expect(panel.getByText("A link ends after now")).toBeVisible();
  await panel.getByLabel("Until").fill("2026-12-20T10:00");
  await panel.getByLabel("With a seat in the review that is open").check();
  await panel.getByRole("button", { name: "Make a link" }).click();
  const link = await panel.getByLabel("The guest’s link").inputValue();
  await accessible(chief);

  const guest = await newBrowser(browser);
  await guest.goto(new URL(link).pathname);
  await guest.getByLabel("Your name").fill("Ambrose Vail");
  await guest.getByRole("button", { name: "Show me the piece" }).click();
  await expect(guest.getByRole("heading", { name: "For the glaciologist" })).toBeVisible();
  await guest.getByLabel("Comment on the piece").fill("The date is wrong.");
  await guest.getByRole("button", { name: "Comment" }).click();
  await expect(guest.getByText("The date is wrong.")).toBeVisible();
  await select(guest, "few words");
  await guest.getByLabel("Comment on these words").fill("Say how many.");
  await guest.getByRole("button", { name: "Comment" }).click();
  await expect(guest.getByText("“few words”")).toBeVisible();
  await expect(guest.locator("article mark", { hasText: "few words" })).toBeVisible();
  await accessible(guest);
  await guest.setViewportSize({ width: 360, height: 800 });
  await fits(guest);
  await guest.getByRole("button", { name: "Back to the writer" }).click();
  await expect(guest.getByText("Say why")).toBeVisible();
  await guest.getByLabel("A note to the writer").fill("See the comment.");
  await guest.getByRole("button", { name: "Back to the writer" }).click();
  await expect(guest.getByRole("region", { name: "Your decision" })).toHaveCount(0);
  await tobia.goto(url);
  await expect(tobia.getByRole("region", { name: "Passage" })).toContainText("Ambrose Vail (guest) returned version");
  await expect(tobia.getByRole("region", { name: "Remarks" })).toContainText("Ambrose Vail (guest)");
  await expect(tobia.locator("[data-card]", { hasText: "Say how many." })).toContainText("Ambrose Vail (guest)");
  await expect(tobia.locator("article [data-thread]", { hasText: "few words" })).toBeVisible();

  await chief.goto(`${url}?do=guests`);
  await panel.getByRole("button", { name: /Take back/ }).click();
  await expect(panel.getByText("Nobody from outside sees this piece.")).toBeVisible();
  await guest.goto(new URL(link).pathname);
  await expect(guest.getByText("This link is over")).toBeVisible();
});

test("a signed-out browser's cookie opens nothing, and the way out works", async ({ browser }) => {
  const kai = await signIn(browser, "Kai Wendt");
  const stolen = await kai.context().cookies();
  await signOut(kai, "Kai Wendt");
  await kai.waitForURL(/\/sign-in/);
  const thief = await browser.newContext();
  await thief.addCookies(stolen);
  const page = await newPage(thief);
  await page.goto("/turn");
  await page.waitForURL(/\/sign-in/);
});

test("how one is told: in one's channel at once, by mail not; the calendar file opens until it is taken back", async ({
  browser,
  request,
}) => {
  const noor = await signIn(browser, "Noor Castellan");
  const address = await beginItem(noor, "Told in the channel");
  await write(noor, "A few words.");
  await send(noor, "Send for copy edit", async (page) => {
    await page.getByLabel(/Petra Holmqvist/).check();
  });
  await noor.getByRole("button", { name: "Noor Castellan", exact: true }).click();
  await noor.getByRole("menuitem", { name: "How you are told; your calendar file" }).click();
  await noor.getByLabel("What goes once a day goes at").fill("8 o'clock");
  await noor.getByRole("button", { name: "Keep it so" }).click();
  await expect(noor.getByLabel("What goes once a day goes at")).toBeFocused();
  await noor.getByLabel("What goes once a day goes at").fill("07:30");
  await choose(noor.getByLabel("Remarks, mentions, opinions: By mail"), "never");
  await choose(noor.getByLabel("Remarks, mentions, opinions: In your channel"), "at once");
  await noor.getByLabel("Your channel: the address of its incoming webhook").fill("http://10.0.0.1/hook");
  await noor.getByRole("button", { name: "Keep it so" }).click();
  await expect(noor.getByText("An address outside begins with https://.")).toBeVisible();
  const standIn = `${new URL(noor.url()).origin}/standins/chat`;
  await noor.getByLabel("Your channel: the address of its incoming webhook").fill(standIn);
  await noor.getByRole("button", { name: "Keep it so" }).click();
  await expect(noor.getByText("It is kept.")).toBeVisible();
  await accessible(noor);
  await noor.reload();
  await expect(noor.getByLabel("What goes once a day goes at")).toHaveValue("07:30");
  await expect(noor.getByLabel("Remarks, mentions, opinions: In your channel")).toHaveText("at once");

  const petra = await signIn(browser, "Petra Holmqvist");
  await petra.goto(address);
  await petra.getByLabel("Comment on the piece").fill("Heard in the channel?");
  await petra
    .getByRole("button", { name: /^(Comment|Send at once)$/ })
    .first()
    .click();
  await served(noor, "/standins/chat.json", "Heard in the channel?");
  await noor.goto("/standins/chat");
  await expect(noor.getByText("Heard in the channel?")).toBeVisible();

  await noor.goto("/notices/how");
  await noor.getByRole("button", { name: "Give it out at an address" }).click();
  const file = noor.getByRole("link", { name: /\.ics$/ });
  const where = (await file.getAttribute("href")) ?? "";
  expect(await (await request.get(where)).text()).toContain("BEGIN:VCALENDAR");
  await noor.getByRole("button", { name: "Take the address back" }).click();
  await expect(file).toHaveCount(0);
  expect((await request.get(where)).status()).toBe(404);
  await noor.setViewportSize({ width: 360, height: 800 });
  await fits(noor);
  await leave(noor);
  await leave(petra);
});
