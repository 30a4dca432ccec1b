import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { beginItem, choose, seen, served, signIn } from "./person.ts";

test.describe.configure({ mode: "serial" });

let ilda: Page;
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
});

const sentence = () => ilda.getByRole("status", { name: "As a sentence" });

test("a rule is made by choosing from words, tried on the past, switched on, acts, and says what it did", async () => {
  const piece = await beginItem(ilda, "The drinking fountain is on again");
  await ilda.goto("/publication/rules");
  await accessible(ilda);
  await ilda.getByRole("link", { name: "A new rule" }).click();
  const keep = ilda.getByRole("button", { name: "Keep it, switched off" });
  await expect(keep).toBeDisabled();
  await ilda.getByLabel("Name").fill("A remark on an item is due soon");
  await choose(ilda.getByLabel("When"), "somebody comments");
  await choose(ilda.getByLabel("of which kind"), "Bulletin item");
  await ilda.getByRole("button", { name: "Only if …" }).click();
  await expect(ilda.getByLabel("What, condition 1")).toBeFocused();
  await ilda.getByRole("button", { name: "without it: condition 1" }).press("Enter");
  await expect(ilda.getByRole("button", { name: "Only if …" })).toBeFocused();
  await ilda.keyboard.press("Enter");
  await choose(ilda.getByLabel("Which, condition 1"), "normal");
  await choose(ilda.getByLabel("What is done, 1"), "have it due");
  await ilda.getByLabel("How many, 1").fill("4");
  await choose(ilda.getByLabel("Of what, 1"), "working hours");
  await ilda.getByRole("button", { name: "And then …" }).click();
  await expect(ilda.getByLabel("What is done, 2")).toBeFocused();
  await choose(ilda.getByLabel("What is done, 2"), "tell");
  await expect(ilda.getByText("Something is missing in what it does, 2.")).toBeVisible();
  await ilda.getByLabel("In these words, 2").fill("{{piece.title}} was remarked on.");
  await expect(sentence()).toHaveText(
    "When somebody comments on a Bulletin item, if its urgency is “normal”, then have it due 4 working hours later and tell its author “‹its title› was remarked on”.",
  );
  await accessible(ilda);
  await keep.click();
  await ilda.waitForURL(/rule=a-remark-on-an-item/);
  await ilda.getByRole("link", { name: "Try it on the last 30 days" }).click();
  await expect(ilda.getByText(/It would (not )?have acted/)).toBeVisible();
  await accessible(ilda);
  await ilda.getByRole("button", { name: "Switch it on" }).click();
  await expect(ilda.getByText("It is on.")).toBeVisible();
  const rule = new URL(ilda.url()).pathname + new URL(ilda.url()).search;

  await ilda.goto(piece);
  await ilda.getByLabel("Comment on the piece").fill("Which fountain?");
  await ilda.getByRole("button", { name: "Comment", exact: true }).click();
  await seen(ilda.getByText("Which fountain?"));
  await served(ilda, rule, /What it did.*The drinking fountain is on again/);
  await ilda.goto(rule);
  const did = ilda.getByRole("region", { name: "What it did" });
  await expect(did.getByRole("link", { name: "The drinking fountain is on again" })).toBeVisible();
  await seen(ilda.getByText("have it due 4 working hours later"));
  await ilda.goto(`${piece}/passage`);
  await expect(ilda.getByText(/by the rule “A remark on an item is due soon”/).first()).toBeAttached();
});

test("a circle is said while one chooses, and refused; off is off at once; rules go to a file and come back", async () => {
  await ilda.goto("/publication/rules?rule=");
  await ilda.getByLabel("Name").fill("Round and round");
  await choose(ilda.getByLabel("When"), "somebody comments");
  await choose(ilda.getByLabel("What is done, 1"), "comment");
  await ilda.getByLabel("In these words, 1").fill("And again.");
  await expect(ilda.getByText("Round and round may set itself off.")).toBeVisible();
  await ilda.getByRole("button", { name: "Keep it, switched off" }).click();
  await ilda.waitForURL(/rule=round-and-round/);
  await ilda.getByRole("button", { name: "Switch it on" }).click();
  await expect(ilda.getByRole("alert").first()).toContainText("Round and round may set itself off.");
  await expect(ilda.getByText("It is off.")).toBeVisible();
  await ilda.getByRole("button", { name: "Do away with this rule" }).click();
  await expect(ilda.getByRole("button", { name: "Do away with it" })).toBeFocused();
  await ilda.keyboard.press("Enter");
  await ilda.waitForURL("/publication/rules");

  await ilda.getByRole("link", { name: "A remark on an item is due soon" }).click();
  await ilda.getByRole("button", { name: "Switch it off" }).click();
  await expect(ilda.getByText("It is off.")).toBeVisible();

  const file = await (await ilda.request.get("/publication/rules/file")).json();
  expect(file.rules.length).toBeGreaterThan(3);
  await ilda.goto("/publication/rules");
  await ilda.getByText("To and from a file").click();
  const bring = (text: string) =>
    ilda
      .getByLabel("Bring rules in")
      .setInputFiles({ name: "rules.json", mimeType: "application/json", buffer: Buffer.from(text) });
  await bring(JSON.stringify({ ...file, rules: [{ ...file.rules[0], when: { event: "piece.sung" } }] }));
  await ilda.getByRole("button", { name: "Bring them in" }).click();
  await expect(ilda.getByText(/rules\[0\]\.when\.event: expected an event/)).toBeVisible();
  await bring(JSON.stringify({ ...file, rules: file.rules.slice(0, 1) }));
  await ilda.getByRole("button", { name: "Bring them in" }).click();
  await expect(ilda.getByText("one rule came in, switched off.", { exact: false })).toBeVisible();
});

test("a rule is read at 360 px; who configures nothing has no such page", async ({ browser }) => {
  await ilda.setViewportSize({ width: 360, height: 740 });
  await ilda.goto("/publication/rules?rule=late&try");
  await expect(ilda.getByText(/It would have acted/)).toBeVisible();
  await accessible(ilda);
  const tobia = await signIn(browser, "Tobia Rensk");
  expect((await tobia.goto("/publication/rules"))?.status()).toBe(404);
  expect((await tobia.request.get("/publication/rules/file")).status()).toBe(404);
});

test("a rule calls an outside service, and what came of it is there to be read", async () => {
  await ilda.setViewportSize({ width: 1280, height: 800 });
  await ilda.goto("/publication/rules?rule=");
  await ilda.getByLabel("Name").fill("The depot hears of remarks");
  await choose(ilda.getByLabel("When"), "somebody comments");
  await choose(ilda.getByLabel("What is done, 1"), "call");
  await ilda.getByLabel("At which address, 1").fill("https://10.0.0.1/hook");
  await ilda.getByRole("button", { name: "Keep it, switched off" }).click();
  await expect(ilda.getByText(/lies within this house/)).toBeVisible();
  await ilda.getByLabel("At which address, 1").fill(`${new URL(ilda.url()).origin}/standins/calls`);
  await ilda.getByRole("button", { name: "Keep it, switched off" }).click();
  await ilda.waitForURL(/rule=the-depot-hears/);
  await ilda.getByRole("button", { name: "Switch it on" }).click();
  await expect(ilda.getByText("It is on.")).toBeVisible();
  const rule = new URL(ilda.url()).pathname + new URL(ilda.url()).search;
  await ilda.goto(await beginItem(ilda, "The depot moves"));
  await ilda.getByLabel("Comment on the piece").fill("When?");
  await ilda.getByRole("button", { name: "Comment", exact: true }).click();
  await served(ilda, rule, "was taken, asked once: it answered 200");
  await ilda.goto(rule);
  const calls = ilda.getByRole("list", { name: "Whom it called" });
  await expect(calls).toContainText("was taken, asked once: it answered 200");
  await ilda.getByText("How it is known that it was us").click();
  await accessible(ilda);
  const [call] = (await (await ilda.request.get("/standins/calls")).json()) as { body: string; signature: string }[];
  expect(JSON.parse(call?.body ?? "{}")).toMatchObject({ piece: { title: "The depot moves" } });
  expect(call?.signature).toMatch(/^[0-9a-f]{64}$/);
  await ilda.getByRole("button", { name: "Switch it off" }).click();
  await expect(ilda.getByText("It is off.")).toBeVisible();
});
