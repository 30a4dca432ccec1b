/**
 * Tests run in bare Node, several files to a process, which share what they import: twice as quick as
 * a context of its own for each file. For coverage the usual runner is taken, which can measure it.
 */
const coverage = process.argv.includes("--coverage");

const inNode = { runner: "<rootDir>/scripts/testing/runner.ts", transform: {} };

const inContexts = {
  transform: {
    "^.+\\.tsx?$": [
      "@swc/jest",
      {
        jsc: {
          parser: { syntax: "typescript", tsx: true },
          target: "es2022",
          transform: { react: { runtime: "automatic" } },
        },
      },
    ],
  },
};

export default {
  testTimeout: 180_000,
  testEnvironment: "node",
  extensionsToTreatAsEsm: [".ts", ".tsx"],
  roots: ["app", "bench", "cli", "core", "scripts", "server", "tests/server"].map((folder) => `<rootDir>/${folder}`),
  testMatch: ["**/*.test.ts?(x)"],
  setupFiles: ["<rootDir>/tests/support/alone.ts"],
  reporters: [["<rootDir>/scripts/testing/jest-reporter.ts", { outputFile: "test-results/jest.json" }]],
  ...(coverage ? inContexts : inNode),
};
