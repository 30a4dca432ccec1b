import { setTimeout } from "node:timers/promises";
import type { Locator, Page } from "@playwright/test";

const PATIENCE = 5_000;

/**
 * Times so many keystrokes in headless Chromium, each from the key going down until the browser has
 * painted what it changed.
 *
 * @param watched what changes on the screen, as a selector; null for the input itself
 * @returns milliseconds, one for each keystroke
 */
export async function keystrokes(page: Page, input: Locator, watched: string | null, keys: number): Promise<number[]> {
  const samples: number[] = [];
  for (let i = 0; i < keys; i++) {
    await input.evaluate((node, selector) => {
      const state = window as unknown as { took: Promise<number> };
      state.took = new Promise((resolve) => {
        let begun = 0;
        const painted = () => requestAnimationFrame(() => window.setTimeout(() => resolve(performance.now() - begun)));
        node.addEventListener("keydown", () => (begun = performance.now()), { once: true, capture: true });
        const target = selector === null ? null : document.querySelector(selector);
        if (!target) return node.addEventListener("input", painted, { once: true });
        const watcher = new MutationObserver(() => {
          watcher.disconnect();
          painted();
        });
        watcher.observe(target, { childList: true, subtree: true, characterData: true });
      });
    }, watched);
    await page.keyboard.press("x");
    const took = page.evaluate(() => (window as unknown as { took: Promise<number> }).took);
    samples.push(await Promise.race([took, setTimeout(PATIENCE, Number.POSITIVE_INFINITY)]));
  }
  return samples;
}
