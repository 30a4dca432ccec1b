/** What of the library `runner.ts` builds on; it comes without types. */
declare module "jest-light-runner" {
  import type { Test } from "@jest/test-result";

  class LightRunner {
    _globalConfig: unknown;
    _runtime: string;
    _testRunners: Map<unknown, { pool: { run(file: string, options: object): Promise<unknown> } }>;
    _runTest(test: Test): Promise<unknown>;
  }
  export function createRunner(options: { runtime: string }): typeof LightRunner;
}
