import { setTimeout } from "node:timers/promises";
import { chromium } from "@playwright/test";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { percentile, type Row } from "./measure.ts";
import { lineOf } from "./workflows.ts";

const SIZES = [8, 40, 300];
const KEYS = 20;
const PATIENCE = 5_000;

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
      const time = async (input: typeof field, until: string) => {
        const samples: number[] = [];
        for (let i = 0; i < KEYS; i++) {
          await input.evaluate(
            (node, [selector]) => {
              const state = window as unknown as { took: Promise<number> };
              state.took = new Promise((resolve) => {
                let begun = 0;
                node.addEventListener("keydown", () => (begun = performance.now()), { once: true, capture: true });
                const watcher = new MutationObserver(() => {
                  watcher.disconnect();
                  requestAnimationFrame(() => resolve(performance.now() - begun));
                });
                const watched = selector ? document.querySelector(selector) : null;
                if (watched) watcher.observe(watched, { childList: true, subtree: true, characterData: true });
                else
                  node.addEventListener(
                    "input",
                    () => requestAnimationFrame(() => resolve(performance.now() - begun)),
                    { once: true },
                  );
              });
            },
            [until],
          );
          await input.press("End");
          await input.press("x");
          const took = page.evaluate(() => (window as unknown as { took: Promise<number> }).took);
          samples.push(await Promise.race([took, setTimeout(PATIENCE, Number.POSITIVE_INFINITY)]));
        }
        return percentile(samples, 0.5);
      };
      const took = await time(field, "section[aria-label=Findings]");
      const bare = await time(search, "");
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
