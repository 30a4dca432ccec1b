import { chromium } from "@playwright/test";
import { and, asc, eq } from "drizzle-orm";
import { type Anchor, anchorAt } from "#core/text/anchor.ts";
import { carry } from "#core/text/carry.ts";
import type { Manuscript } from "#core/text/manuscript.ts";
import { plainOf } from "#core/text/points.ts";
import type { Database } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { comment, piece, thread, version } from "#server/db/schema/index.ts";
import { piecePage } from "#server/pieces/page.ts";
import type { Viewer } from "#server/viewer.ts";
import { chromiumOptions } from "../tests/support/chromium.ts";
import { medianTimes, percentile, type Row } from "./measure.ts";
import { asManuscript, texts } from "./text.ts";

const ANCHORS = 5_000;
const RUNS = 15;

/** Anchors spread evenly over a text. */
function anchorsIn(text: Manuscript, count: number): Anchor[] {
  const length = plainOf(text).length;
  const step = Math.floor(length / (count + 1));
  return Array.from({ length: count }, (_, i) => anchorAt(text, { start: i * step, end: i * step + 20 }) as Anchor);
}

/** Carrying 5,000 anchors over one paragraph written anew in 20,000 words, beside reading the text's JSON. */
export async function carrying(): Promise<Row[]> {
  const { before } = texts();
  const was = asManuscript(before);
  const now = asManuscript(before.with(100, `Now ${before[100]}`));
  const anchors = anchorsIn(was, ANCHORS);
  const written = JSON.stringify(was);
  const [took = 0, bare = 0] = await medianTimes([() => carry(anchors, was, now), () => JSON.parse(written)], RUNS);
  return [
    {
      what: `${ANCHORS} anchors carried over an edit of 20,000 words`,
      measured: `${took.toFixed(1)} ms`,
      beside: `${bare.toFixed(1)} ms to parse the text`,
      ratio: took / bare,
      aim: "≤ 50 ms",
    },
  ];
}

/** Lays remarks on the words of a piece, each one comment long. */
export async function remarked(db: Database, pieceId: string, authorId: string, count: number, now: number) {
  const [last] = await db
    .select({ content: version.content, number: version.number })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(eq(piece.id, pieceId));
  const body = last?.content.fields.body as Manuscript;
  for (const [i, anchor] of anchorsIn(body, count).entries()) {
    const row = { id: newId(), pieceId, authorId, createdAt: now };
    await db
      .insert(thread)
      .values({ ...row, field: "body", anchor, madeOn: anchor.exact, version: last?.number ?? 1, sentAt: now });
    await db.insert(comment).values({ ...row, threadId: row.id, body: `Remark ${i} on the way up.` });
  }
}

/** The page of a piece with 1,000 remarks, beside the same with ten. */
export async function manyRemarks(db: Database, viewer: Viewer): Promise<Row[]> {
  const [few, many] = await db
    .select()
    .from(piece)
    .where(and(eq(piece.stateKey, "copy-edit")))
    .orderBy(asc(piece.id))
    .limit(2);
  if (!few || !many) throw new Error("the bench has no two pieces in the copy edit");
  await remarked(db, few.id, few.authorId, 10, viewer.now);
  await remarked(db, many.id, many.authorId, 1_000, viewer.now);
  const [took = 0, bare = 0] = await medianTimes(
    [() => piecePage(db, viewer, many.slug), () => piecePage(db, viewer, few.slug)],
    RUNS,
  );
  return [
    {
      what: "a piece with 1,000 remarks, which come along but for its first 100 once it stands",
      measured: `${took.toFixed(1)} ms`,
      beside: `${bare.toFixed(1)} ms one with ten`,
      ratio: took / bare,
      aim: "≤ 2",
    },
  ];
}

/** The frames of scrolling past a margin full of remarks, beside those of the same page standing still. */
export async function margin(base: string, cookie: string, address: string): Promise<Row[]> {
  const browser = await chromium.launch(chromiumOptions);
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.addCookies([{ name: "elenco", value: cookie.split("=")[1] ?? "", url: base }]);
    const page = await context.newPage();
    await page.goto(base + address);
    await page.locator("[data-card]").first().waitFor();
    const frames = (by: number) =>
      page.evaluate(
        `new Promise((done) => { const took = []; let last = performance.now(); const go = () => { const now = performance.now(); took.push(now - last); last = now; window.scrollBy(0, ${by}); took.length < 120 ? requestAnimationFrame(go) : done(took); }; requestAnimationFrame(go); })`,
      ) as Promise<number[]>;
    const still = await frames(0);
    const moving = await frames(60);
    const [middle, worst, beside] = [percentile(moving, 0.5), Math.max(...moving), Math.max(...still)];
    return [
      {
        what: "frames past a margin of 300 remarks",
        measured: `${middle.toFixed(0)} ms, longest ${worst.toFixed(0)} ms`,
        beside: `${beside.toFixed(0)} ms the longest standing still`,
        ratio: worst / beside,
        aim: "≤ 50 ms",
      },
    ];
  } finally {
    await browser.close();
  }
}
