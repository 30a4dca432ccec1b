import { mkdirSync, rmSync } from "node:fs";
import { chosenOf } from "./testing/choice.ts";
import { runParts } from "./testing/parts.ts";
import { endAll } from "./testing/programs.ts";
import { counted, say, table } from "./testing/results.ts";

const chosen = chosenOf(process.argv.slice(2));
if ("problem" in chosen) {
  console.error(chosen.problem);
  process.exit(2);
}

let cleanUp: () => Promise<void> = async () => undefined;
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
    await cleanUp();
    process.exit(code);
  });

rmSync("test-results", { recursive: true, force: true });
mkdirSync("test-results");
await runParts(chosen, (how) => {
  cleanUp = how;
});
if (ending) await new Promise(() => undefined);
const { passed, failed } = counted();
say(table());
say(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
