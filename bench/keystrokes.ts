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
      const state = window as unknown as { begun: number; took: Promise<number> };
      node.addEventListener("keydown", () => (state.begun = performance.now()), { once: true, capture: true });
      const target = selector === null ? null : document.querySelector(selector);
      // No function here has a name: what names functions is not there in the browser.
      state.took = new Promise((done) => {
        if (!target) return node.addEventListener("input", done, { once: true });
        new MutationObserver((_, watcher) => {
          watcher.disconnect();
          done(null);
        }).observe(target, { childList: true, subtree: true, characterData: true });
      })
        .then(() => new Promise((done) => requestAnimationFrame(() => window.setTimeout(done))))
        .then(() => performance.now() - state.begun);
    }, watched);
    await page.keyboard.press("x");
    const took = page.evaluate(() => (window as unknown as { took: Promise<number> }).took);
    samples.push(await Promise.race([took, setTimeout(PATIENCE, Number.POSITIVE_INFINITY)]));
  }
  return samples;
}
