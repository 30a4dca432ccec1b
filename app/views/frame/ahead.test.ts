import { aheadOf, loaderAhead } from "./ahead.ts";
import { keepLast } from "./keep-last.ts";

const BASE = "http://elenco.example";

/** A server that gives, for each time it is asked, the next of these; an error is thrown. */
function serverOf(...answers: unknown[]) {
  const server = {
    asked: 0,
    async answer() {
      server.asked++;
      const next = answers.shift();
      if (next instanceof Error || next instanceof Response) throw next;
      return next;
    },
  };
  return server;
}
type Server = ReturnType<typeof serverOf>;

const asked = (to: string, { answer }: Server) => ({ request: new Request(BASE + to), serverLoader: answer });
const load = loaderAhead<unknown>();
const go = (to: string, server: Server) => load(asked(to, server));
const rest = (on: string, server: Server) => go(aheadOf(BASE + on, `${BASE}/people`) ?? "", server);

let now = 0;
const real = performance.now;
beforeAll(() => {
  performance.now = () => now;
});
afterAll(() => {
  performance.now = real;
});

test.each<[to: string, as: string | null]>([
  ["/turn", "/turn?ahead="],
  ["/pieces/fog", "/pieces/fog?ahead="],
  ["/pieces/fog?do=decide", "/pieces/fog?do=decide&ahead="],
  ["/pieces?words=fog%20horn", "/pieces?words=fog+horn&ahead="],
  ["/pieces/fog#end", "/pieces/fog?ahead="],
  ["/pieces/newly-found", "/pieces/newly-found?ahead="],
  ["/schedule?weeks=2", "/schedule?weeks=2&ahead="],
  ["/schedule?weeks=13", null],
  ["/schedule?weeks=13#now", null],
  ["/pieces/new", null],
  ["/pieces/several", null],
  ["/pieces/deleted", null],
  ["/pieces/fog/versions", null],
  ["/people", null],
  ["/turn/", null],
  ["https://elsewhere.example/turn", null],
  ["mailto:noor@fontelba.example", null],
])("from the schedule of a quarter %s is asked for ahead as %s", (to, as) => {
  const asked = aheadOf(new URL(to, BASE).href, `${BASE}/schedule?weeks=13`);
  expect(asked?.replace(/ahead-\w+=/, "ahead=") ?? null).toBe(as);
});

test.each(["", "no address", "/turn"])("what is no whole address, %j, leads nowhere", (to) => {
  expect(aheadOf(to, BASE)).toBeNull();
});

test.each(["/turn", "/pieces/fog?do=decide", "/pieces?words=fog%20horn", "/schedule?from=2026-12-07&by=channel"])(
  "whoever rested on %s and goes there finds what was fetched, once",
  async (to) => {
    const server = serverOf("first", "second");
    expect(await rest(to, server)).toBeNull();
    expect(await go(to, server)).toBe("first");
    expect(server.asked).toBe(1);
    expect(await go(to, server)).toBe("second");
  },
);

test("who goes before it has come waits for it, and nothing is asked for twice", async () => {
  const server = serverOf("first", "second");
  const resting = rest("/turn", server);
  expect(await go("/turn", server)).toBe("first");
  await resting;
  expect(server.asked).toBe(1);
});

test.each<[milliseconds: number, what: string]>([
  [4_999, "first"],
  [5_000, "second"],
])("after %i ms it is the %s", async (waited, what) => {
  const server = serverOf("first", "second");
  await rest("/turn", server);
  now += waited;
  expect(await go("/turn", server)).toBe(what);
});

test.each(["/pieces/other", "/turn", "/pieces/fog?do=decide"])("%s, asked for meanwhile, drops it", async (other) => {
  const server = serverOf("first", "other", "second");
  await rest("/pieces/fog", server);
  expect(await go(other, server)).toBe("other");
  expect(await go("/pieces/fog", server)).toBe("second");
});

test("what stands around a page, asked for by its address, is never given what was fetched for the page", async () => {
  const around = loaderAhead<unknown>();
  const server = serverOf("page", "around", "page anew");
  await rest("/pieces/fog", server);
  expect(await around(asked("/pieces/fog", server))).toBe("around");
  expect(await go("/pieces/fog", server)).toBe("page anew");
});

test("an address that says it is asked for ahead, and is not, is a page like any other", async () => {
  const server = serverOf("first");
  expect(await go("/turn?ahead=", server)).toBe("first");
});

test("what fails ahead fails unheard, and is asked for anew", async () => {
  const server = serverOf(new Error("away"), "second");
  expect(await rest("/turn", server)).toBeNull();
  expect(await go("/turn", server)).toBe("second");
});

test("what fails for who is there is heard", async () => {
  const server = serverOf(new Error("away"), new Error("still away"));
  await rest("/turn", server);
  await expect(go("/turn", server)).rejects.toThrow("still away");
});

test("a page that remembers is fetched ahead like any other, and shows what it last showed while nobody answers", async () => {
  Object.assign(globalThis, { window: { location: new URL("/pieces/fog", BASE) } });
  const page = keepLast<string>();
  const ask = (to: string, server: Server) => page(asked(to, server));
  const server = serverOf("first", new Error("away"), new Error("away"), new Response(null, { status: 404 }));
  await ask(aheadOf(`${BASE}/pieces/fog`, BASE) ?? "", server);
  const shown = await ask("/pieces/fog", server);
  expect(shown).toBe("first");
  page.remember(shown);
  expect(await ask("/pieces/fog", server)).toBe("first");
  await expect(ask("/pieces/other", server)).rejects.toThrow("away");
  await expect(ask("/pieces/fog", server)).rejects.toHaveProperty("status", 404);
  Reflect.deleteProperty(globalThis, "window");
});
