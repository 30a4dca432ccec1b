import { setTimeout as rest } from "node:timers/promises";
import { chromium, type Page } from "@playwright/test";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { percentile, type Row } from "./measure.ts";

const TIMES = 8;
/** How long a hand rests on what it is about to press, in milliseconds. */
export const RESTS = 150;

/** How long somebody has been on a page before they go on, in milliseconds. */
const READS = 2_000;

/** How long the browser may take to report an interaction, in milliseconds. */
const SETTLES = 250;

/** One of the commonest ways from one page to another. */
interface Way {
  name: string;
  from: string;
  press(page: Page): ReturnType<Page["locator"]>;
  /** What shows that the other page is there. */
  arrives: string;
}

/** Something done with a page, and what it is called. */
type Act = [name: string, on: string, act: (page: Page) => Promise<unknown>];

/**
 * What the hands feel, in headless Chromium: from a click to the next page's content, the browser's own
 * Interaction to Next Paint for what is done most, and the frames of scrolling a long list.
 *
 * @param base the address of a running node
 * @param cookie the session of somebody on whom much waits
 * @param piece the address of a piece they may write in
 */
export async function hands(base: string, cookie: string, piece: string): Promise<Row[]> {
  const browser = await chromium.launch(chromiumOptions);
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.addCookies([{ name: "elenco", value: cookie.split("=")[1] ?? "", url: base }]);
    const page = await context.newPage();
    await page.addInitScript(OBSERVER);
    const open = async (path: string) => {
      await page.goto(base + path);
      await page.waitForFunction(() =>
        Object.keys(document.querySelector("main") ?? {}).some((key) => /^__react/.test(key)),
      );
    };
    const list = { path: "/pieces?show=all", of: "[data-row]", name: "rows" };
    return [
      ...(await ways(page, open)),
      ...(await acts(page, open, piece)),
      await scrolling(page, open, list),
      ...(await sheet(page, open)),
    ];
  } finally {
    await browser.close();
  }
}

/**
 * Keeps what the browser says of every interaction: how long until the next paint. What is evaluated in
 * the page names its functions by a helper the page does not have.
 */
const OBSERVER = `
  window.__name = (named) => named;
  window.interactions = [];
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) if (entry.interactionId) window.interactions.push(entry.duration);
  }).observe({ type: "event", durationThreshold: 16, buffered: true });
`;

const WAYS: readonly Way[] = [
  {
    name: "Your turn to a piece",
    from: "/turn",
    press: (page) => page.locator("[data-row] a").first(),
    arrives: "article",
  },
  {
    name: "Pieces to a piece",
    from: "/pieces",
    press: (page) => page.locator("[data-row] a").nth(3),
    arrives: "article",
  },
  {
    name: "to Pieces",
    from: "/turn",
    press: (page) => page.getByRole("link", { name: "Pieces", exact: true }),
    arrives: "[aria-label=Pieces] [data-row]",
  },
  {
    name: "to the schedule",
    from: "/turn",
    press: (page) => page.getByRole("link", { name: "Schedule", exact: true }),
    arrives: "main h1",
  },
  {
    name: "to Your turn",
    from: "/pieces",
    press: (page) => page.getByRole("link", { name: /^Your turn/ }),
    arrives: "h1:has-text('wait on you'), h1:has-text('waits on you')",
  },
];

async function ways(page: Page, open: (path: string) => Promise<void>): Promise<Row[]> {
  const rows: Row[] = [];
  for (const { name, from, press, arrives } of WAYS) {
    const samples: number[] = [];
    const bare: number[] = [];
    for (let i = 0; i < TIMES; i++) {
      await open(from);
      await rest(READS);
      const link = press(page);
      await link.hover();
      await rest(RESTS);
      const arrived = page.evaluate(
        (selector) => {
          const state = { begun: 0 };
          document.addEventListener("click", () => (state.begun = performance.now()), { once: true, capture: true });
          const here = document.querySelector(selector);
          return new Promise<number>((done) => {
            const look = () => {
              const there = document.querySelector(selector);
              const waited = performance.now() - state.begun;
              if (state.begun > 0 && there && there !== here) done(waited);
              else if (state.begun > 0 && waited > 20_000) done(Number.NaN);
              else requestAnimationFrame(look);
            };
            look();
          });
        },
        arrives.replace(/:has-text\('[^']*'\)/g, ""),
      );
      await link.click();
      const took = await arrived;
      if (Number.isNaN(took)) throw new Error(`${name}: it never arrived`);
      samples.push(took);
      bare.push(await frame(page));
    }
    rows.push(row(`click: ${name}`, percentile(samples, 0.5), percentile(bare, 0.5)));
  }
  return rows;
}

/** What a click costs that only opens one's own menu: the least this machine paints in. */
async function frame(page: Page): Promise<number> {
  const menu = page.locator("header button").last();
  const opened = page.evaluate(() => {
    const begun = { at: 0 };
    document.addEventListener("pointerdown", () => (begun.at = performance.now()), { once: true, capture: true });
    return new Promise<number>((done) => {
      const look = () =>
        document.querySelector("[role=menu]") ? done(performance.now() - begun.at) : requestAnimationFrame(look);
      look();
    });
  });
  await menu.click();
  const took = await opened;
  await page.keyboard.press("Escape");
  return took;
}

async function acts(page: Page, open: (path: string) => Promise<void>, piece: string): Promise<Row[]> {
  const list: readonly Act[] = [
    ["walk the rows", "/turn", (at) => at.keyboard.press("j")],
    ["walk back", "/turn", (at) => at.keyboard.press("k")],
    ["the list of keys", "/turn", (at) => at.keyboard.press("?")],
    ["one's own menu", "/turn", (at) => at.locator("header button").last().click()],
    ["begin to search", "/turn", (at) => at.keyboard.press("Control+k")],
    ["a letter in the search", "/turn", (at) => at.getByRole("combobox", { name: /^Find/ }).press("p")],
    ["open a list of choices", "/pieces", (at) => at.getByLabel("Every section").click()],
    [
      "take a choice",
      "/pieces",
      async (at) => {
        await at.getByLabel("Every state").click();
        await at.getByRole("option").nth(1).click();
      },
    ],
    ["late only", "/pieces", (at) => at.getByLabel("late only").click()],
    ["a letter in the words", "/pieces", (at) => at.getByRole("searchbox").press("b")],
    ["a letter in the title", piece, (at) => at.getByLabel("Title").press("x")],
    ["a letter in the text", piece, (at) => at.locator(".ProseMirror").first().press("x")],
    [
      "bold",
      piece,
      async (at) => {
        await at.locator(".ProseMirror").first().press("Control+b");
      },
    ],
    ["a heading", piece, (at) => at.getByRole("button", { name: "Heading" }).click()],
    ["find in the text", piece, (at) => at.locator(".ProseMirror").first().press("Control+f")],
    ["a field", piece, (at) => at.locator("main textarea").last().press("x")],
    ["a letter in a comment", piece, (at) => at.getByLabel("Comment on the piece").press("x")],
    ["what else", piece, (at) => at.getByRole("link", { name: "What else" }).click()],
    ["step back", piece, (at) => at.keyboard.press("Escape")],
    ["a month", "/me", (at) => at.getByRole("button", { name: "Choose from the month" }).first().click()],
  ];
  const rows: Row[] = [];
  const bare: number[] = [];
  const worst: { name: string; took: number }[] = [];
  for (const [name, on, act] of list) {
    const samples: number[] = [];
    for (let i = 0; i < TIMES / 2; i++) {
      await open(on);
      if (on === "/turn" && bare.length < TIMES) bare.push(await frame(page));
      await page.evaluate(() => new Promise((seen) => requestAnimationFrame(() => window.setTimeout(seen, 200))));
      await page.evaluate("window.interactions.length = 0");
      await act(page);
      await rest(SETTLES);
      const durations = (await page.evaluate("window.interactions")) as number[];
      // What is under sixteen milliseconds the browser does not report.
      samples.push(Math.max(8, ...durations));
    }
    worst.push({ name, took: percentile(samples, 0.5) });
  }
  worst.sort((a, b) => b.took - a.took);
  for (const { name, took } of worst.slice(0, 3))
    rows.push(row(`to the next paint: ${name}`, took, percentile(bare, 0.5)));
  const slow = worst.filter(({ took }) => took > 100).length;
  rows.push({
    what: `interactions of ${list.length} over 100 ms`,
    measured: String(slow),
    beside: `${percentile(
      worst.map((one) => one.took),
      0.5,
    ).toFixed(0)} ms the median one`,
    ratio: slow,
    aim: "≤ 0",
  });
  return rows;
}

const row = (what: string, took: number, bare: number): Row => ({
  what,
  measured: `${took.toFixed(0)} ms`,
  beside: `${bare.toFixed(0)} ms to open a menu`,
  ratio: took / bare,
  aim: "≤ 100 ms",
});

/** The sheet of a line's ways over a year: drawn anew with the next one chosen, and moved along. */
async function sheet(page: Page, open: (path: string) => Promise<void>): Promise<Row[]> {
  const drawn = { path: "/flow?weeks=52", of: "main svg a", name: "ways" };
  await open(drawn.path);
  const bare = await frame(page);
  const samples: number[] = [];
  await page.getByRole("group", { name: "The ways of the pieces" }).focus();
  for (let i = 0; i < TIMES; i++) {
    await page.evaluate("window.interactions.length = 0");
    await page.keyboard.press("ArrowDown");
    await rest(SETTLES);
    samples.push(Math.max(8, ...((await page.evaluate("window.interactions")) as number[])));
  }
  const count = await page.locator(drawn.of).count();
  return [
    row(`the sheet of ${count} ways, drawn with another chosen`, percentile(samples, 0.5), bare),
    await scrolling(page, open, drawn),
  ];
}

/** The frames of scrolling a long page, beside those of the same that stands still. */
async function scrolling(
  page: Page,
  open: (path: string) => Promise<void>,
  { path, of, name }: { path: string; of: string; name: string },
): Promise<Row> {
  await open(path);
  const count = await page.locator(of).count();
  const frames = (scrolls: boolean) =>
    page.evaluate(async (goes) => {
      const took: number[] = [];
      let last = performance.now();
      for (let i = 0; i < 120; i++) {
        if (goes) window.scrollBy(0, i < 60 ? 90 : -90);
        await new Promise((seen) => requestAnimationFrame(seen));
        took.push(performance.now() - last);
        last = performance.now();
      }
      return took;
    }, scrolls);
  await frames(true);
  const still = Math.max(...(await frames(false)));
  const moved = await frames(true);
  return {
    what: `frames over 50 ms, scrolling ${count} ${name}`,
    measured: `${moved.filter((one) => one > 50).length}, longest ${Math.max(...moved).toFixed(0)} ms`,
    beside: `${still.toFixed(0)} ms standing still`,
    ratio: Math.max(...moved) / still,
    aim: "≤ 50 ms",
  };
}
