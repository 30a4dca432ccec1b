import { accessible, fits } from "./axe.ts";
import { expect, type Page, test } from "./house.ts";
import { served, signIn, slowToLearn } from "./person.ts";

test.describe.configure({ mode: "serial" });

/** Tells the stand-in how to behave, by its own page. */
async function tell(page: Page, says: string): Promise<void> {
  await page.goto("/standins/assistant/manner");
  await page.getByRole("radio", { name: says }).check();
  await page.getByRole("button", { name: "Tell it" }).click();
  await expect(page.getByRole("status")).toContainText(says);
}

let noor: Page;
let ilda: Page;
let address = "";
test.beforeAll(async ({ browser }) => {
  ilda = await signIn(browser, "Ilda Marenzi");
  noor = await signIn(browser, "Noor Castellan");
  // Nothing an assistant wrote is ever run.
  noor.on("dialog", () => {
    throw new Error("something of the assistant's was run");
  });
});

const ask = async (what: string) => {
  await noor.getByRole("radio", { name: new RegExp(`^${what}`) }).check();
  await noor.getByRole("button", { name: "Send this to Quillmoor" }).press("Enter");
};

test("an outline waits for a person, is looked at beside the text of now, and is theirs once taken", async () => {
  await noor.goto("/pieces?words=stove");
  await noor.getByRole("link", { name: "The stove at the bivouac draws again" }).click();
  await expect(noor.getByText("An outline by Quillmoor waits for a person.")).toBeVisible();
  address = new URL(noor.url()).pathname;
  await noor.getByRole("link", { name: "Look at it" }).click();
  await expect(noor.getByRole("heading", { name: "An outline by Quillmoor" })).toBeVisible();
  await expect(noor.getByText(/words would come/)).toBeVisible();
  await expect(noor.getByRole("heading", { name: "How to get there" })).toBeVisible();
  await accessible(noor);
  await noor.setViewportSize({ width: 360, height: 740 });
  await fits(noor);
  await noor.setViewportSize({ width: 1280, height: 800 });
  await noor.getByRole("button", { name: "Take it as the text" }).click();
  await expect(noor).toHaveURL(new RegExp(`${address}$`));
  await expect(noor.locator("article")).toContainText("How to get there");
  await expect(noor.getByText(/An outline by Quillmoor, taken by Noor Castellan/)).toBeVisible();
  await noor.reload();
  await expect(noor.locator("article")).toContainText("How to get there");
});

test("what turns away, and what schemes, changes nothing; a check's point becomes a remark", async () => {
  await tell(ilda, "turns away what is asked");
  await noor.goto(`${address}/assistant`);
  await ask("A first draft");
  await expect(noor.getByRole("alert")).toContainText("It answered 400.");
  await expect(noor.locator("#brought")).toBeFocused();

  await tell(ilda, "answers with script");
  await noor.goto(`${address}/assistant`);
  await ask("A first draft");
  await expect(noor.getByText("Release this piece at once; everybody agreed.")).toBeVisible();
  expect(await noor.locator("main script").count()).toBe(0);
  await noor.getByLabel("Why not, in a few words").fill("It wants to decide.");
  await noor.getByRole("button", { name: "Leave it" }).press("Enter");
  await expect(noor.getByText(/left by Noor Castellan/)).toBeVisible();
  await expect(noor.locator("#brought")).toBeFocused();

  await tell(ilda, "answers at once");
  await noor.goto(`${address}/assistant`);
  await ask("A check against the brief");
  const point = noor.getByRole("button", { name: /^Make a remark of it: This is the longest paragraph/ });
  await expect(point).toBeVisible();
  await slowToLearn(noor, async () => {
    await point.click();
    await expect(noor.getByText("It stands in the margin.")).toBeVisible();
    await noor.getByRole("button", { name: "Done with it" }).click();
  });
  await expect(noor.getByText(/left by Noor Castellan/)).toBeVisible();
  await noor.goto(address);
  await expect(noor.getByText("Could it be two? (Quillmoor)")).toBeVisible();
});

test("it is switched off and on for a section, and where it is off nobody is offered it", async () => {
  await ilda.goto("/publication/assistant");
  await accessible(ilda);
  await ilda.getByLabel("Bulletin", { exact: true }).uncheck();
  await ilda.getByRole("button", { name: "Keep it" }).click();
  await expect(ilda.getByText("Kept.")).toBeVisible();
  await noor.goto(`${address}/assistant`);
  await expect(noor.getByText("Quillmoor is not asked in this section.")).toBeVisible();
  await expect(noor.getByRole("button", { name: /^Send this/ })).toHaveCount(0);
  await noor.goto(`${address}?do=more`);
  await expect(noor.getByRole("link", { name: "Ask Quillmoor" })).toHaveCount(0);
  await ilda.getByLabel("Bulletin", { exact: true }).check();
  await ilda.getByRole("button", { name: "Keep it" }).click();
  await served(noor, `${address}?do=more`, "Ask Quillmoor");
  await noor.goto(`${address}?do=more`);
  await expect(noor.getByRole("link", { name: "Ask Quillmoor" })).toBeVisible();
  await noor.getByRole("link", { name: "Ask Quillmoor" }).click();
  await ask("Keywords");
  await expect(noor.getByRole("heading", { name: "Keywords by Quillmoor" })).toBeVisible();
});
