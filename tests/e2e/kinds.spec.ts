import { accessible } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { choose, saved, signIn } from "./person.ts";

test.describe.configure({ mode: "serial" });

let chief: Page;
let mina: Page;
let address: string;

test.beforeAll(async ({ browser }) => {
  chief = await signIn(browser, "Ilda Marenzi");
  mina = await signIn(browser, "Mina Tauberg");
});

/** The fields of the new kind: name, what it holds, and what it lets one limit. */
const FIELDS: [string, string, Record<string, string>][] = [
  ["Depth", "a number", { Unit: "cm", from: "0", to: "900" }],
  ["Measured on", "a date", {}],
  ["Danger", "a choice", { "Choices, with commas between": "low, moderate, high" }],
  ["Source", "a link", {}],
  ["Walk", "another piece", {}],
  ["Profile", "a file", {}],
];

test("a kind is made with fields of every type, each with its own limits, and what contradicts itself is refused", async () => {
  await chief.goto("/publication/kinds");
  await chief.getByLabel("A new kind").fill("Snow report");
  await chief.getByRole("button", { name: "Make it" }).click();
  await expect(chief.getByRole("heading", { name: "Snow report" })).toBeVisible();
  for (const [name, holds, limits] of FIELDS) {
    await chief.getByRole("button", { name: "Add a field" }).click();
    await chief.getByLabel("Name of the new field").fill(name);
    await choose(chief.getByLabel(`What ${name} holds`), holds);
    for (const [label, value] of Object.entries(limits))
      await chief.getByLabel(new RegExp(`^${label} (for|of) ${name}$`)).fill(value);
  }
  await chief.getByLabel("to for Depth").fill("-1");
  await chief.getByRole("button", { name: "Keep this kind" }).click();
  await expect(chief.getByRole("alert")).toContainText("Depth: at most is less than at least.");
  await expect(chief.getByLabel("Unit of Depth")).toHaveValue("cm");
  await chief.getByLabel("to for Depth").fill("900");
  await chief
    .getByRole("listitem")
    .filter({ has: chief.getByLabel("Name of Depth") })
    .getByLabel("required")
    .check();
  await chief.getByRole("button", { name: "Keep this kind" }).click();
  await expect(chief.getByText("Kept.")).toBeVisible();
  await accessible(chief);
  await chief.reload();
  await expect(chief.getByLabel("Choices, with commas between of Danger")).toHaveValue("low,moderate,high");
});

test("a piece of it is filled in field by field; what is no value says so, is not saved and not lost", async () => {
  await mina.goto("/pieces/new");
  await choose(mina.getByLabel("Kind"), "Snow report");
  await choose(mina.getByLabel("Section"), "Safety");
  await mina.getByLabel("Title").fill("Snow above Casere");
  await mina.getByRole("button", { name: "Begin" }).click();
  await mina.waitForURL(/\/pieces\/(?!new)/);
  address = mina.url();
  const depth = mina.getByLabel("Depth", { exact: true });
  await depth.fill("deep");
  await expect(mina.getByText("This is no number; it is not saved.")).toBeVisible();
  await depth.fill("950");
  await expect(mina.getByText("is more than 900 cm")).toBeVisible();
  await depth.fill("85,5");
  await expect(mina.getByText("is more than 900 cm")).toHaveCount(0);
  await mina.getByLabel("Measured on", { exact: true }).fill("2026-11-23");
  await choose(mina.getByLabel("Danger", { exact: true }), "moderate");
  const source = mina.getByLabel("Source", { exact: true });
  await source.fill("javascript:alert(1)");
  await expect(mina.getByText(/An address begins with https:\/\//)).toBeVisible();
  await source.fill("https://snow.example/casere");
  const walk = mina.getByLabel("Walk", { exact: true });
  await walk.fill("Prato Alto");
  const found = mina.getByRole("option").first();
  const title = (await found.locator("span").first().textContent()) ?? "";
  await found.click();
  await expect(walk).toHaveValue(title);
  await mina.getByRole("button", { name: "Add a file for Profile" }).click();
  const dialog = mina.getByRole("dialog");
  await dialog.getByLabel("From your machine").setInputFiles({
    name: "profile.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("cm,kg\n10,120\n20,180\n"),
  });
  await dialog.getByLabel("By", { exact: true }).fill("Lene Quist");
  await dialog.getByLabel("Licence").fill("Own work");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(mina.getByLabel("Profile", { exact: true })).toHaveText(/profile.csv/);
  await saved(mina);
  await accessible(mina);
  await mina.reload();
  await expect(depth).toHaveValue("85.5");
  await expect(walk).toHaveValue(title);
});

test("others read the values as one says them, and so will readers", async () => {
  await chief.goto(`${address}/preview`);
  for (const words of [
    "85.5 cm",
    "23 November 2026",
    "moderate",
    "https://snow.example/casere",
    "profile.csv, 20 bytes",
  ])
    await expect(chief.getByText(words, { exact: true })).toBeVisible();
  const file = await chief.request.get(
    (await chief.getByRole("link", { name: /profile.csv/ }).getAttribute("href")) ?? "",
  );
  expect(await file.text()).toBe("cm,kg\n10,120\n20,180\n");
  await chief.goto("/publication/kinds?kind=snow-report");
  await choose(chief.getByLabel("What Depth holds"), "a line");
  await chief.getByRole("button", { name: "Keep this kind" }).click();
  await expect(chief.getByRole("alert")).toContainText(
    "Depth holds words in one piece, so it can be made nothing else",
  );
});

test("what changed between two versions is said in the same words", async () => {
  await chief.goto(address);
  await mina.getByLabel("Depth", { exact: true }).fill("90");
  await choose(mina.getByLabel("Profile", { exact: true }), "—");
  await saved(mina);
  const number = Number((await mina.getByText(/^version \d+ ·/).textContent())?.match(/\d+/)?.[0]);
  await mina.goto(`${address}/versions?from=${number - 1}&to=${number}`);
  const comparison = mina.getByRole("region", { name: "Comparison" });
  await expect(comparison.locator("del")).toHaveText(["85.5", "profile.csv"]);
  await expect(comparison.locator("ins")).toHaveText(["90"]);
});
