import { defineConfig } from "@playwright/test";

const folder = process.env.ELENCO_DATA_DIR;
const port = process.env.PORT;
if (!folder || !port) throw new Error("the end-to-end tests are run by npm test, which sets ELENCO_DATA_DIR and PORT");

/** One demo for all; its clock stands at a working morning and is moved on by the tests themselves. */
export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results",
  workers: 1,
  timeout: 60_000,
  reporter: [["list"], ["json", { outputFile: "test-results/e2e.json" }]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    screenshot: "only-on-failure",
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
  webServer: {
    command: "node --import tsx scripts/demo.ts",
    url: `http://127.0.0.1:${port}/readyz`,
    timeout: 120_000,
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
