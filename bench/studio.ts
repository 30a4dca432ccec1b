import { chromium } from "@playwright/test";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { keystrokes } from "./keystrokes.ts";
import { percentile, type Row } from "./measure.ts";
import { lineOf } from "./workflows.ts";

const SIZES = [8, 40, 300];
const KEYS = 20;

/**
 * From a keystroke in the name of a stop to fresh findings on the screen, in headless Chromium,
 * beside the same keystroke in an empty field of the same page.
 *
 * @param base the address of a running node
 * @param cookie the session of who may configure
 * @param bring puts a document in as a working copy and answers its key
 */
export async function typing(
  base: string,
  cookie: string,
  bring: (document: unknown) => Promise<string>,
): Promise<Row[]> {
  const browser = await chromium.launch(chromiumOptions);
  const rows: Row[] = [];
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.addCookies([{ name: "elenco", value: cookie.split("=")[1] ?? "", url: base }]);
    for (const size of SIZES) {
      const key = await bring(withALostState(size));
      const page = await context.newPage();
      await page.goto(`${base}/workflows/${key}`);
      await page.locator("section[aria-label=Findings] li").first().waitFor();
      await page.getByRole("button", { name: /^Lost set aside/ }).click();
      const field = page.getByRole("complementary", { name: "Settings" }).getByLabel("Name");
      const search = page.getByRole("combobox", { name: "Find a piece or a place" });
      await field.press("End");
      const took = percentile(await keystrokes(page, field, "section[aria-label=Findings]", KEYS), 0.5);
      await search.click();
      const bare = percentile(await keystrokes(page, search, null, KEYS), 0.5);
      rows.push({
        what: `keystroke to findings, ${size} states`,
        measured: `${took.toFixed(0)} ms`,
        beside: `${bare.toFixed(0)} ms a keystroke in the search`,
        ratio: took / bare,
        aim: "≤ 100 ms",
      });
      await page.close();
    }
  } finally {
    await browser.close();
  }
  return rows;
}

/** A line for the demo's people with a state that no step leads to, which two findings name. */
function withALostState(size: number): unknown {
  const line = lineOf(size);
  return {
    ...line,
    key: `typed-${size}`,
    name: `Typed ${size}`,
    states: [
      ...line.states.map((state) => ({
        ...state,
        ...(state.review && { review: { ...state.review, rule: "any", seats: [{ role: "checker" }] } }),
      })),
      { key: "lost", name: "Lost", kind: "parked" },
    ],
    transitions: line.transitions.map((step) => ({ ...step, by: ["role:chief"] })),
  };
}
