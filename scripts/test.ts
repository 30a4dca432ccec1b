import { mkdirSync, rmSync } from "node:fs";
import { chosenOf } from "./testing/choice.ts";
import { runParts } from "./testing/parts.ts";
import { beginRun, endAll } from "./testing/programs.ts";
import { check, counted, say, table } from "./testing/results.ts";

const chosen = chosenOf(process.argv.slice(2));
if ("problem" in chosen) {
  console.error(chosen.problem);
  process.exit(2);
}

beginRun();
let folder: string | undefined;
let ending = false;
for (const [signal, code] of [
  ["SIGINT", 130],
  ["SIGTERM", 143],
] as const)
  process.on(signal, async () => {
    if (ending) return;
    ending = true;
    console.log(`${signal}: ending what this run started.`);
    await endAll();
    if (folder) rmSync(folder, { recursive: true, force: true });
    process.exit(code);
  });

rmSync("test-results", { recursive: true, force: true });
mkdirSync("test-results");
const begun = performance.now();
try {
  await runParts(chosen, (of) => {
    folder = of;
  });
} catch (error) {
  check("the run itself", begun, false, String(error));
  await endAll();
}
if (ending) await new Promise(() => undefined);
const { passed, failed } = counted();
say(table());
say(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
