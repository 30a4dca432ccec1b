import { readFileSync } from "node:fs";
import { eq } from "drizzle-orm";
import { connect, disconnect } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { accessGrant, person, role } from "#server/db/schema/index.ts";
import { expect, type Locator, type Page, test } from "./house.ts";
import { beginItem, choose, leave, saved, send, signIn, write } from "./person.ts";

test.describe.configure({ mode: "serial" });

let ilda: Page;

test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
});
test.afterAll(() => leave(ilda));

const settings = () => ilda.getByRole("complementary", { name: "Settings" });
const findings = () => ilda.getByRole("region", { name: "Findings" });
const stopOf = (page: Page, name: string) =>
  page.getByRole("button", { name: new RegExp(`^${name} (writing|review|approved|live|set aside)`) });
const stop = (name: string) => stopOf(ilda, name);
const isSaved = () => expect(ilda.getByRole("status").filter({ hasText: /^saved / })).toBeVisible();

async function beginEmpty(name: string): Promise<void> {
  await ilda.goto("/workflows");
  await choose(ilda.getByLabel("Begin from"), "nothing");
  await ilda.getByLabel("Name", { exact: true }).fill(name);
  await ilda.getByRole("button", { name: "Begin", exact: true }).click();
  await expect(ilda.getByRole("heading", { name, level: 1 })).toBeVisible();
}

async function addStop(between: [string, string], name: string, kind: string): Promise<void> {
  await ilda.getByRole("button", { name: `Add a stop between ${between[0]} and ${between[1]}` }).click();
  await ilda.getByLabel("Name of the stop").fill(name);
  await choose(ilda.getByLabel("Kind").last(), kind);
  await ilda.getByRole("button", { name: "Add", exact: true }).click();
  await expect(settings().getByRole("heading", { name, exact: true })).toBeVisible();
}

/** Moves a pointer from one place to another as a hand does. */
async function drag(from: Locator, to: { x: number; y: number }): Promise<void> {
  const box = await from.boundingBox();
  if (!box) throw new Error("there is nothing to drag");
  await ilda.mouse.move(box.x + box.width / 2, box.y + 20);
  await ilda.mouse.down();
  await ilda.mouse.move(box.x + box.width / 2 + 12, box.y + 26, { steps: 4 });
  await ilda.mouse.move(to.x, to.y, { steps: 12 });
  await ilda.mouse.up();
}

const order = () =>
  ilda.getByRole("region", { name: /^Trail guide: / }).evaluate((region) => region.getAttribute("aria-label") ?? "");

test("by mouse: a five-state line is built from nothing, set up, reordered by dragging, and every step undone", async () => {
  await beginEmpty("Trail guide");
  await addStop(["Draft", "Live"], "Ready", "approved");
  await addStop(["Draft", "Ready"], "Copy edit", "review");
  await addStop(["Draft", "Copy edit"], "Route check", "review");
  await expect.poll(order).toContain("Draft, then Route check, then Copy edit, then Ready, then Live.");

  await choose(settings().getByLabel("It passes when"), "so many approve");
  await choose(settings().getByLabel("Seat 1 is for"), "Route checker");
  await settings().getByLabel("Time allowed", { exact: true }).fill("3");
  await settings().getByLabel("Checklist, a point a line").fill("Distances match the track");
  await stop("Copy edit").click();
  await choose(settings().getByLabel("Seat 1 is for"), "Copy editor");
  await choose(settings().getByLabel("Add to May change it"), "Copy editor");
  await ilda.getByRole("button", { name: "Ready done" }).click();
  await settings().getByLabel("Name").fill("Release");
  await choose(settings().getByLabel("Add to May take it"), "Managing editor");
  await expect(findings()).toContainText("sound");
  await isSaved();

  await stop("Copy edit").dblclick();
  await ilda.getByLabel("Name of Copy edit").fill("Copy desk");
  await ilda.keyboard.press("Enter");
  await expect(stop("Copy desk")).toBeVisible();
  await ilda.keyboard.press("Control+z");

  const ready = await stop("Ready").boundingBox();
  const live = await stop("Live").boundingBox();
  if (!ready || !live) throw new Error("the line is not drawn");
  await drag(stop("Route check"), { x: (ready.x + live.x + live.width) / 2, y: ready.y + 20 });
  await expect.poll(order).toContain("Draft, then Copy edit, then Ready, then Route check, then Live.");
  await ilda.getByRole("button", { name: "Undo" }).click();
  await expect.poll(order).toContain("Draft, then Route check, then Copy edit, then Ready, then Live.");
  await isSaved();
  await ilda.reload();
  await expect.poll(order).toContain("Draft, then Route check, then Copy edit, then Ready, then Live.");
  await ilda.getByRole("button", { name: "Redo" }).click();
  await expect.poll(order).toContain("Ready, then Route check, then Live.");
  await ilda.getByRole("button", { name: "Undo" }).click();
  await stop("Route check").click();
  await expect(settings().getByLabel("Approvals asked for")).toHaveValue("2");
  await expect(settings().getByLabel("Checklist, a point a line")).toHaveValue("Distances match the track");
});

test("broken and mended by the findings: each is a sentence with names, shown on the line, mended in one click", async () => {
  await settings().getByLabel("Approvals asked for").fill("3");
  await expect(findings()).toContainText("Route check can never be passed: 3 approvals are asked");
  await expect(ilda.getByRole("link", { name: "What changes · 1 problem" })).toBeVisible();
  await ilda.getByRole("button", { name: "Ask for 2 approvals" }).click();
  await expect(findings()).toContainText("sound");

  await stop("Draft").click();
  await choose(settings().getByLabel("Add a step from Draft"), "Live");
  await settings().getByLabel("Name").fill("Rush");
  await expect(findings()).toContainText("A text can reach readers past every review: Draft, Live.");
  await findings().getByRole("button", { name: "Show me" }).click();
  await expect(ilda.locator("circle[fill='var(--yellow)']")).toHaveCount(2);
  await ilda.getByRole("button", { name: "Rush" }).first().click();
  await settings().getByRole("button", { name: "Take this step out" }).click();

  await ilda.getByRole("button", { name: "Add a stop beside the line" }).click();
  await ilda.getByLabel("Name of the stop").fill("Limbo");
  await ilda.getByRole("button", { name: "Add", exact: true }).click();
  await expect(findings()).toContainText("No piece can ever come to Limbo");
  await expect(findings()).toContainText("A piece that comes to Limbo stays there for ever");
  await findings().getByRole("button", { name: "Take Limbo out" }).click();
  await expect(findings()).toContainText("sound");
});

test("rehearsed as three people: the imaginary piece walks, comes back, and one goes on differently", async () => {
  await ilda.getByRole("link", { name: "Rehearse" }).click();
  const acting = ilda.getByRole("complementary", { name: "Acting" });
  await choose(ilda.getByLabel("An imaginary piece by"), "Tobia Rensk");
  await acting.getByLabel("The rehearsal's time").fill("2026-11-24T10:00");
  await choose(acting.getByLabel("Act as"), "Wim Aldera");
  await expect(acting).toContainText("To Route check is not yours to take. Open to: the author.");
  await choose(acting.getByLabel("Act as"), "Tobia Rensk, the author");
  await acting.getByRole("button", { name: "To Route check" }).click();
  await expect(acting).toContainText("Due Fri 27 Nov, 17:30.");
  await choose(acting.getByLabel("Act as"), "Wim Aldera");
  await acting.getByRole("button", { name: "Route check done" }).click();
  await expect(acting).toContainText("Wim Alderaapproved");
  await choose(acting.getByLabel("Act as"), "Jorun Faas");
  await acting.getByRole("button", { name: "Needs work" }).click();
  await expect(acting.getByRole("alert")).toContainText("Say why");
  await acting.getByLabel("Note").fill("The bridge is gone.");
  await acting.getByRole("button", { name: "Needs work" }).click();
  const passage = ilda.getByRole("list", { name: "Passage" });
  await expect(passage).toContainText("Jorun Faas: Returned: Needs work → Draft “The bridge is gone.”");
  await passage.getByRole("button", { name: "Go on from here" }).nth(2).click();
  await choose(acting.getByLabel("Act as"), "Jorun Faas");
  await acting.getByRole("button", { name: "Route check done" }).click();
  await expect(acting.getByRole("heading", { name: "Copy edit" })).toBeVisible();
  await ilda.getByRole("button", { name: "Begin again" }).click();
  await expect(passage.getByRole("listitem")).toHaveCount(1);
});

test("put in use, bound, and changed with pieces in flight, two of them in a state that is taken out", async ({
  browser,
}) => {
  await ilda.getByRole("link", { name: "What changes" }).click();
  await ilda.getByRole("button", { name: "Put in use" }).click();
  await expect(ilda.getByText("revision 1 ·")).toBeVisible();
  await ilda.goto("/workflows");
  await choose(ilda.getByLabel("Workflow of Bulletin", { exact: true }), "Trail guide");
  await expect(ilda.getByRole("region", { name: "Trail guide", exact: true })).toContainText("Bulletin");

  const mina = await signIn(browser, "Mina Tauberg");
  const pieces: string[] = [];
  for (const title of ["Two stones", "Three stones", "Four stones"]) {
    pieces.push(await beginItem(mina, title));
    await write(mina, "Stones by the path.");
    await saved(mina);
  }
  for (const address of pieces.slice(0, 2)) {
    await mina.goto(address);
    await send(mina, "To Route check");
    await expect(mina.getByText(/Jorun Faas.* to decide since today/)).toBeVisible();
  }

  await ilda.goto("/workflows/trail-guide");
  await stop("Route check").click();
  await settings().getByRole("button", { name: "Take this stop out" }).click();
  await stop("Draft").click();
  await settings().getByLabel("Name").fill("First draft");
  await isSaved();
  await ilda.getByRole("link", { name: "What changes" }).click();
  const main = ilda.locator("main");
  await expect(main).toContainText("Route check is gone");
  await expect(main).toContainText("First draft: was called Draft");
  await expect(ilda.getByLabel("Pieces in Route check")).toHaveAttribute("data-value", "to copy-edit");
  await ilda.getByText("One by one").nth(1).click();
  await choose(ilda.getByLabel("“Three stones”"), "move to First draft");
  await ilda.getByRole("button", { name: "Put in use" }).click();
  await expect(ilda.getByText("revision 2 ·")).toBeVisible();

  await mina.goto(pieces[0] as string);
  await expect(mina.getByText("Petra Holmqvist to decide since today")).toBeVisible();
  await expect(mina.getByRole("region", { name: "Passage" })).toContainText("the workflow changed: now in Copy edit");
  await mina.goto(pieces[1] as string);
  await expect(mina.getByText("With Mina Tauberg since today")).toBeVisible();
  await mina.goto("/notices");
  await expect(
    mina.getByRole("listitem").filter({ hasText: "The workflow Trail guide was changed: 2 pieces of yours moved" }),
  ).toContainText("“Two stones” is now in Copy edit: its workflow was changed");
  await leave(mina);
});

test("exported as SCXML and brought in again there is no difference", async () => {
  const [download] = await Promise.all([
    ilda.waitForEvent("download"),
    ilda.goto("/workflows/trail-guide").then(() => ilda.getByRole("link", { name: "SCXML" }).click()),
  ]);
  const source = readFileSync(await download.path());
  expect(source.toString()).toContain('xmlns="http://www.w3.org/2005/07/scxml"');
  await ilda.goto("/workflows");
  await choose(ilda.getByLabel("Begin from"), "a file (JSON or SCXML)");
  const file = { name: "trail-guide.scxml", mimeType: "application/scxml+xml", buffer: source };
  await ilda.getByLabel("Workflow document").setInputFiles(file);
  await ilda.getByRole("button", { name: "Bring in" }).click();
  await expect(ilda.getByRole("heading", { name: "Trail guide", level: 1 })).toBeVisible();
  await ilda.getByRole("link", { name: "What changes" }).click();
  await expect(ilda.getByText("Nothing differs.")).toBeVisible();
  await ilda.getByRole("link", { name: "Back to the line" }).click();
  await ilda.getByRole("button", { name: "Throw the changes away" }).click();
  await expect(ilda.getByRole("heading", { name: "Workflows", level: 1 })).toBeVisible();
});

test("what is too large or no workflow is answered at the file, and what was chosen stays", async () => {
  await ilda.goto("/workflows");
  const bring = async (buffer: Buffer) => {
    await choose(ilda.getByLabel("Begin from"), "a file (JSON or SCXML)");
    await ilda.getByLabel("Workflow document").setInputFiles({ name: "x.json", mimeType: "application/json", buffer });
  };
  await bring(Buffer.alloc(5_000_000, 32));
  await expect(ilda.getByText("The file is larger than 1 MB.")).toBeVisible();
  await expect(ilda.getByRole("button", { name: "Bring in" })).toBeDisabled();
  await bring(Buffer.from('<!DOCTYPE a [<!ENTITY b "bb">]><scxml>&b;</scxml>'));
  await ilda.getByRole("button", { name: "Bring in" }).click();
  await expect(ilda.getByRole("alert")).toContainText("a document type declaration is not accepted");
});

test("two people: one holds it, the other looks, takes it over, and the first is told and can change nothing", async ({
  browser,
  house,
}) => {
  await letConfigure(house.database, "kai");
  const kai = await signIn(browser, "Kai Wendt");
  await ilda.goto("/workflows/straight-out");
  await stop("Draft").click();
  await settings().getByLabel("Name").fill("Quick draft");
  await isSaved();

  await kai.goto("/workflows/straight-out");
  await expect(kai.getByText("Ilda Marenzi is changing this workflow")).toBeVisible();
  await stopOf(kai, "Quick draft").click();
  await expect(kai.getByRole("complementary", { name: "Settings" }).getByLabel("Name")).toBeDisabled();
  await kai.getByRole("button", { name: "Take it over" }).click();
  await expect(kai.getByRole("button", { name: "Add a stop beside the line" })).toBeVisible();
  await stopOf(kai, "Quick draft").click();
  await kai.getByRole("complementary", { name: "Settings" }).getByLabel("Name").fill("Quickest draft");
  await expect(kai.getByRole("status").filter({ hasText: /^saved / })).toBeVisible();

  await expect(ilda.getByText("Kai Wendt is changing this workflow")).toBeVisible();
  await expect(stop("Quickest draft")).toBeVisible();
  await ilda.goto("/notices");
  await expect(ilda.getByText("Kai Wendt took over the working copy of “Straight out”")).toBeVisible();
  await leave(kai);
});

test("two windows of one person: the stale change is refused, kept, and theirs can be taken", async ({ browser }) => {
  const other = await signIn(browser, "Ilda Marenzi");
  await beginEmpty("Two windows");
  // It hears of nothing, nor asks whether anything happened.
  await other.route(/\/live(\/|\?|$)/, (route) => route.abort());
  await other.goto("/workflows/two-windows");
  await stop("Draft").click();
  await settings().getByLabel("Name").fill("First words");
  await isSaved();
  await stopOf(other, "Draft").click();
  await other.getByRole("complementary", { name: "Settings" }).getByLabel("Name").fill("Other words");
  await expect(other.getByRole("alert")).toContainText("Ilda Marenzi changed the working copy meanwhile");
  await expect(stopOf(other, "Other words")).toBeVisible();
  await other.reload();
  await expect(stopOf(other, "First words")).toBeVisible();
  await leave(other);
});

/** Gives a demo person the managing editor's role, which no screen does yet. */
async function letConfigure(database: string, key: string): Promise<void> {
  const db = connect(database);
  const [who] = await db.select({ id: person.id }).from(person).where(eq(person.key, key));
  const [chief] = await db.select({ id: role.id }).from(role).where(eq(role.key, "chief"));
  await db
    .insert(accessGrant)
    .values({ id: newId(), personId: who?.id ?? "", roleId: chief?.id ?? "", scope: "publication" });
  await disconnect(db);
}

test("by keyboard alone: the line is built, set up and reordered again", async () => {
  await beginEmpty("Hand guide");
  const press = async (keys: string[]) => {
    for (const key of keys) await ilda.keyboard.press(key);
  };
  /** Goes on by Tab until a control of that name has the focus. */
  const tabTo = async (role: "button" | "combobox" | "textbox" | "link", name: string | RegExp) => {
    const wanted = ilda.getByRole(role, { name, exact: typeof name === "string" }).first();
    for (let i = 0; i < 160; i++) {
      if (await wanted.evaluate((node) => node === document.activeElement).catch(() => false)) return;
      await ilda.keyboard.press("Tab");
    }
    throw new Error(`the keyboard does not come to ${name}`);
  };
  const add = async (between: string, name: string, kind: string) => {
    await tabTo("button", between);
    await ilda.keyboard.press("Enter");
    await expect(ilda.getByLabel("Name of the stop")).toBeFocused();
    await ilda.keyboard.type(name);
    await ilda.keyboard.press("Tab");
    await ilda.keyboard.type(kind);
    await press(["Tab", "Enter"]);
    await expect(settings().getByRole("heading", { name, exact: true })).toBeVisible();
  };
  await add("Add a stop between Draft and Live", "Ready", "approved");
  await add("Add a stop between Draft and Ready", "Copy edit", "review");
  await add("Add a stop between Draft and Copy edit", "Route check", "review");
  await tabTo("button", "Ready done");
  await ilda.keyboard.press("Enter");
  await tabTo("combobox", "Add to May take it");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByRole("listbox")).toBeVisible();
  await ilda.keyboard.type("Managing editor");
  await ilda.keyboard.press("Enter");
  await expect(findings()).toContainText("sound");
  await tabTo("button", /^Route check review/);
  await ilda.keyboard.press("Alt+ArrowRight");
  const line = ilda.getByRole("region", { name: /^Hand guide: / });
  await expect(line).toHaveAttribute("aria-label", /Draft, then Copy edit, then Route check, then Ready, then Live/);
  await ilda.keyboard.press("Control+z");
  await expect(line).toHaveAttribute("aria-label", /Draft, then Route check, then Copy edit, then Ready, then Live/);
  await isSaved();
  await tabTo("link", "What changes");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByRole("button", { name: "Put in use" })).toBeEnabled();
  await tabTo("button", "Put in use");
  await ilda.keyboard.press("Enter");
  await expect(ilda.getByText("revision 1 ·")).toBeVisible();
});
