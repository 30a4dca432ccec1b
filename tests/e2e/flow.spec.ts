import { accessible, fits } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { choose, leave, seen, signIn } from "./person.ts";

let ilda: Page;
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
});

test("the ways of a line are walked by the arrows, told in words, and one opens by Enter", async () => {
  await ilda.goto("/flow?line=route-guide");
  await expect(ilda.getByRole("heading", { name: "Flow of Route guide" })).toBeVisible();
  await expect(ilda.getByText(/ holds \d+/)).toBeVisible();
  await accessible(ilda);
  const sheet = ilda.getByRole("group", { name: "The ways of the pieces" });
  await sheet.focus();
  await ilda.keyboard.press("ArrowDown");
  const story = ilda.getByRole("status").filter({ hasText: "likely" });
  await expect(story).toContainText("eight times of ten between");
  await expect(sheet).toBeFocused();
  const first = await story.getByRole("link").textContent();
  await ilda.keyboard.press("ArrowDown");
  await expect(story.getByRole("link")).not.toHaveText(first ?? "");
  await ilda.reload();
  await expect(story).toContainText("likely");
  await sheet.focus();
  await ilda.keyboard.press("Escape");
  await expect(story).toHaveCount(0);
  await ilda.keyboard.press("ArrowUp");
  await expect(story).toContainText("likely");
  await ilda.keyboard.press("Enter");
  await ilda.waitForURL(/\/pieces\//);
  await ilda.goBack();
  await expect(story).toContainText("likely");
});

test("stops, a table to take along, a longer period, another line; at 360 px the list alone", async () => {
  await ilda.goto("/flow?line=route-guide");
  await ilda.getByRole("link", { name: "stops", exact: true }).click();
  await seen(ilda.getByRole("list", { name: "Route check" }).getByRole("link"));
  await accessible(ilda);
  await ilda.getByRole("link", { name: "table", exact: true }).click();
  await choose(ilda.getByRole("combobox", { name: "6 weeks" }), "52 weeks");
  await ilda.waitForURL(/weeks=52/);
  const draft = ilda.getByRole("row").filter({ has: ilda.getByRole("rowheader", { name: "Draft" }) });
  await expect(draft.getByRole("cell").first()).toHaveText(/^\d+/);
  await accessible(ilda);
  const csv = await ilda.getByRole("link", { name: "As CSV" }).getAttribute("href");
  const text = await (await ilda.request.get(csv ?? "")).text();
  expect(text.split("\n")[0]).toBe("state,left,p50,p85,returned,now,oldest,waiting");
  expect(text).toContain("\nroute-check,");
  await ilda.setViewportSize({ width: 360, height: 740 });
  await ilda.getByRole("link", { name: "ways", exact: true }).click();
  await seen(ilda.getByRole("list", { name: "On their way" }).getByRole("link"));
  await fits(ilda);
  await ilda.setViewportSize({ width: 1280, height: 800 });
});

test("what would help is said, and tried beside what is likely now; what comes back is told with why", async () => {
  await ilda.goto("/flow?line=route-guide");
  const helps = ilda.getByRole("region", { name: "What would help" });
  await helps.getByRole("link", { name: /^Try it: One more at work in Draft/ }).press("Enter");
  await expect(ilda.getByRole("list", { name: "With the change" }).getByRole("listitem").first()).toContainText("→");
  await expect(ilda).toHaveURL(/try=place/);
  await expect(ilda.getByRole("region", { name: "What comes back, and why" })).toContainText("Route check");
  await accessible(ilda);
  await ilda.reload();
  await expect(ilda.getByRole("list", { name: "With the change" })).toBeVisible();
  await helps.getByRole("link", { name: "As it is" }).press("Enter");
  await expect(ilda.getByRole("list", { name: "With the change" })).toHaveCount(0);
  await expect(helps.getByRole("link", { name: /^Try it/ }).first()).toBeFocused();
});

test("week by week it is drawn, and stands in a table beside it", async () => {
  await ilda.goto("/flow?line=route-guide&weeks=26");
  await ilda.getByRole("link", { name: "weeks", exact: true }).press("Enter");
  await expect(ilda.getByRole("img", { name: "How many left for readers in each week" })).toBeVisible();
  // The brightness of the ink most of it is drawn in.
  const ink = () =>
    ilda.evaluate(() => {
      const canvas = document.querySelector("canvas");
      const data = canvas?.getContext("2d")?.getImageData(0, 0, canvas.width, canvas.height).data ?? [];
      const drawn = Array.from(data).filter((_, at) => at % 4 === 0 && data[at + 3] === 255);
      return drawn.toSorted((a, b) => a - b)[Math.floor(drawn.length / 2)] ?? null;
    });
  await expect.poll(ink).toBeLessThan(64);
  await ilda.emulateMedia({ colorScheme: "dark" });
  await expect.poll(ink).toBeGreaterThan(192);
  await ilda.emulateMedia({ colorScheme: null });
  await expect(ilda.getByRole("row")).toHaveCount(27);
  await accessible(ilda);
  await ilda.setViewportSize({ width: 360, height: 740 });
  await fits(ilda);
  await ilda.setViewportSize({ width: 1280, height: 800 });
});

test("each sees the flow of what they may see, and a line nothing travels on says so", async ({ browser }) => {
  const wim = await signIn(browser, "Wim Aldera");
  await wim.goto("/flow?line=safety-notice&weeks=2&section=magazine");
  await expect(wim.getByText(/Nothing you may see has travelled/)).toBeVisible();
  await accessible(wim);
  await wim.getByRole("link", { name: "Look at a year" }).click();
  await expect(wim.getByRole("heading", { name: /^Flow of/ })).toBeVisible();
  await leave(wim);
});

/** Fills in what a target is called, how many it wants, and its period. */
async function aim(name: string, wanted: string, from: string, until: string): Promise<void> {
  await ilda.getByLabel("What is it called").fill(name);
  await ilda.getByLabel("How many").fill(wanted);
  await ilda.getByLabel("From", { exact: true }).fill(from);
  await ilda.getByLabel("To, that day included").fill(until);
  await ilda.getByLabel("To, that day included").press("Tab");
}

test("a target is set, refused where its period is none, stands with what is likely, is at risk on Your turn, and goes", async () => {
  await ilda.goto("/flow");
  await ilda.getByText("Set a target").click();
  await choose(ilda.getByLabel("Of which kind"), "Route guide");
  await aim("Ninety guides by New Year", "90", "1 Nov", "1 Oct");
  await ilda.getByRole("button", { name: "Set it" }).click();
  await expect(ilda.getByText(/It ends before it begins|It lies in the past/)).toBeVisible();
  await expect(ilda.getByLabel("What is it called")).toHaveValue("Ninety guides by New Year");
  await ilda.getByLabel("To, that day included").fill("31 Dec");
  await ilda.getByLabel("To, that day included").press("Tab");
  await ilda.getByRole("button", { name: "Set it" }).click();
  const mine = ilda.getByRole("list", { name: "Targets" }).getByRole("listitem").filter({ hasText: "Ninety guides" });
  await expect(mine).toContainText("of 90");
  await expect(mine).toContainText("likely only");
  await accessible(ilda);
  await ilda.goto("/turn");
  await expect(ilda.getByRole("region", { name: "Targets at risk" })).toContainText("Ninety guides by New Year");
  await ilda.goto("/flow");
  await ilda.getByRole("button", { name: "Do away with it: Ninety guides by New Year" }).press("Enter");
  await expect(mine).toHaveCount(0);
  await expect(ilda.locator("#targets")).toBeFocused();
});

test("a share in time is set, told of those with a date in it, and refused past a hundred", async () => {
  await ilda.goto("/flow");
  const targets = ilda.getByRole("list", { name: "Targets", exact: true });
  await expect(targets.getByRole("listitem").filter({ hasText: "85 of 100 in time" })).toContainText(
    /\d+ of \d+ in time/,
  );
  await ilda.getByText("Set a target").click();
  await choose(ilda.getByLabel("Of what"), "of 100 with a date in it, in time");
  await aim("All of December in time", "101", "1 Dec", "31 Dec");
  await ilda.getByRole("button", { name: "Set it" }).click();
  await expect(ilda.getByText("Of a hundred, at most 100.")).toBeVisible();
  await expect(ilda.getByLabel("How many")).toBeFocused();
  await ilda.getByLabel("How many").fill("100");
  await ilda.getByRole("button", { name: "Set it" }).click();
  const mine = targets.getByRole("listitem").filter({ hasText: "All of December" });
  await expect(mine).toContainText(/\d+ of \d+ in time/);
  await ilda.getByRole("button", { name: "Do away with it: All of December in time" }).press("Enter");
  await expect(mine).toHaveCount(0);
});

test("what is likely stands on the strip of what is on its way, for the eye and in words", async () => {
  await ilda.goto("/pieces");
  const strip = ilda.getByRole("list", { name: /likely .*eight times of ten between/ }).first();
  await expect(strip).toBeVisible();
  await expect(strip.locator("li").last()).toHaveAttribute("title", /^Likely .*eight times of ten between/);
  await ilda.goto("/schedule");
  await seen(ilda.getByText(/, likely \w+ \d+ \w+/));
});
