/** How a test file tells the run of itself: one line as it begins, one for each test or file that ended. */
export const BEGUN = "begun: ";

/** What one test amounted to, as the run counts and prints it. */
export interface Told {
  file: string;
  title: string;
  passed: boolean;
  /** In milliseconds. */
  duration: number;
  /** What went wrong, as it is printed; empty where nothing did. */
  problem: string;
}

/** The line of a test or a file that ended. */
export const said = (passed: boolean, what: string, duration: number) =>
  `${passed ? "passed" : "FAILED"}: ${what} (${(duration / 1000).toFixed(1)} s)`;
