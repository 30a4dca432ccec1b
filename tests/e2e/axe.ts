import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { expect, type Page } from "./house.ts";

const axeSource = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

const CONTRAST = "color-contrast";
const WCAG = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

/** What axe runs: rules by their tags, less some of them by name. */
interface Rules {
  runOnly: readonly string[];
  without?: string;
}

/** What axe finds wrong on a page, or in one part of it, by WCAG 2.2 A and AA. */
export const faults = (page: Page, within = ":root"): Promise<string[]> => found(page, within, { runOnly: WCAG });

/** The same by night, where nothing but the contrast of colours can be another. */
export async function faultsByNight(page: Page): Promise<string[]> {
  await page.emulateMedia({ colorScheme: "dark" });
  const all = await found(page, ":root", { runOnly: [CONTRAST] });
  await page.emulateMedia({ colorScheme: null });
  return all;
}

async function found(page: Page, within: string, { runOnly, without }: Rules): Promise<string[]> {
  // A colour on its way to another is not one anybody reads: it is brought to its end, which in a window that is
  // not drawn would never come.
  await page.evaluate(() => {
    for (const one of document.getAnimations())
      if (Number.isFinite(one.effect?.getComputedTiming().endTime)) one.finish();
  });
  await page.evaluate(axeSource);
  return page.evaluate(
    async ([part, rules, off]) => {
      const { axe } = window as unknown as {
        axe: {
          run(part: string, options: object): Promise<{ violations: { id: string; nodes: { target: string[] }[] }[] }>;
        };
      };
      const { violations } = await axe.run(part, {
        runOnly: rules,
        rules: off ? { [off]: { enabled: false } } : {},
        resultTypes: ["violations"],
        preload: false,
      });
      return violations.map(
        (one) =>
          `${one.id}: ${one.nodes
            .map((node) => node.target.join(" "))
            .slice(0, 3)
            .join(", ")}`,
      );
    },
    [within, [...runOnly], without] as const,
  );
}

/**
 * Expects a state of a page, or a layer that is open on it, to have nothing for axe to find. Colours are
 * those of the screens, whose contrast is measured where every screen is looked at, at a fifth of the cost.
 */
export async function accessible(page: Page, within = ":root"): Promise<void> {
  await expect(page.locator("h1, h2").and(page.locator(":visible"))).not.toHaveCount(0);
  expect(await found(page, within, { runOnly: WCAG, without: CONTRAST })).toEqual([]);
}

/** Expects a page to be no wider than its window, once it has settled: what is drawn follows a moment after a resize. */
export async function fits(page: Page): Promise<void> {
  const over = () => page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
  await expect.poll(over).toBeLessThanOrEqual(0);
}
