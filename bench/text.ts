import { diffWords } from "diff";
import { eq } from "drizzle-orm";
import { compareManuscripts } from "#core/text/diff.ts";
import type { Content } from "#core/text/fields.ts";
import type { Manuscript } from "#core/text/manuscript.ts";
import { patchBetween } from "#core/text/splice.ts";
import { chance } from "#demo/texts.ts";
import type { Database } from "#server/db/client.ts";
import { piece, version } from "#server/db/schema/index.ts";
import { piecePage } from "#server/pieces/page.ts";
import { versionRow } from "#server/text/versions.ts";
import type { Viewer } from "#server/viewer.ts";
import { medianTimes, type Row } from "./measure.ts";

const PARAGRAPHS = 333;
const WORDS = 60;
const EDITS = 300;
const RUNS = 15;

/** A text of 20,000 words, and the same with 300 words changed here and there. */
export function texts(): { before: string[]; after: string[] } {
  const random = chance(7);
  const one = () => `word${Math.floor(random() * 3_000)}`;
  const before = Array.from({ length: PARAGRAPHS }, () => `${Array.from({ length: WORDS }, one).join(" ")}.`);
  const after = [...before];
  for (let i = 0; i < EDITS; i++) {
    const at = Math.floor(random() * PARAGRAPHS);
    after[at] = (after[at] ?? "")
      .split(" ")
      .with(Math.floor(random() * WORDS), `edited${i}`)
      .join(" ");
  }
  return { before, after };
}

export const asManuscript = (paragraphs: readonly string[]): Manuscript => ({
  type: "doc",
  content: paragraphs.map((text) => ({ type: "paragraph", content: [{ type: "text", text }] })),
});

/** Two versions of 20,000 words compared by their structure, beside a bare word diff of the flat text. */
export async function comparing(): Promise<Row[]> {
  const { before, after } = texts();
  const [old, now] = [asManuscript(before), asManuscript(after)];
  const [took = 0, bare = 0] = await medianTimes(
    [() => compareManuscripts(old, now), () => diffWords(before.join("\n\n"), after.join("\n\n"))],
    RUNS,
  );
  const content = (paragraphs: readonly string[]): Content => ({
    title: "T",
    fields: { body: asManuscript(paragraphs) },
  });
  const patch = JSON.stringify(
    patchBetween(content(before), content(before.with(100, "One paragraph, written anew."))),
  );
  const whole = JSON.stringify(content(before));
  return [
    {
      what: `comparison of 20,000 words, ${EDITS} edits`,
      measured: `${took.toFixed(0)} ms`,
      beside: `${bare.toFixed(0)} ms a bare word diff`,
      ratio: took / bare,
      aim: "≤ 3 and ≤ 150 ms",
    },
    {
      what: "a save of one paragraph of 20,000 words",
      measured: `${(patch.length / 1000).toFixed(2)} KB`,
      beside: `${whole.length} bytes the whole text`,
      ratio: patch.length / whole.length,
      aim: "≤ 10 KB",
    },
  ];
}

/** The page of a piece with 400 versions, beside the same with two versions. */
export async function longHistory(db: Database, viewer: Viewer): Promise<Row[]> {
  const pieces = await db.select().from(piece).where(eq(piece.stateKey, "route-check")).limit(2);
  const [few, many] = pieces;
  if (!few || !many) throw new Error("the bench has no two pieces in the route check");
  const [last] = await db.select().from(version).where(eq(version.id, many.currentVersionId));
  if (!last) throw new Error("a piece has no version");
  let current = last.id;
  for (let i = 1; i <= 400; i++) {
    const row = versionRow(many.id, last.number + i, { ...last.content, title: `${last.content.title} ${i}` }, [], {
      authorId: many.authorId,
      createdAt: viewer.now,
    });
    await db.insert(version).values(row);
    current = row.id;
  }
  await db.update(piece).set({ currentVersionId: current }).where(eq(piece.id, many.id));
  const [took = 0, short = 0] = await medianTimes(
    [() => piecePage(db, viewer, many.slug), () => piecePage(db, viewer, few.slug)],
    40,
  );
  return [
    {
      what: "a piece with 400 versions",
      measured: `${took.toFixed(1)} ms`,
      beside: `${short.toFixed(1)} ms one with few`,
      ratio: took / short,
      aim: "≤ 2",
    },
  ];
}

/** Puts a text of 20,000 words into a piece in draft. @returns the piece's address and its author's id */
export async function longText(
  db: Database,
  now: number,
): Promise<{ address: string; authorId: string; pieceId: string }> {
  const [one] = await db.select().from(piece).where(eq(piece.stateKey, "draft")).limit(1);
  const [last] = one ? await db.select().from(version).where(eq(version.id, one.currentVersionId)) : [];
  if (!one || !last) throw new Error("the bench has no draft");
  const content = { ...last.content, fields: { ...last.content.fields, body: asManuscript(texts().before) } };
  const row = versionRow(one.id, last.number + 1, content, [], { authorId: one.authorId, createdAt: now });
  await db.insert(version).values(row);
  await db.update(piece).set({ currentVersionId: row.id }).where(eq(piece.id, one.id));
  return { address: `/pieces/${one.slug}`, authorId: one.authorId, pieceId: one.id };
}

/** The scripts a piece's page asks for at first, as they are sent; its editor, panels and margin come apart. */
export async function firstLoad(url: string, cookie: string): Promise<Row[]> {
  const html = await (await fetch(url, { headers: { cookie } })).text();
  const named = [...html.matchAll(/\/assets\/[\w.-]+\.js/g)].map(([address]) => address);
  const size = async (address: string) => {
    const packed = await fetch(new URL(address, url), { method: "HEAD", headers: { "accept-encoding": "br" } });
    return Number(packed.headers.get("content-length"));
  };
  const sizes = await Promise.all([...new Set(named)].map(size));
  const kilobytes = sizes.reduce((sum, one) => sum + one, 0) / 1000;
  return [
    {
      what: "scripts of a piece's page, compressed",
      measured: `${kilobytes.toFixed(0)} KB`,
      beside: "200 KB allowed",
      ratio: kilobytes / 200,
      aim: "≤ 1",
    },
  ];
}
