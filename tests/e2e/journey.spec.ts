import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { expect, type Page, test } from "./house.ts";
import { advance, choose, leave, mailTo, saved, seen, send, served, signIn, write } from "./person.ts";

test.describe.configure({ mode: "serial" });

const TITLE = "The footbridge at Tre Fonti";
const MARKDOWN = `# ${TITLE}

The *footbridge* is back. See [the map](https://maps.example/tre-fonti).

- open from Friday
- two people at a time[^1]

| Day | Hours |
|---|---|
| Fri | all |

[^1]: The warden counts.
`;

const WORKFLOW = {
  format: "elenco.workflow/1",
  key: "quick-look",
  name: "Quick look",
  purpose: "One pair of eyes, chosen by the writer.",
  initial: "draft",
  mainLine: ["draft", "look", "ready", "live"],
  states: [
    { key: "draft", name: "Draft", kind: "writing", take: "1wd", editors: ["author"] },
    {
      key: "look",
      name: "Second look",
      kind: "review",
      take: "1wd",
      editors: ["role:copy-editor"],
      review: {
        rule: "any",
        seats: [{ role: "copy-editor", pick: "sender", number: 1 }],
        approve: "good",
        return: "again",
      },
    },
    { key: "ready", name: "Ready", kind: "ready" },
    { key: "live", name: "Live", kind: "live" },
  ],
  transitions: [
    { key: "send", name: "Send for a look", from: ["draft"], to: "look", by: ["author"], requires: ["fields", "note"] },
    { key: "good", name: "Good to go", from: ["look"], to: "ready" },
    { key: "again", name: "Once more", from: ["look"], to: "draft" },
    { key: "release", name: "Release", from: ["ready"], to: "live", by: ["role:chief"] },
    { key: "revise", name: "Revise", from: ["live"], to: "draft", by: ["author"] },
  ],
};

let ilda: Page;
let tobia: Page;
let petra: Page;
let address: string;
let slug: string;

test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
  tobia = await signIn(browser, "Tobia Rensk");
  petra = await signIn(browser, "Petra Holmqvist");
});

test("the managing editor sees the lines, brings in another, and chooses its section", async () => {
  await ilda.getByRole("link", { name: "Workflows" }).click();
  await expect(
    ilda.getByRole("img", {
      name: "Route guide: Draft, then Route check, then Copy edit, then Safety sign-off, then Ready, then Live.",
    }),
  ).toBeVisible();

  const upload = async (source: string) => {
    await choose(ilda.getByLabel("Begin from"), "a file (JSON or SCXML)");
    await ilda
      .getByLabel("Workflow document")
      .setInputFiles({ name: "workflow.json", mimeType: "application/json", buffer: Buffer.from(source) });
    await ilda.getByRole("button", { name: "Bring in" }).click();
  };
  await upload(JSON.stringify({ ...WORKFLOW, mainLine: ["draft", "lok"], owner: "me" }));
  await expect(ilda.getByRole("alert")).toContainText("owner: this key is not known here");
  await upload(JSON.stringify({ ...WORKFLOW, mainLine: ["draft", "lok"] }));
  await expect(ilda.getByRole("alert")).toContainText('mainLine[1]: there is no state "lok"');
  await upload(JSON.stringify(WORKFLOW));
  await expect(ilda.getByRole("heading", { name: "Quick look", level: 1 })).toBeVisible();
  await expect(ilda.getByRole("region", { name: "Findings" })).toContainText("sound");
  await ilda.getByRole("link", { name: "What changes" }).click();
  await ilda.getByRole("button", { name: "Put in use" }).click();
  await expect(ilda.getByText("revision 1 ·")).toBeVisible();
  await ilda.getByRole("link", { name: "Workflows" }).first().click();
  await expect(ilda.getByRole("img", { name: /Quick look: Draft, then Second look/ })).toBeVisible();

  await choose(ilda.getByLabel("Workflow of Bulletin", { exact: true }), "Quick look");
  await expect(ilda.getByRole("region", { name: "Quick look", exact: true })).toContainText("Bulletin");
  await ilda.reload();
  await expect(ilda.getByLabel("Workflow of Bulletin", { exact: true })).toHaveText("Quick look");

  await ilda.getByRole("link", { name: "Quick look", exact: true }).click();
  const [download] = await Promise.all([
    ilda.waitForEvent("download"),
    ilda.getByRole("link", { name: "JSON" }).click(),
  ]);
  expect(JSON.parse(readFileSync(await download.path(), "utf8"))).toMatchObject({
    key: "quick-look",
    mainLine: WORKFLOW.mainLine,
  });
});

test("the writer begins from a Markdown file, structure kept, and the text saves itself", async () => {
  await tobia.getByRole("link", { name: "New piece" }).click();
  await choose(tobia.getByLabel("Kind"), "Bulletin item");
  await choose(tobia.getByLabel("Section"), "Bulletin");
  await tobia
    .getByLabel("Start from files")
    .setInputFiles({ name: "bridge.md", mimeType: "text/markdown", buffer: Buffer.from(MARKDOWN) });
  await tobia.getByRole("button", { name: "Begin" }).click();
  await expect(tobia.getByLabel("Title")).toHaveValue(TITLE);
  address = tobia.url();
  slug = new URL(address).pathname.split("/").at(-1) ?? "";

  const text = tobia.getByRole("textbox", { name: "Item" });
  await expect(text.getByRole("link", { name: "the map" })).toHaveAttribute("href", "https://maps.example/tre-fonti");
  await expect(text.getByRole("listitem")).toHaveCount(2);
  await expect(text.getByRole("columnheader", { name: "Day" })).toBeVisible();
  await expect(text.locator("[data-note]")).toHaveAttribute("data-note", "The warden counts.");
  await expect(text.locator("em")).toHaveText("footbridge");

  await text.getByText("is back").click();
  await tobia.keyboard.press("End");
  await tobia.keyboard.type(" Mind the ice.");
  await expect(tobia.getByText("version 2 · saved")).toBeVisible();
  await tobia.reload();
  await expect(tobia.getByRole("textbox", { name: "Item" })).toContainText("Mind the ice.");
  await expect(tobia.getByRole("region", { name: "Passage" })).toContainText("saved version 2");
});

test("nothing is public, and who has no part in it finds nothing there", async ({ browser }) => {
  const noor = await signIn(browser, "Noor Castellan");
  const answer = await noor.goto(address);
  expect(answer?.status()).toBe(404);
  await expect(noor.getByRole("heading", { name: "There is nothing here" })).toBeVisible();
  expect((await noor.goto(`/read/${slug}`))?.status()).toBe(404);
  await noor.goto("/read");
  await expect(noor.getByText(TITLE)).toHaveCount(0);
  await leave(noor);
});

test("the writer sends it, with a reviewer the seats allow and the due date of the working calendar", async () => {
  await tobia.getByRole("link", { name: "Send for a look" }).click();
  const panel = tobia.getByRole("region", { name: "Send for a look" });
  // Sent on Tuesday morning, one working day allowed: the close of Wednesday.
  await expect(panel.getByLabel("Due")).toHaveValue("Wed 25 Nov, 17:30");
  await expect(panel.getByText("Wim Aldera")).toHaveCount(0);
  await panel.getByLabel(/Petra Holmqvist/).check();
  await panel.getByLabel(/Note/).fill("New since Monday; please check the hours.");
  await panel.getByLabel("Due").fill("2026-11-20T12:00");
  await panel.getByRole("button", { name: "Send for a look" }).click();
  await expect(panel.getByText("The due date lies in the past.")).toBeVisible();
  await expect(panel.getByLabel("Due")).toBeFocused();
  await expect(panel.getByLabel(/Note/)).toHaveValue("New since Monday; please check the hours.");
  await panel.getByLabel("Due").fill("2026-11-25T17:30");
  await panel.getByLabel("Wished for readers").fill("2026-11-26T07:00");
  await panel.getByRole("button", { name: "Send for a look" }).click();
  await expect(tobia.getByText("Petra Holmqvist to decide since today")).toBeVisible();
  await expect(tobia.getByRole("textbox", { name: "Item" })).toHaveCount(0);
});

test("the reviewer has a notice and a mail that leads straight there; they comment and return it with a note", async () => {
  await expect(petra.getByRole("listitem").filter({ hasText: TITLE })).toContainText("Tobia Rensk: New since Monday");
  await expect(petra.getByRole("link", { name: /notices?$/ })).toBeVisible();
  await mailTo(petra, "petra@fontelba.example", `Second look: “${TITLE}” waits on you`);
  await petra.goto("/standins/post");
  await petra
    .getByRole("listitem")
    .filter({ hasText: "petra@fontelba.example" })
    .filter({ hasText: TITLE })
    .getByRole("link")
    .first()
    .click();
  await expect(petra.getByRole("heading", { name: TITLE })).toBeVisible();
  await expect(petra.locator("article").getByRole("listitem").first()).toContainText("open from Friday");

  await petra.getByLabel("Comment on the piece").fill("Which hours on Saturday?");
  await petra.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(petra.getByText("1 remark, 1 open")).toBeVisible();
  await petra.getByRole("link", { name: "Decide" }).click();
  const panel = petra.getByRole("region", { name: "Decide on version 2" });
  await panel.getByRole("button", { name: "Once more" }).click();
  await expect(panel).toContainText("Say why");
  await panel.getByLabel("Note").fill("Saturday is missing.");
  await panel.getByRole("button", { name: "Once more" }).click();
  await expect(petra.getByText("With Tobia Rensk since today")).toBeVisible();
});

test("the writer is told at once, with the reason, mends it and sends it again; it is approved", async () => {
  await expect(tobia.getByText("With Tobia Rensk since today")).toBeVisible();
  await tobia.getByRole("link", { name: /notice/ }).click();
  await expect(
    tobia.getByRole("listitem").filter({ hasText: `“${TITLE}” came back from Second look (Petra Holmqvist)` }),
  ).toContainText("Saturday is missing.");
  await tobia.goto(address);
  await write(tobia, " Saturday too.");
  await tobia.getByRole("button", { name: "Settle" }).click();
  await tobia.getByRole("button", { name: "text changed" }).click();
  await expect(tobia.getByText("1 remark, none open")).toBeVisible();
  await send(tobia, "Send for a look", async (page) => {
    await page
      .locator("fieldset")
      .getByLabel(/Petra Holmqvist/)
      .check();
    await page.getByLabel(/Note/).fill("Saturday added.");
  });

  await petra.goto("/turn");
  await petra.getByRole("listitem").filter({ hasText: TITLE }).getByRole("link", { name: "Decide" }).click();
  await petra.getByRole("button", { name: "Good to go" }).click();
  await expect(petra.getByText("In Ready since today")).toBeVisible();
  await expect(petra.getByRole("region", { name: "Passage" })).toContainText("Petra Holmqvist approved version");
});

test("the managing editor plans it, the clock moves on, and readers have it exactly then", async () => {
  await ilda.goto("/schedule");
  await ilda.getByRole("region", { name: "Ready, not planned" }).getByRole("link", { name: TITLE }).click();
  await ilda.getByLabel("Date and time (Europe/Rome)").fill("2026-11-24T16:00");
  await ilda.getByRole("button", { name: "Plan the release" }).click();
  await expect(ilda.getByText("Goes live today, 16:00")).toBeVisible();
  expect((await ilda.request.get(`/read/${slug}`)).status()).toBe(404);

  await advance(ilda, "PT6H");
  await expect.poll(async () => (await ilda.request.get(`/read/${slug}`)).status()).toBe(200);
  await ilda.goto("/read");
  await ilda.getByRole("link", { name: TITLE }).click();
  await expect(ilda.getByRole("article")).toContainText("Saturday too.");
  expect(await (await ilda.request.get("/read/feed.atom")).text()).toContain(TITLE);
  expect((await (await ilda.request.get("/read/feed.json")).json()).items[0]).toMatchObject({ title: TITLE });
});

test("revising it leaves the released version up until the new one is released", async () => {
  await tobia.goto(address);
  await send(tobia, "Revise");
  await expect(
    tobia.getByText(/A revision: readers go on seeing version \d+ until this is released, or give it up/),
  ).toBeVisible();
  await write(tobia, " And on Sundays.");
  const reader = async () => (await tobia.request.get(`/read/${slug}`)).text();
  expect(await reader()).not.toContain("And on Sundays");
  await tobia.getByRole("link", { name: "preview", exact: true }).click();
  await expect(tobia.getByRole("article")).toContainText("And on Sundays.");
  await tobia.getByRole("link", { name: "as readers have it" }).click();
  await expect(tobia.getByRole("article")).not.toContainText("And on Sundays.");
  await tobia.goto(address);
  await send(tobia, "Send for a look", async (page) => {
    await page
      .locator("fieldset")
      .getByLabel(/Petra Holmqvist/)
      .check();
    await page.getByLabel(/Note/).fill("Sundays.");
  });
  await petra.goto(`${address}?do=decide`);
  await petra.getByRole("button", { name: "Good to go" }).click();
  await expect(petra.getByText("In Ready since today")).toBeVisible();
  expect(await reader()).not.toContain("And on Sundays");
  await ilda.goto(address);
  await send(ilda, "Release");
  expect(await reader()).toContain("And on Sundays");
});

test("its passage can be read, and the ledger verified", async ({ house }) => {
  await ilda.goto(address);
  const passage = ilda.getByRole("region", { name: "Passage" });
  for (const line of [
    "Tobia Rensk began it in Bulletin",
    "Petra Holmqvist returned version 2 in Second look",
    "Elenco version 3 reached readers",
    "Ilda Marenzi took “Release”, to Live",
  ])
    await expect(passage).toContainText(line);
  const answer = execFileSync("node", ["--import", "tsx", "cli/elenco.ts", "verify", "--json"], {
    encoding: "utf8",
    env: { ...process.env, DATABASE_URL: house.database, ELENCO_DATA_DIR: house.data },
  });
  expect(JSON.parse(answer)).toMatchObject({ sound: true, broken: null });
});

test("a release whose text changed after the approval is held, its reasons shown, its owners told", async () => {
  await tobia.goto("/pieces/new");
  const title = "The bus to the mill";
  await choose(tobia.getByLabel("Kind"), "Hut page");
  await choose(tobia.getByLabel("Section"), "Huts");
  await tobia.getByLabel("Title").fill(title);
  await tobia.getByRole("button", { name: "Begin" }).click();
  await expect(
    tobia.getByRole("link", {
      name: /Send for copy edit · fields not complete, closed: The fields are not complete.*The hut is empty/,
    }),
  ).toBeVisible();
  await tobia.getByLabel("Standfirst", { exact: true }).fill("Twice a day, from the mill to the hut.");
  await tobia.getByLabel("Opening weeks", { exact: true }).fill("All year");
  await tobia.getByLabel("Beds", { exact: true }).fill("12");
  await tobia
    .getByRole("textbox", { name: "The hut" })
    .fill(`${"The bus stops at the mill and again at the hut gate. ".repeat(8)}`);
  await saved(tobia);
  await send(tobia, "Send for copy edit", (page) => page.getByLabel(/Petra Holmqvist/).check());
  const piece = tobia.url().split("?")[0] ?? "";
  await petra.goto(`${piece}?do=decide`);
  await petra.getByRole("button", { name: "Copy is right" }).click();
  await expect(petra.getByText("In Ready since")).toBeVisible();

  await ilda.goto(`${piece}?do=plan`);
  await ilda.getByLabel("Date and time (Europe/Rome)").fill("2026-11-24T20:00");
  await ilda.getByRole("button", { name: "Plan the release" }).click();
  await expect(ilda.getByText("Goes live today, 20:00")).toBeVisible();
  await ilda.getByLabel("Beds", { exact: true }).fill("14");
  await saved(ilda);
  await advance(ilda, "PT5H");
  await served(ilda, "/schedule", new RegExp(`${title}.{0,200}(?<!will be )held`));
  await ilda.goto("/schedule");
  const held = ilda.getByRole("listitem").filter({ hasText: title });
  await seen(held.filter({ hasText: "The text was changed after it was approved." }));
  await tobia.goto("/notices");
  await expect(tobia.getByRole("listitem").filter({ hasText: `The release of “${title}” is held` })).toContainText(
    "The text was changed after it was approved.",
  );
});
