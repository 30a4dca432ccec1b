import type { ChildProcess } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { buffer } from "node:stream/consumers";
import { setTimeout as pause } from "node:timers/promises";
import fc from "fast-check";
import { ZipFile } from "yazl";
import { newId } from "#server/db/schema/columns.ts";
import { openSession } from "#server/people/sessions.ts";
import { freePort } from "../../scripts/mariadb.ts";
import { NODE, ready, startOn } from "../support/node.ts";
import { accepted, begin, look, makeWorld, type World } from "../support/world.ts";

/**
 * A node as it runs, and whatever can be sent to it: every answer is one that was meant, within a
 * bound, and all the while the node goes on answering others. `FUZZ_SEED` asks for other inputs.
 */
let world: World;
let running: ChildProcess;
let base: string;
let cookie: string;
let piece: { id: string; slug: string };
const seed = Number(process.env.FUZZ_SEED ?? 12);
/** For each sort of input so long; a slow machine tries fewer, and the first in any case. */
const TIME = 2_000;
/** So long one answer of its health takes at most, in milliseconds: half of it is a busy machine's. Most take less than 250. */
const BREATH = 2_500;
/** So long an answer takes at most, in milliseconds: what is given up after 12 seconds, and some. */
const ANSWER = 20_000;

beforeAll(async () => {
  world = await makeWorld();
  piece = await begin(world);
  const port = await freePort();
  base = `http://127.0.0.1:${port}`;
  cookie = `elenco=${accepted(await openSession({ ...world.act(null), now: Date.now() }, world.id("ilda"), { address: "x", agent: "x" }))}`;
  const folder = mkdtempSync(path.join(tmpdir(), "elenco-fuzz-"));
  running = startOn(world, NODE, { PORT: String(port), ELENCO_DATA_DIR: folder });
  await ready(running);
});
afterAll(async () => {
  running.kill();
  await world.close();
});

/** Pieces of a language, over and over: what makes a reader that is not linear take for ever. */
const soup = (...tokens: string[]) =>
  fc
    .array(
      fc.tuple(
        fc.oneof(fc.constantFrom(...tokens), fc.string({ unit: "binary", maxLength: 8 })),
        fc.integer({ min: 1, max: 4_000 }),
      ),
      {
        maxLength: 12,
      },
    )
    .map((parts) =>
      parts
        .map(([token, times]) => token.repeat(times))
        .join("")
        .slice(0, 1_000_000),
    );

const markdown = soup(
  "![",
  "[",
  "](",
  ")",
  "*",
  "_",
  "`",
  "> ",
  "- ",
  "1. ",
  "#",
  "\n",
  "\n\n",
  "|",
  "---\n",
  "<b>",
  "&amp;",
  "hut-",
  "~~",
  "[^1]",
  "  ",
);
const html = soup(
  "<p>",
  "</p>",
  "<b>",
  "<table><tr><td>",
  "<td colspan=9>",
  "<ul><li>",
  "<blockquote>",
  "<a href='x'>",
  "<img src=x>",
  "<!--",
  "a ",
  "&#0;",
  "<svg>",
  "<script>",
  "<h1>",
  "</div>",
);
const calendar = soup(
  "BEGIN:VCALENDAR\r\n",
  "BEGIN:VEVENT\r\n",
  "DTSTART;VALUE=DATE:19000101\r\n",
  "DTEND:99991231T235959Z\r\n",
  "RRULE:FREQ=SECONDLY\r\n",
  "RRULE:FREQ=YEARLY;BYDAY=53MO\r\n",
  "EXDATE:20260101\r\n",
  "END:VEVENT\r\n",
  "END:VCALENDAR\r\n",
  "DURATION:P9999999D\r\n",
  " folded\r\n",
);
const scxml = soup(
  "<scxml xmlns='http://www.w3.org/2005/07/scxml'>",
  "<state id='a'>",
  "</state>",
  "<transition target='a'/>",
  "<!DOCTYPE x [",
  "<!ENTITY a 'b'>",
  "&a;",
  "<![CDATA[",
  "]]>",
  " id='b'",
  "</scxml>",
);
const json = fc.oneof(
  fc.json({ maxDepth: 6 }),
  soup("[", "]", "{", "}", '"a":', "1e999", ",", "null", '"__proto__":', "-"),
  fc.integer({ min: 1, max: 200_000 }).map((deep) => "[".repeat(deep) + "]".repeat(deep)),
);

async function docx(xml: string): Promise<Buffer> {
  const zip = new ZipFile();
  const namespace = "http://schemas.openxmlformats.org/wordprocessingml/2006/main";
  zip.addBuffer(
    Buffer.from("<Types xmlns='http://schemas.openxmlformats.org/package/2006/content-types'/>"),
    "[Content_Types].xml",
  );
  zip.addBuffer(
    Buffer.from(
      "<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='r1' Type='http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument' Target='word/document.xml'/></Relationships>",
    ),
    "_rels/.rels",
  );
  zip.addBuffer(
    Buffer.from(`<w:document xmlns:w='${namespace}'><w:body>${xml}</w:body></w:document>`),
    "word/document.xml",
  );
  zip.end();
  return buffer(zip.outputStream);
}
const words = soup(
  "<w:p>",
  "</w:p>",
  "<w:r><w:t>a</w:t></w:r>",
  "<w:tbl><w:tr><w:tc>",
  "</w:tc></w:tr></w:tbl>",
  "<w:pPr><w:numPr/></w:pPr>",
  "<w:hyperlink/>",
  "<w:footnoteReference w:id='1'/>",
);

const post = (where: string, body: BodyInit, type?: string) =>
  fetch(base + where, {
    method: "POST",
    redirect: "manual",
    body,
    headers: { Cookie: cookie, Origin: base, ...(type && { "Content-Type": type }) },
    signal: AbortSignal.timeout(ANSWER),
  });

/** A form as a browser sends it, with a file in it. */
function withFile(fields: Record<string, string>, field: string, name: string, content: string | Buffer): FormData {
  const form = new FormData();
  form.append("formKey", newId());
  for (const [key, value] of Object.entries(fields)) form.append(key, value);
  form.append(field, new Blob([new Uint8Array(Buffer.from(content))]), name);
  return form;
}

/** Asks for the node's health again and again, until it is told to stop. @returns how long each answer took, in milliseconds */
async function health(signal: AbortSignal): Promise<number[]> {
  const took: number[] = [];
  while (!signal.aborted) {
    const asked = performance.now();
    expect((await fetch(`${base}/healthz`)).status).toBe(200);
    took.push(performance.now() - asked);
    await pause(25);
  }
  return took.sort((a, b) => a - b);
}

const bring = (name: string, content: string | Buffer) => {
  const place = { kindId: world.id("kind bulletin-item"), sectionId: world.id("section bulletin"), title: "Fuzz" };
  return post("/pieces/new", withFile(place, "files[]", name, content));
};
const model = (name: string, content: string) =>
  post("/workflows", withFile({ intent: "start", from: "file", name: "" }, "file", name, content));
const save = async (value: unknown) => {
  const { version } = await look(world, piece.id);
  const sent = {
    intent: "save",
    pieceId: piece.id,
    window: newId(),
    base: version.hash,
    patch: { fields: { body: { value } } },
  };
  return post(`/pieces/${piece.slug}/text`, JSON.stringify(sent), "application/json");
};
const keys = fc.dictionary(
  fc.oneof(
    fc.constantFrom("person", "email", "password", "to", "__proto__", "id", "from", "until", "old"),
    fc.string(),
  ),
  fc.string(),
);
const intents = fc.constantFrom(
  "password",
  "set-up",
  "zone",
  "drop",
  "add-passkey",
  "drop-passkey",
  "away",
  "constructor",
);
const node = fc.letrec((tie) => ({
  node: fc.record(
    {
      type: fc.constantFrom(
        "doc",
        "paragraph",
        "heading",
        "bulletList",
        "listItem",
        "blockquote",
        "table",
        "tableRow",
        "tableCell",
        "figure",
        "note",
        "text",
        "hardBreak",
        "constructor",
      ),
      attrs: fc.dictionary(
        fc.constantFrom("level", "colspan", "rowspan", "start", "text", "file", "href", "alt"),
        fc.oneof(fc.jsonValue({ maxDepth: 1 }), fc.double()),
      ),
      text: fc.string({ unit: "binary" }),
      marks: fc.array(fc.record({ type: fc.constantFrom("bold", "italic", "link", "code", "x") }), { maxLength: 3 }),
      content: fc.array(tie("node"), { maxLength: 4 }),
    },
    { requiredKeys: ["type"] },
  ),
})).node;
const doc = fc.array(node, { maxLength: 5 }).map((content) => ({ type: "doc", content }));

const SORTS: [string, fc.Arbitrary<unknown>, (made: never) => Promise<Response>][] = [
  ["forms", keys, (made: Record<string, string>) => post("/sign-in", new URLSearchParams(made))],
  [
    "an account's forms",
    fc.tuple(intents, keys),
    ([intent, made]: [string, Record<string, string>]) => post("/me", new URLSearchParams({ ...made, intent })),
  ],
  ["Markdown", markdown, (made: string) => bring("a.md", made)],
  ["HTML", html, (made: string) => bring("a.html", made)],
  ["DOCX", words, async (made: string) => bring("a.docx", await docx(made))],
  ["iCalendar", calendar, (made: string) => post("/me", withFile({ intent: "calendar" }, "file", "a.ics", made))],
  ["SCXML", scxml, (made: string) => model("a.scxml", made)],
  ["JSON workflows", json, (made: string) => model("a.json", made)],
  ["JSON texts", json, (made: string) => post(`/pieces/${piece.slug}/text`, made, "application/json")],
  ["manuscripts", doc, save],
  [
    "searches",
    fc.string({ unit: "binary", maxLength: 2_000 }),
    (made: string) =>
      fetch(`${base}/find?q=${encodeURIComponent(made.toWellFormed())}`, { headers: { Cookie: cookie } }),
  ],
];

test.each(SORTS)("%s: answered, and meant; the node answers others meanwhile", async (_, inputs, send) => {
  const stop = new AbortController();
  const asked = health(stop.signal);
  const until = performance.now() + TIME;
  const answered = fc.asyncProperty(inputs, async (made) => {
    if (performance.now() > until) return;
    const answer = await send(made as never);
    await answer.text();
    expect(answer.status).toBeLessThan(500);
  });
  try {
    await fc.assert(answered, { seed, numRuns: 60, endOnFailure: true });
  } finally {
    stop.abort();
  }
  const took = await asked;
  expect(took[Math.floor(took.length * 0.75)]).toBeLessThan(1_000);
  expect(took.at(-1)).toBeLessThan(BREATH);
});

const part = '--b\r\nContent-Disposition: form-data; name="a"\r\n\r\n\r\n';
test.each([
  ["names", "a&".repeat(199_000), "application/x-www-form-urlencoded"],
  ["parts", `${part.repeat(65_000)}--b--\r\n`, "multipart/form-data; boundary=b"],
  ["depth", "[".repeat(3_900_000), "application/json"],
])("forms as large as may be sent, of nothing but %s, four at once, hold nobody up for long", async (_, body, type) => {
  const stop = new AbortController();
  const asked = health(stop.signal);
  const where = type === "application/json" ? `/pieces/${piece.slug}/text` : "/sign-in";
  const answers = await Promise.all(Array.from({ length: 4 }, () => post(where, body, type)));
  stop.abort();
  for (const answer of answers) expect([400, 422]).toContain(answer.status);
  expect((await asked).at(-1)).toBeLessThan(BREATH);
});
