import { defineConfig } from "@playwright/test";
import { chromiumOptions } from "./tests/support/chromium.ts";

const folder = process.env.ELENCO_DATA_DIR ?? "test-results/data";
const port = process.env.PORT ?? "4399";

/** One demo for all; its clock stands at a working morning and is moved on by the tests themselves. */
export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results",
  workers: 1,
  // Nothing here is timed: on a busy machine a page takes as long as it takes.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  reporter: [["list"], ["json", { outputFile: "test-results/e2e.json" }]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    screenshot: "only-on-failure",
    launchOptions: chromiumOptions,
  },
  webServer: {
    command: "node --import tsx scripts/demo.ts",
    url: `http://127.0.0.1:${port}/readyz`,
    timeout: 600_000,
    gracefulShutdown: { signal: "SIGTERM", timeout: 15_000 },
    env: {
      ELENCO_DATA_DIR: folder,
      PORT: port,
      ELENCO_DEMO_START: "2026-11-24T09:00:00Z",
      LOG_LEVEL: "error",
      NODE_ENV: "production",
    },
  },
});
