import { availableParallelism } from "node:os";
import { defineConfig } from "@playwright/test";
import { chromiumOptions } from "./tests/support/chromium.ts";

/** The specs that take longest, the longest first: they begin before the others, so that no core waits for one at the end. */
const LONGEST = [
  "screens",
  "administering",
  "remarks",
  "hands",
  "intake",
  "slips",
  "journey",
  "writing",
  "editions",
  "studio",
  "files",
];

const specs = (process.env.ELENCO_SPECS ?? "").split(",").filter(Boolean);
const usual = [...LONGEST.filter((one) => specs.includes(one)), ...specs.filter((one) => !LONGEST.includes(one))];
const ordered = process.env.ELENCO_SPECS_REVERSED ? usual.toReversed() : usual;

export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results/e2e",
  workers: availableParallelism(),
  // A walk that failed has failed: it is walked once more for its trace alone, which takes three times as long.
  retries: 1,
  // Nothing here is timed: a walk that takes this long hangs.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: [["./scripts/testing/walk-reporter.ts", { outputFile: "test-results/e2e.json" }]],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: "only-on-failure",
    trace: "on-first-retry",
    launchOptions: chromiumOptions,
  },
  // One project for each spec, since projects begin in this order.
  projects: ordered.map((spec) => ({ name: spec, testMatch: `${spec}.spec.ts` })),
});
