import path from "node:path";
import { defineConfig } from "@playwright/test";
import { chromiumOptions } from "./tests/support/chromium.ts";

/** When the demo of the tests begins. */
export const MORNING = "2026-11-24T09:00:00Z";
const folder = process.env.ELENCO_DATA_DIR ?? "test-results/data";
const port = Number(process.env.PORT ?? 4399);

/**
 * Two halves at once, each with a node, a database and a demo of its own, whose clock stands at a
 * working morning and is moved on by the tests themselves; within a half one spec follows the other.
 */
export const HALVES = {
  reading: [
    "access",
    "adversity",
    "beginning",
    "door",
    "flow",
    "intake",
    "journey",
    "kinds",
    "screens",
    "slips",
    "stops",
    "telling",
    "windows",
  ],
  working: [
    "administering",
    "arranging",
    "assist",
    "editions",
    "files",
    "hands",
    "remarks",
    "rules",
    "schedule",
    "studio",
    "surface",
    "unsaved",
    "writing",
  ],
};
const halves = Object.entries(HALVES).map(([name, specs], i) => ({ name, specs, port: port + i }));

export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results",
  workers: 2,
  // Nothing here is timed: on a busy machine a page takes as long as it takes.
  timeout: 600_000,
  expect: { timeout: 60_000 },
  reporter: [["list"], ["json", { outputFile: "test-results/e2e.json" }]],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: "only-on-failure",
    launchOptions: chromiumOptions,
  },
  projects: halves.map((half) => ({
    name: half.name,
    workers: 1,
    testMatch: half.specs.map((spec) => `${spec}.spec.ts`),
    use: { baseURL: `http://127.0.0.1:${half.port}` },
  })),
  webServer: halves.map((half) => ({
    command: "node --import tsx scripts/demo.ts",
    url: `http://127.0.0.1:${half.port}/readyz`,
    timeout: 600_000,
    stdout: "pipe" as const,
    gracefulShutdown: { signal: "SIGTERM" as const, timeout: 15_000 },
    env: {
      ELENCO_DATA_DIR: path.join(folder, half.name),
      PORT: String(half.port),
      ELENCO_DEMO_START: MORNING,
      LOG_LEVEL: "error",
      NODE_ENV: "production",
    },
  })),
});
