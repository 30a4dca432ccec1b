import { readFileSync } from "node:fs";
import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { beginItem, choose, seen, served, signIn, write } from "./person.ts";

test.describe.configure({ mode: "serial" });

let noor: Page;
test.beforeAll(async ({ browser }) => {
  noor = await signIn(browser, "Noor Castellan");
});

const BOARD = "/pieces?as=stops&line=bulletin-item";
const stop = (name: string) => noor.getByRole("listitem", { name, exact: true });
const named = (title: string) => noor.getByRole("link", { name: new RegExp(`^${title},`) });

test("a piece is carried by keyboard to the next stop, takes its step there, and has the keyboard again", async () => {
  await beginItem(noor, "Carried along the line");
  await write(noor, "The well at Casere has water.");
  await noor.goto(BOARD);
  await accessible(noor);
  await named("Carried along the line").focus();
  await noor.keyboard.press("m");
  await noor.keyboard.press("ArrowDown");
  await noor.keyboard.press("ArrowDown");
  await expect(noor.getByRole("status").filter({ hasText: "over Ready: no step leads there." })).toBeVisible();
  await noor.keyboard.press("Enter");
  await expect(noor.getByText(/^No step leads from Draft to Ready/)).toBeVisible();
  await expect(named("Carried along the line")).toBeFocused();
  await noor.keyboard.press("m");
  await noor.keyboard.press("Escape");
  await expect(noor).toHaveURL(/as=stops/);
  await noor.keyboard.press("m");
  await noor.keyboard.press("ArrowDown");
  await noor.keyboard.press("Enter");
  const panel = noor.getByRole("region", { name: "Send for copy edit" });
  await expect(panel.locator(":focus")).toHaveCount(1);
  await accessible(noor);
  // From within a field the keyboard first leaves the field.
  await noor.keyboard.press("Escape");
  await noor.keyboard.press("Escape");
  await expect(panel).toBeHidden();
  await expect(named("Carried along the line")).toBeFocused();
  await noor.goBack();
  await panel.getByLabel(/^Note/).fill("Short, and true.");
  await panel.getByRole("button", { name: "Send for copy edit" }).press("Enter");
  await expect(panel).toBeHidden();
  await expect(noor).toHaveURL(/as=stops/);
  await expect(stop("Copy edit").getByRole("link", { name: /^Carried along the line/ })).toBeFocused();
});

test("carried by mouse to where it is not one's to send, it says why not, and who could", async () => {
  const from = await noor.getByRole("button", { name: "Carry Carried along the line" }).boundingBox();
  const to = await stop("Ready").boundingBox();
  await noor.mouse.move((from?.x ?? 0) + 10, (from?.y ?? 0) + 10);
  await noor.mouse.down();
  await noor.mouse.move((to?.x ?? 0) + 80, (to?.y ?? 0) + 8, { steps: 10 });
  await noor.mouse.up();
  const why = noor.getByRole("region", { name: "Decide" });
  await expect(why).toContainText("Open to:");
  // The list's own forms are still its own.
  await noor.getByRole("button", { name: "Keep this list" }).press("Enter");
  await noor.getByLabel("Its name").fill("Carried");
  await noor.getByRole("button", { name: "Keep it" }).press("Enter");
  await expect(noor.getByText("kept as Carried")).toBeVisible();
  await expect(why).toBeVisible();
  await noor.getByRole("button", { name: "Let it go" }).press("Enter");
  await expect(noor.getByText("kept as Carried")).toHaveCount(0);
  await noor.keyboard.press("Escape");
  await expect(why).toBeHidden();
});

test("by their dates what is past stands first; how the list is shown stays while it is narrowed", async () => {
  await noor.goto("/pieces?as=dates");
  await accessible(noor);
  await expect(noor.getByRole("heading", { level: 2 }).first()).toContainText("Past");
  await noor.getByRole("link", { name: "when readers should have it" }).click();
  await expect(noor.getByRole("heading", { name: /^Without a date/ })).toBeVisible();
  await choose(noor.getByLabel("Whoever has it"), "Noor Castellan");
  await expect(noor).toHaveURL(/as=dates.*holder=|holder=.*as=dates/);
  await seen(noor.locator("[data-row]"));
  await expect(noor.locator("[data-row]").filter({ hasNotText: "Noor Castellan" })).toHaveCount(0);
});

test("one's own columns stay in one's own order, in every browser, and the list goes along as a file", async ({
  browser,
}) => {
  await noor.goto("/pieces");
  await noor.getByRole("button", { name: "Columns" }).press("Enter");
  await noor.getByRole("checkbox", { name: "Likely live" }).check();
  await noor.getByRole("checkbox", { name: "Its way" }).uncheck();
  await noor.getByRole("button", { name: "Move Likely live" }).press("ArrowUp");
  await accessible(noor);
  await noor.getByRole("button", { name: "Show these" }).press("Enter");
  const head = noor.getByText(/^PieceStopWhose turnLikely liveDue$/);
  await expect(head).toBeVisible();
  const again = await signIn(browser, "Noor Castellan");
  await again.goto("/pieces");
  await expect(again.getByText(/^PieceStopWhose turnLikely liveDue$/)).toBeVisible();
  const coming = again.waitForEvent("download");
  await again.getByRole("link", { name: "As CSV" }).click();
  const file = readFileSync(await (await coming).path(), "utf8").split("\n");
  expect(file[0]).toBe("title,kind,section,stop,turn,author,since,due,wished,likely,urgency,remarks,address");
  expect(file.some((line) => line.startsWith("Carried along the line,Bulletin item,"))).toBe(true);
  await noor.getByRole("button", { name: "Columns" }).press("Enter");
  await noor.getByRole("button", { name: "The usual ones" }).press("Enter");
  await expect(noor.getByText(/^PieceStopIts wayWhose turnDue$/)).toBeVisible();
});

test("what happened is told since one was last here, by piece and by person; who leads nobody has no such page", async ({
  browser,
}) => {
  const ilda = await signIn(browser, "Ilda Marenzi");
  await ilda.goto("/pending");
  await ilda.getByRole("link", { name: "All that happened since you were last here" }).press("Enter");
  const told = ilda.getByRole("list", { name: "What happened" });
  await seen(told.getByRole("link", { name: "Carried along the line" }));
  await accessible(ilda);
  await told
    .getByText(/^(one thing|\d+ things) more$/)
    .first()
    .press("Enter");
  await ilda.getByRole("link", { name: "by person" }).click();
  await expect(ilda).toHaveURL(/by=person/);
  await ilda.reload();
  await seen(told.getByRole("listitem").filter({ hasText: "Noor Castellan" }));
  await beginItem(noor, "After the look");
  await served(ilda, "/lately", /Since you were last here, .*?: (one thing|\d things)\./);
  await ilda.goto("/lately");
  await choose(ilda.getByRole("combobox", { name: "Since I was last here" }), "In 30 days");
  await expect(ilda.getByText(/^Since .*: (more than )?\d+ things\.$/)).toBeVisible();
  expect((await noor.request.get("/lately")).status()).toBe(404);
});
