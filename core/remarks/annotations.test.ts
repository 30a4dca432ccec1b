import { readFileSync } from "node:fs";
import jsonld from "jsonld";
import { annotationsOf } from "./annotations.ts";

/** The terms of the Web Annotation context these pages use, as W3C published them in 2017. */
const CONTEXT = JSON.parse(readFileSync(new URL("cases/anno-context.json", import.meta.url), "utf8"));

const anchor = { start: 3, end: 7, exact: "path", prefix: "The", suffix: " up", gone: false };
const said = { author: "Wim", body: "Which?", at: 0, editedAt: null };
const thread = { id: "t", author: "Wim", field: "body", anchor, proposal: null, settledAt: null, comments: [said] };
const page = annotationsOf("https://e.test/pieces/a", [
  thread,
  {
    ...thread,
    id: "u",
    anchor: { ...anchor, gone: true },
    proposal: [{ type: "text" as const, text: "track" }],
  },
  {
    ...thread,
    id: "v",
    anchor: null,
    field: null,
    comments: [said, { ...said, author: "Ada", body: "That.", editedAt: 60_000 }],
  },
]);

/** The page as a processor of JSON-LD that is not ours reads it: triples; what has no meaning to it is an error. */
async function triples(): Promise<string[]> {
  const read = await jsonld.toRDF(JSON.parse(JSON.stringify(page)), {
    format: "application/n-quads",
    safe: true,
    documentLoader: async (url: string) => {
      if (url !== "http://www.w3.org/ns/anno.jsonld") throw new Error(`unexpected context ${url}`);
      return { document: CONTEXT, documentUrl: url };
    },
  } as Parameters<typeof jsonld.toRDF>[1]);
  return String(read).trim().split("\n");
}

const OA = "http://www.w3.org/ns/oa#";

test("another reader of JSON-LD finds every annotation, its body, its words and its place", async () => {
  const lines = await triples();
  const having = (...parts: string[]) => lines.filter((line) => parts.every((part) => line.includes(part)));
  const typed = (name: string) => having("22-rdf-syntax-ns#type>", `<${OA}${name}>`).length;
  expect([
    typed("Annotation"),
    typed("TextualBody"),
    typed("TextPositionSelector"),
    typed("TextQuoteSelector"),
  ]).toEqual([3, 5, 1, 2]);
  expect(having("#remark-t>", `${OA}hasBody`)).toHaveLength(1);
  expect(having("#remark-u>", `${OA}motivatedBy`, `${OA}editing`)).toHaveLength(1);
  expect(having("#remark-v>", `${OA}hasTarget`, "<https://e.test/pieces/a>")).toHaveLength(1);
  expect(having(`${OA}start`, '"3"', "nonNegativeInteger")).toHaveLength(1);
  expect(having(`${OA}exact`, '"path"')).toHaveLength(2);
  expect(having("rdf-syntax-ns#value", '"track"')).toHaveLength(1);
  expect(having("dc/terms/modified", '"1970-01-01T00:01:00.000Z"', "dateTime")).toHaveLength(1);
});
