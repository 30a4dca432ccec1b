import type { Test } from "@jest/test-result";
import { createRunner } from "jest-light-runner";

interface Config {
  globalConfig: unknown;
  projectConfig: unknown;
  runtime: "child_process";
}
type Listener = (message: unknown) => void;

/**
 * Runs test files in processes of bare Node, several to a process. The library answers all processes that ask for
 * their configuration at once, on one channel they share, when the first does: one that is slower to start was
 * answered before it listened, and waited forever. Here each test file has a channel of its own.
 */
export default class Runner extends createRunner({ runtime: "child_process" }) {
  override _runTest(test: Test): Promise<unknown> {
    const projectConfig = test.context.config;
    const known = this._testRunners.get(projectConfig);
    // The first call makes the processes, and is alone on its channel; one worker means this very process.
    if (!known || this._runtime !== "child_process") return super._runTest(test);
    const config: Config = { globalConfig: this._globalConfig, projectConfig, runtime: "child_process" };
    return known.pool.run(test.path, { channel: channelOf(config) });
  }
}

/** Tells the one process on it its configuration when it asks. */
function channelOf(workerData: Config) {
  let tell: Listener = () => undefined;
  return {
    onMessage(listener: Listener) {
      tell = listener;
    },
    postMessage(message: unknown) {
      if (message === "jest-light-runner-get-worker-data") tell({ type: "jest-light-runner-worker-data", workerData });
    },
  };
}
