import { follow, type Source } from "./stream.ts";

const PAUSE = 5_000;

/** A stream as a test plays it: each one opened, and what it is told to say. */
function streams() {
  const opened: (Source & { say(what: string): void; closed: boolean; readyState: number })[] = [];
  const open = () => {
    const hears = new Map<string, () => void>();
    const source = {
      readyState: 1,
      closed: false,
      addEventListener: (what: string, hear: () => void) => void hears.set(what, hear),
      close() {
        this.closed = true;
      },
      say: (what: string) => hears.get(what)?.(),
    };
    opened.push(source as never);
    return source as never as Source;
  };
  return { opened, open };
}

let told = 0;
const changed = () => {
  told += 1;
};
beforeEach(() => {
  told = 0;
  jest.useFakeTimers();
});
afterEach(() => jest.useRealTimers());

test("what happens is told as it happens; opening alone tells nothing", () => {
  const { opened, open } = streams();
  follow(open, changed, () => false, PAUSE);
  opened[0]?.say("open");
  expect(told).toBe(0);
  opened[0]?.say("changed");
  expect(told).toBe(1);
});

test("who listens late, or took over from a window that went, asks once for what it may have missed", () => {
  const { opened, open } = streams();
  let late = false;
  follow(open, changed, () => late, PAUSE);
  expect(told).toBe(0);
  late = true;
  opened[0]?.say("open");
  opened[0]?.say("open");
  expect(told).toBe(1);
});

test("a stream that breaks off opens by itself, and what was missed meanwhile is asked for", () => {
  const { opened, open } = streams();
  follow(open, changed, () => false, PAUSE);
  opened[0]?.say("open");
  opened[0]?.say("error");
  expect([told, opened.length]).toEqual([0, 1]);
  opened[0]?.say("open");
  expect(told).toBe(1);
});

test("a stream the server ended is told at once, opened anew after the pause, and not after it was stopped", () => {
  const { opened, open } = streams();
  const stop = follow(open, changed, () => false, PAUSE);
  const end = (which: number) => {
    Object.assign(opened[which] as object, { readyState: 2 });
    opened[which]?.say("error");
  };
  end(0);
  expect(told).toBe(1);
  jest.advanceTimersByTime(PAUSE - 1);
  expect(opened).toHaveLength(1);
  jest.advanceTimersByTime(1);
  expect(opened).toHaveLength(2);
  end(1);
  stop();
  jest.advanceTimersByTime(PAUSE * 2);
  expect(opened).toHaveLength(2);
  expect(opened[1]?.closed).toBe(true);
});
