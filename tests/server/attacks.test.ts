import { monitorEventLoopDelay } from "node:perf_hooks";
import { ATTACKS } from "./attacks.ts";

/** What is sent may cost the sender a wait, and the node so much of one breath at most, in milliseconds; three quarters of it are a busy machine's. */
const BREATH = 4_000;

test.each(ATTACKS.map((one) => [one.name, one] as const))(
  "%s: answered with a sentence, and the node goes on breathing",
  async (_, { made, send, ends }) => {
    const sent = (await made?.()) ?? Buffer.alloc(0);
    const breath = monitorEventLoopDelay({ resolution: 10 });
    breath.enable();
    // Let the monitor begin before the work does.
    await new Promise((resolve) => setTimeout(resolve, 30));
    const said = await send(sent);
    await new Promise((resolve) => setTimeout(resolve, 30));
    breath.disable();
    expect(said).toMatch(ends);
    expect(breath.max / 1e6).toBeLessThan(BREATH);
  },
);
