import { existsSync, readFileSync } from "node:fs";
import { endAll, run, start } from "./programs.ts";

const node = (script: string) => [process.execPath, "-e", script];
const env = { NODE_OPTIONS: "" };
/** A process that was started apart from its parent, and goes on without it. */
const APART =
  'const child = require("node:child_process").spawn("sleep", ["300"], { detached: true, stdio: "ignore" }); child.unref(); console.log(child.pid);';
/** Whether a process runs: one that ended may still be listed until its parent has heard of it. */
const alive = (pid: number) =>
  existsSync(`/proc/${pid}`) && !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, "utf8"));

test("a program that ends well is fine, with what it printed", async () => {
  const ended = await run("well", node('console.log("one"); console.log("two")'), { env });
  expect(ended).toEqual({ fine: true, output: "one\ntwo", problems: [] });
});

test("a program that prints nothing is ended, with what was under way named", async () => {
  const options = { env, silence: 300, underWay: () => "; under way was the walk" };
  const { fine, problems } = await run("silent", node("setInterval(() => {}, 1000)"), options);
  expect(fine).toBe(false);
  expect(problems).toEqual([
    expect.stringMatching(/^silent printed nothing for .* was ended; under way was the walk\.$/),
  ]);
});

test("a program that computes is waited for longer, and not for ever", async () => {
  const busy = "const end = Date.now() + Number(process.argv[1]); while (Date.now() < end);";
  expect(await run("busy", [...node(busy), "5000"], { env, silence: 3_000 })).toMatchObject({ fine: true });
  const { problems } = await run("endless", [...node(busy), "60000"], { env, silence: 300 });
  expect(problems).toEqual([expect.stringMatching(/^endless printed nothing for .* and was ended\.$/)]);
});

test("what a program leaves running is named and ended, however far it is from it", async () => {
  const { fine, output, problems } = await run("untidy", node(APART), { env });
  expect(fine).toBe(false);
  expect(problems).toEqual([expect.stringMatching(/^untidy left process \d+ \(sleep 300 \) running\.$/)]);
  expect(alive(Number(output))).toBe(false);
});

test("the end of a run ends all it started", async () => {
  const { said } = await start("beside", node(`${APART} setInterval(() => {}, 1000)`), env);
  expect(alive(Number(said))).toBe(true);
  await endAll();
  expect(alive(Number(said))).toBe(false);
});
