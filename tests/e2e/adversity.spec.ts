import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { seedDemo } from "#demo/seed.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { freePort, type LocalMariaDb, startMariaDb } from "../../scripts/mariadb.ts";
import { accessible } from "./axe.ts";
import { expect, test } from "./house.ts";
import { beginItem, choose, leave, newPage, saved, send, signIn, write } from "./person.ts";

test("two windows of one person: one writes, the other reads along, takes over, and nothing is lost", async ({
  browser,
}) => {
  const one = await signIn(browser, "Mina Tauberg");
  const address = await beginItem(one, "Two windows");
  await write(one, "From the beginning.");
  const two = await newPage(one.context());
  await two.goto(address);
  await expect(two.getByText("You write in this text in another window")).toBeVisible();
  await expect(two.getByRole("textbox", { name: "Item" })).toHaveCount(0);
  await write(one, " Written first.");
  await expect(two.getByText("From the beginning. Written first.")).toBeVisible();
  await two.getByRole("button", { name: "Take over" }).click();
  await write(two, " Written second.");
  await expect(one.getByText("You write in this text in another window")).toBeVisible();
  await expect(one.getByText("From the beginning. Written first. Written second.")).toBeVisible();
  await two.reload();
  await expect(two.getByRole("textbox", { name: "Item" })).toContainText("Written first. Written second.");
  await leave(one);
});

test("words typed without a connection are kept over a reload and saved when it is back", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  await beginItem(page, "No connection");
  await expect(page.getByRole("textbox", { name: "Item" })).toBeVisible();
  await page.route("**/text", (route) => route.abort());
  await page.getByRole("textbox", { name: "Item" }).click();
  await page.keyboard.type("Typed on the train.");
  await expect(page.getByText("not saved: no connection, kept here")).toBeVisible();
  await page.reload();
  await expect(page.getByRole("textbox", { name: "Item" })).toContainText("Typed on the train.");
  await page.unroute("**/text");
  await expect(page.getByText("version 2 · saved")).toBeVisible({ timeout: 10_000 });
  await leave(page);
});

test("a double click begins one piece", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  await page.goto("/pieces/new");
  await choose(page.getByLabel("Kind"), "Bulletin item");
  await choose(page.getByLabel("Section"), "Bulletin");
  await page.getByLabel("Title").fill("Clicked twice");
  await page.getByRole("button", { name: "Begin" }).dblclick();
  await page.waitForURL(/\/pieces\/(?!new)/);
  await page.goto("/pieces?words=Clicked+twice");
  await expect(page.getByRole("heading", { name: "One piece" })).toBeVisible();
  await leave(page);
});

test("forms with something wrong keep what was typed and say what", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  await page.goto("/pieces/new");
  await choose(page.getByLabel("Kind"), "Feature");
  await page.getByLabel("Title").fill("x".repeat(201));
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByText("Choose a section")).toBeVisible();
  await choose(page.getByLabel("Section"), "Bulletin");
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByText("The title is longer than 200 characters.")).toBeVisible();
  await expect(page.getByLabel("Title")).toHaveValue("x".repeat(201));
  await page
    .getByLabel("Start from files")
    .setInputFiles({ name: "x.md", mimeType: "text/markdown", buffer: Buffer.from([0xff, 0xfe, 0x00]) });
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByText("The file is neither a DOCX document nor a text in UTF-8.")).toBeVisible();
  await leave(page);
});

test("a form of another origin is refused, a forged cookie opens nothing", async ({ browser, playwright, baseURL }) => {
  const page = await signIn(browser, "Ilda Marenzi");
  const cookies = (await page.context().cookies()).map((cookie) => `${cookie.name}=${cookie.value}`).join("; ");
  const [cookie] = await page.context().cookies();
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: "Lax" });
  const program = await playwright.request.newContext({ baseURL: baseURL ?? "" });
  const post = (headers: Record<string, string>) =>
    program.post("/notices", { headers, form: { intent: "looked" }, maxRedirects: 0 });
  expect((await post({ cookie: cookies, origin: "https://evil.example" })).status()).toBe(403);
  expect((await post({ cookie: cookies, origin: "null" })).status()).toBe(403);
  expect((await post({ cookie: cookies })).status()).toBe(403);
  expect((await post({ cookie: cookies, origin: baseURL ?? "" })).status()).toBe(200);
  const forged = await program.get("/turn", { headers: { cookie: "elenco=forged" }, maxRedirects: 0 });
  expect(forged.status()).toBe(302);
  expect(forged.headers().location).toContain("/sign-in");
  const headers = (await program.get("/sign-in")).headers();
  expect(headers["content-security-policy"]).toMatch(/script-src 'self' 'nonce-[^']+';/);
  expect(headers["x-content-type-options"]).toBe("nosniff");
  const huge = await program
    .post("/standins/clock", { data: Buffer.alloc(5_000_000), failOnStatusCode: false })
    .catch(() => null);
  expect(huge === null || huge.status() === 413).toBe(true);
  const live = await program.get("/live");
  expect(live.status()).toBe(401);
  await program.dispose();
  await leave(page);
});

test("a piece that is not for one and a piece that does not exist cannot be told apart", async ({ browser }) => {
  const writer = await signIn(browser, "Mina Tauberg");
  const hidden = await beginItem(writer, "Not for everybody");
  const other = await signIn(browser, "Noor Castellan");
  const strip = (html: string) =>
    html
      .replace(/[0-9a-f]{8}-[0-9a-f-]{27}|nonce="[^"]*"|[\w+/]{22}==|\d{13}/g, "")
      .replaceAll(new URL(hidden).pathname, "")
      .replaceAll("/pieces/no-such-piece", "");
  const [forbidden, missing] = [await other.request.get(hidden), await other.request.get("/pieces/no-such-piece")];
  expect([forbidden.status(), missing.status()]).toEqual([404, 404]);
  expect(strip(await forbidden.text())).toBe(strip(await missing.text()));
  for (const page of [writer, other]) await leave(page);
});

test("what is done the moment a page appears is seen at once", async ({ browser }) => {
  const page = await signIn(browser, "Mina Tauberg");
  const address = await beginItem(page, "In a hurry");
  for (const n of [1, 2, 3, 4]) {
    await page.goto(address, { waitUntil: "commit" });
    await page.getByLabel("Comment on the piece").fill(`Word ${n}`);
    await page.getByRole("button", { name: "Comment", exact: true }).click();
    await expect(page.getByText(n === 1 ? "1 remark, 1 open" : `${n} remarks, ${n} open`)).toBeVisible();
  }
  await leave(page);
});

test("twenty windows of one browser all load and hear of what happens, also when the one that listened is closed", async ({
  browser,
}) => {
  const author = await signIn(browser, "Tobia Rensk");
  const where = await beginItem(author, "Looked at in twenty windows", "Safety");
  const reader = await signIn(browser, "Ilda Marenzi");
  await reader.goto(where);
  const windows = [author];
  while (windows.length < 20) windows.push(await newPage(author.context()));
  for (const one of windows) await one.goto("/notices");
  const heard = async (words: string) => {
    await reader.getByLabel("Comment on the piece").fill(words);
    await reader.getByRole("button", { name: "Comment", exact: true }).click();
    const told = windows.map((one) => expect(one.getByText(words)).toBeVisible());
    await Promise.all(told);
  };
  await heard("The first word.");
  await windows.shift()?.close();
  await heard("The second word.");
  for (const page of [...windows.slice(0, 1), reader]) await leave(page);
});

test("a form sent when the session is over stays as typed, says why, and goes through after signing in elsewhere", async ({
  browser,
}) => {
  const page = await signIn(browser, "Mina Tauberg");
  await beginItem(page, "Signed out meanwhile", "Safety");
  await page.reload();
  const comment = page.getByLabel("Comment on the piece");
  await comment.fill("A long thought.");
  await page.context().clearCookies();
  // What happens meanwhile does not lead the window away.
  const reader = await signIn(browser, "Ilda Marenzi");
  await reader.goto(page.url());
  await reader.getByLabel("Comment on the piece").fill("Said meanwhile.");
  await reader.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(
    page.getByText("You are signed out. What you typed stays here: sign in in another window"),
  ).toBeVisible();
  await expect(comment).toHaveValue("A long thought.");
  await accessible(page);
  await leave(reader);
  await page.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("You are signed out. What you typed stays here");
  await expect(comment).toHaveValue("A long thought.");
  const other = await newPage(page.context());
  await other.goto("/sign-in");
  await other.getByRole("button", { name: /^Mina Tauberg/ }).click();
  await other.waitForURL("**/turn");
  await page.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(page.getByText("2 remarks, 2 open")).toBeVisible();
  await expect(page.getByText("You are signed out.")).toHaveCount(0);
  await leave(page);
});

test("a text that changed while somebody decides: the note stays, what changed is a window away, and the decision goes through", async ({
  browser,
}) => {
  const author = await signIn(browser, "Mina Tauberg");
  const where = await beginItem(author, "Changed under the reviewer");
  await write(author, "The path is closed.");
  await send(author, "Send for copy edit", async (page) => {
    await page.getByLabel(/Petra Holmqvist/).check();
    await page.getByLabel(/^Note/).fill("Please.");
  });
  const reviewer = await signIn(browser, "Petra Holmqvist");
  // Nothing live reaches this window: it decides on what it shows.
  await reviewer.route("**/live**", (route) => route.abort());
  await reviewer.goto(`${where}?do=decide`);
  const note = reviewer.getByRole("region", { name: /^Decide on version/ }).getByLabel("Note");
  await note.fill("I walked it.");
  const elsewhere = await signIn(browser, "Petra Holmqvist");
  await elsewhere.goto(where);
  await write(elsewhere, " Until Sunday.");
  await leave(elsewhere);
  await reviewer.getByRole("button", { name: "Copy is right" }).click();
  await expect(reviewer.getByRole("alert")).toContainText("your note is kept");
  await expect(note).toHaveValue("I walked it.");
  const [compared] = await Promise.all([
    reviewer.context().waitForEvent("page"),
    reviewer.getByRole("link", { name: /^What changed/ }).click(),
  ]);
  await expect(compared.getByRole("region", { name: "Comparison" }).locator("ins")).toHaveText(" Until Sunday.");
  await compared.close();
  await reviewer.getByRole("button", { name: "Show it as it is now" }).click();
  await expect(reviewer.getByRole("heading", { name: "Decide on version 3" })).toBeVisible();
  await expect(note).toHaveValue("I walked it.");
  await reviewer.getByRole("button", { name: "Copy is right" }).click();
  await expect(reviewer.getByRole("region", { name: "Passage" })).toContainText("I walked it.");
  for (const page of [author, reviewer]) await leave(page);
});

test("the studio is not there for who may not configure: pages, files and what is saved to it alike", async ({
  browser,
}) => {
  const page = await signIn(browser, "Mina Tauberg");
  for (const path of [
    "/workflows",
    "/workflows/hut-page",
    "/workflows/hut-page?look=changes",
    "/workflows/hut-page/document?as=scxml",
  ])
    expect((await page.request.get(path)).status()).toBe(404);
  const saved = await page.request.post("/workflows/hut-page/save", {
    data: { document: {}, revision: 0 },
    headers: { origin: new URL(page.url()).origin },
  });
  expect(await saved.json()).toMatchObject({ refusal: { code: "not-granted" } });
  const ordered = await page.request.post("/workflows/hut-page", {
    form: { intent: "retire" },
    headers: { origin: new URL(page.url()).origin },
  });
  expect(ordered.status()).toBe(404);
  await leave(page);
});

test("ten wrong passwords close an account's door for a while, right ones too", async ({ page }) => {
  const attempt = async (password: string) => {
    await page.goto("/sign-in");
    await page.getByLabel("Mail address").fill("kai@fontelba.example");
    await page.getByLabel("Password").fill(password);
    await page.getByRole("button", { name: "Sign in", exact: true }).click();
  };
  await attempt("over-the-pass");
  await page.waitForURL("**/turn");
  await page.context().clearCookies();
  for (let i = 0; i < 10; i++) {
    await attempt(`wrong ${i}`);
    await expect(page.getByRole("alert")).toContainText("do not belong together");
  }
  await attempt("over-the-pass");
  await expect(page.getByRole("alert")).toContainText("Too many attempts");
});

test.describe("the database stops while people work", () => {
  let folder: string;
  let maria: LocalMariaDb;
  let node: ChildProcess;
  let base: string;
  let port: number;

  test.beforeAll(async () => {
    folder = mkdtempSync(path.join(tmpdir(), "elenco-stop-"));
    port = await freePort();
    maria = await startMariaDb(folder, { port });
    const url = `${maria.url}elenco`;
    await createDatabase(url);
    const db = connect(url);
    await migrateDatabase(db);
    await seedDemo(db, { baseUrl: "http://x", files: folder, bare: true });
    await disconnect(db);
    const web = await freePort();
    base = `http://127.0.0.1:${web}`;
    const env = {
      ...process.env,
      NODE_ENV: "production",
      DATABASE_URL: url,
      SESSION_SECRET: "s".repeat(32),
      PORT: String(web),
      ELENCO_STANDINS: "true",
      LOG_LEVEL: "silent",
    };
    node = spawn(process.execPath, ["build/server/node.js"], {
      env,
      stdio: ["ignore", "pipe", "inherit"],
    });
    for await (const line of node.stdout ?? []) if (String(line).includes("ready")) break;
    node.stdout?.resume();
  });

  test.afterAll(async () => {
    node.kill("SIGTERM");
    await maria.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test("requests answer 503, what is typed is kept, and all recovers by itself", async ({ browser }) => {
    const context = await browser.newContext({ baseURL: base });
    const page = await newPage(context);
    await page.goto("/sign-in");
    await page.getByRole("button", { name: /Noor Castellan/ }).click();
    await page.waitForURL("**/turn");
    await beginItem(page, "While it was away");
    await write(page, "Before.");
    expect((await page.request.get("/readyz")).status()).toBe(200);

    await maria.stop();
    expect((await page.request.get("/readyz")).status()).toBe(503);
    expect((await page.request.get("/healthz")).status()).toBe(200);
    const away = await page.request.get("/turn");
    expect(away.status()).toBe(503);
    expect(await away.text()).toContain("The database does not answer");
    await page.getByLabel("Comment on the piece").fill("Said while it was away.");
    await page.getByRole("button", { name: "Comment", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText("What you wrote is kept here");
    await expect(page.getByLabel("Comment on the piece")).toHaveValue("Said while it was away.");
    await page.getByRole("textbox", { name: "Item" }).click();
    await page.keyboard.type("During. ");
    await expect(page.getByText("not saved: the database does not answer, kept here")).toBeVisible();

    maria = await startMariaDb(folder, { port });
    await expect.poll(async () => (await page.request.get("/readyz")).status()).toBe(200);
    await saved(page);
    await page.getByRole("button", { name: "Comment", exact: true }).click();
    await expect(page.getByText("1 remark, 1 open")).toBeVisible();
    await context.close();
  });
});
