import { chromium } from "@playwright/test";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { keystrokes } from "./keystrokes.ts";
import { percentile, type Row } from "./measure.ts";

const KEYS = 60;

/**
 * Writing in the middle of a text of 20,000 words, saving and counting as ever, beside the same keys
 * in the search of the same page.
 *
 * @param address the page of a piece its reader may write in
 */
export async function writing(base: string, cookie: string, address: string): Promise<Row[]> {
  const browser = await chromium.launch(chromiumOptions);
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.addCookies([{ name: "elenco", value: cookie.split("=")[1] ?? "", url: base }]);
    const page = await context.newPage();
    await page.goto(base + address);
    const text = page.locator(".ProseMirror");
    await text.locator("p").nth(150).click();
    const took = await keystrokes(page, text, ".ProseMirror", KEYS);
    const search = page.getByRole("combobox", { name: "Find a piece or a place" });
    await search.click();
    const bare = await keystrokes(page, search, null, KEYS);
    // What the search still asks for is answered before the node goes.
    await page.waitForLoadState("networkidle");
    const [middle, slow, beside] = [percentile(took, 0.5), percentile(took, 0.95), percentile(bare, 0.5)];
    return [
      {
        what: "keystroke to paint in 20,000 words",
        measured: `${middle.toFixed(0)} ms, p95 ${slow.toFixed(0)}`,
        beside: `${beside.toFixed(0)} ms in the search`,
        ratio: middle / beside,
        aim: "≤ 50 ms",
      },
    ];
  } finally {
    await browser.close();
  }
}
