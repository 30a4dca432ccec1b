import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { expect, type Page } from "@playwright/test";

const axeSource = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

/** What axe finds wrong on a page, or in one part of it, by WCAG 2.2 A and AA. */
export async function faults(page: Page, within = ":root"): Promise<string[]> {
  // A colour on its way to another is not one anybody reads: it is brought to its end, which in a window that is
  // not drawn would never come.
  await page.evaluate(() => {
    for (const one of document.getAnimations())
      if (Number.isFinite(one.effect?.getComputedTiming().endTime)) one.finish();
  });
  await page.evaluate(axeSource);
  return page.evaluate(async (part) => {
    const { axe } = window as unknown as {
      axe: {
        run(part: string, options: object): Promise<{ violations: { id: string; nodes: { target: string[] }[] }[] }>;
      };
    };
    const { violations } = await axe.run(part, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] });
    return violations.map(
      (one) =>
        `${one.id}: ${one.nodes
          .map((node) => node.target.join(" "))
          .slice(0, 3)
          .join(", ")}`,
    );
  }, within);
}

/** Expects a page in view to have nothing for axe to find. */
export async function accessible(page: Page): Promise<void> {
  await expect(page.locator("h1, h2").first()).toBeVisible();
  expect(await faults(page)).toEqual([]);
}
