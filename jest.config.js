/** Two projects: the pure core and parts without a database, and the server on a real MariaDB. */
const shared = {
  extensionsToTreatAsEsm: [".ts", ".tsx"],
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
  testEnvironment: "node",
};

export default {
  // Nothing here is timed: on a busy machine a test takes as long as it takes.
  testTimeout: 900_000,
  projects: [
    {
      ...shared,
      displayName: "unit",
      roots: ["<rootDir>/core", "<rootDir>/cli", "<rootDir>/app", "<rootDir>/server", "<rootDir>/scripts"],
      testMatch: ["**/*.test.ts?(x)"],
    },
    {
      ...shared,
      displayName: "server",
      roots: ["<rootDir>/tests/server"],
      testMatch: ["**/*.test.ts"],
      globalSetup: "<rootDir>/tests/support/start-database.ts",
      globalTeardown: "<rootDir>/tests/support/stop-database.ts",
    },
  ],
};
