import { spawn } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { choose } from "../tests/e2e/person.ts";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { freePort } from "./mariadb.ts";

const OUT = "docs/screenshots";

/** Every main view from the demo's data, each as the person it is for. */
const VIEWS: { file: string; who: string | null; open(page: Page): Promise<unknown> }[] = [
  { file: "your-turn", who: "Jorun Faas", open: (page) => page.goto("/turn") },
  { file: "pieces", who: "Ilda Marenzi", open: (page) => page.goto("/pieces?as=stops&line=route-guide") },
  { file: "piece-deciding", who: "Jorun Faas", open: (page) => follow(page, "/turn", "Decide") },
  { file: "remarks", who: "Petra Holmqvist", open: remarks },
  { file: "signed", who: "Ilda Marenzi", open: signed },
  { file: "piece-writing", who: "Noor Castellan", open: writing },
  { file: "versions", who: "Ilda Marenzi", open: compareVersions },
  { file: "edition", who: "Ilda Marenzi", open: (page) => page.goto("/editions/bulletin/49") },
  { file: "studio", who: "Ilda Marenzi", open: aProblemInTheStudio },
  { file: "rehearse", who: "Ilda Marenzi", open: rehearse },
  { file: "flow", who: "Ilda Marenzi", open: flow },
  { file: "schedule", who: "Ilda Marenzi", open: (page) => page.goto("/schedule") },
  { file: "channels", who: "Ilda Marenzi", open: (page) => page.goto("/publication/channels") },
  { file: "intake", who: "Ilda Marenzi", open: takeUp },
  { file: "ask", who: null, open: ask },
  { file: "roles", who: "Ilda Marenzi", open: changeARole },
  { file: "load", who: "Ilda Marenzi", open: theLoad },
  { file: "waiting", who: "Ilda Marenzi", open: (page) => page.goto("/pending") },
  { file: "reader-site", who: null, open: (page) => follow(page, "/read", /^(The|A) .* from /) },
];

const folder = mkdtempSync(path.join(tmpdir(), "elenco-pictures-"));
const port = String(await freePort());
const base = `http://127.0.0.1:${port}`;
const env = {
  ...process.env,
  ELENCO_DATA_DIR: folder,
  PORT: port,
  ELENCO_DEMO_START: "2026-11-24T09:10:00Z",
  NODE_ENV: "production",
};
const demo = spawn(process.execPath, ["--import", "tsx", "scripts/demo.ts"], {
  env,
  stdio: ["ignore", "pipe", "inherit"],
});
for await (const line of demo.stdout) if (String(line).includes("ready")) break;
demo.stdout.resume();
mkdirSync(OUT, { recursive: true });
const browser = await chromium.launch(chromiumOptions);
try {
  for (const view of VIEWS) {
    const context = await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    if (view.who) await signIn(page, view.who);
    await view.open(page);
    await page.waitForLoadState("networkidle").catch(() => undefined);
    await page.screenshot({ path: path.join(OUT, `${view.file}.png`) });
    await context.close();
  }
} finally {
  await browser.close();
  demo.kill("SIGTERM");
  await new Promise((resolve) => demo.once("exit", resolve));
  rmSync(folder, { recursive: true, force: true });
}

async function signIn(page: Page, name: string): Promise<void> {
  await page.goto("/sign-in");
  await page.getByRole("button", { name }).click();
  await page.waitForURL("**/turn");
}

async function flow(page: Page): Promise<void> {
  await page.goto("/flow?line=route-guide");
  await page.getByRole("group", { name: "The ways of the pieces" }).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowDown");
  await page.getByText("eight times of ten").waitFor();
}

async function takeUp(page: Page): Promise<void> {
  await follow(page, "/intake", "The winter room is open");
  await page.getByRole("link", { name: "Take it up" }).click();
  await page.getByRole("region", { name: "Take it up" }).waitFor();
}

async function ask(page: Page): Promise<void> {
  await page.goto("/ask/something-for-the-bulletin");
  await page.getByLabel("What is it about?").fill("The hut closes for a week");
  await page.getByLabel("Text").fill("We mend the roof of the Rifugio Valsorda in the first week of December.");
  await page.getByLabel("When would you like it?").fill("tomorrow 9");
  await page.getByLabel("When would you like it?").press("Tab");
  await page.getByText("the earliest you can have").waitFor();
  await page.getByLabel("Who can be asked").scrollIntoViewIfNeeded();
  await page.evaluate(() => window.scrollTo(0, 240));
}

async function follow(page: Page, from: string, link: string | RegExp): Promise<void> {
  await page.goto(from);
  await page.getByRole("link", { name: link }).first().click();
  await page.getByRole("heading", { level: 1 }).first().waitFor();
}

/** A live piece under revision, as its writer has it, scrolled to where the text begins. */
async function writing(page: Page): Promise<void> {
  await follow(page, "/pieces?show=live&state=draft", /^The shepherds/);
  await page.getByRole("toolbar").waitFor();
  await page.getByRole("toolbar").evaluate((bar) => window.scrollBy(0, bar.getBoundingClientRect().top - 400));
}

/** The live piece under revision, some of its words changed, compared with what readers see. */
async function compareVersions(page: Page): Promise<void> {
  await page.goto("/pieces?show=live&state=draft");
  await page
    .getByRole("link", { name: /, Route guide, / })
    .first()
    .click();
  const text = page.getByRole("textbox", { name: "Route description" });
  await text.getByRole("paragraph").nth(1).click();
  await page.keyboard.press("Home");
  await page.keyboard.type("mossy ");
  await text.getByRole("paragraph").first().click();
  await page.keyboard.press("End");
  await page.keyboard.type("the old wall, ");
  await page.locator("p", { hasText: /version \d+ · saved/ }).waitFor();
  await page.getByRole("link", { name: "Compare, find, bring back" }).click();
  await page.getByRole("link", { name: "since the live one" }).click();
  const comparison = page.getByRole("region", { name: "Comparison" });
  await comparison.getByText("Version 3 → 5").waitFor();
  await comparison.locator("ins").first().waitFor();
}

/** The route guide being changed: a check more than there are people for, one finding shown. */
async function aProblemInTheStudio(page: Page): Promise<void> {
  await page.goto("/workflows/route-guide");
  await awake(page);
  await page.getByRole("button", { name: /^Set aside parked|^Set aside set aside/ }).click();
  await page.getByRole("button", { name: "Take this stop out" }).click();
  await page.getByRole("button", { name: /^Route check review/ }).click();
  await page.getByLabel("Approvals asked for").fill("3");
  await page.getByRole("button", { name: "Show me" }).first().click();
  await page
    .getByRole("status")
    .filter({ hasText: /^saved / })
    .waitFor();
}

/** Who has how much, with what waits on the one who has too much. */
async function theLoad(page: Page): Promise<void> {
  await page.goto("/load");
  await page.getByRole("link", { name: "Petra Holmqvist" }).click();
  await page.getByRole("heading", { name: /^What waits on Petra/ }).waitFor();
}

/** Waits until the page answers to what is done in it. */
async function awake(page: Page): Promise<void> {
  await page.waitForFunction(() =>
    Object.keys(document.querySelector("main [role=combobox], main button") ?? {}).some((key) =>
      key.startsWith("__reactProps"),
    ),
  );
}

async function rehearse(page: Page): Promise<void> {
  await page.goto("/workflows/bulletin-item?look=rehearse");
  await awake(page);
  await choose(page.getByLabel("An imaginary piece by"), "Noor Castellan");
  await page.getByLabel(/^Petra Holmqvist/).check();
  await page.getByRole("button", { name: "Send for copy edit" }).click();
  await choose(page.getByLabel("Act as"), "Petra Holmqvist");
  await page.getByLabel("Note").fill("Which bus, and on which days?");
  await page.getByRole("button", { name: "Back to the writer" }).click();
  await choose(page.getByLabel("Act as"), "Ansel Brio");
}

/** The section leads' column with two changes, and what these would do. */
async function changeARole(page: Page): Promise<void> {
  await page.goto("/people/roles?role=lead");
  await page.getByRole("button", { name: /^Section lead, decide in a review/ }).press("n");
  await page.getByRole("button", { name: /^Section lead, change a piece/ }).press("o");
  await page.getByRole("region", { name: "What this changes" }).getByText("no longer decide").first().waitFor();
}

/** A guide in the copy edit, at one of its remarks. */
async function remarks(page: Page): Promise<void> {
  await follow(page, "/turn", /^The mule track from Monte Sora/);
  await page.locator(".ProseMirror").waitFor();
  await page.locator("h2[data-remarks]").focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press("n");
  await page.locator("[data-card] button:focus").waitFor();
}

async function signed(page: Page): Promise<void> {
  await follow(page, "/turn", "Where the old glacier stood");
  await page.waitForURL(/\/pieces\/[^?]/);
  await page.goto(`${page.url().replace(/\?.*/, "")}/signed`, { waitUntil: "networkidle" });
  await page.getByRole("region", { name: "Signatures" }).scrollIntoViewIfNeeded();
}
