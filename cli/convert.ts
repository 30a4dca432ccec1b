import { parseArgs } from "node:util";
import { workflowSchema } from "#core/workflow/document.ts";
import { toMermaid } from "#core/workflow/exchange/mermaid.ts";
import { type Document, fromScxml, toScxml } from "#core/workflow/exchange/scxml.ts";
import { accept, nameOf, parseJson, readText, Unusable } from "./input.ts";

/** `elenco convert`: a workflow document in another form. What could not be kept is said on standard error. */
export async function convertCommand(rest: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args: rest,
    options: { to: { type: "string" }, json: { type: "boolean", default: false } },
    allowPositionals: true,
  });
  const [file, ...more] = positionals;
  if (!file || more.length > 0) throw new Unusable("convert: expected one workflow document");
  const write = FORMS[values.to ?? ""];
  if (!write) throw new Unusable(`--to: expected ${Object.keys(FORMS).join(", ")}`);
  const text = write(readDocument(file), nameOf(file));
  console.log(values.json && values.to !== "json" ? JSON.stringify(text) : text.trimEnd());
  return 0;
}

const FORMS: Record<string, (document: Document, name: string) => string> = {
  json: (document) => JSON.stringify(document, null, 2),
  scxml: (document, name) => {
    try {
      return toScxml(document);
    } catch (error) {
      throw new Unusable(`${name}: ${(error as Error).message}`);
    }
  },
  mermaid: (document, name) => toMermaid(accept(name, document, workflowSchema)),
};

/** A document from JSON or SCXML, whichever the file holds, as it stands there. */
function readDocument(file: string): Document {
  const name = nameOf(file);
  const source = readText(file);
  if (!source.trimStart().startsWith("<")) return shaped(name, parseJson(name, source));
  const read = fromScxml(source);
  if ("problem" in read) throw new Unusable(`${name}: ${read.problem}`);
  for (const sentence of read.leftOut) console.error(`${name}: ${sentence}`);
  return shaped(name, read.document);
}

/** Judged by the schema, but left as it was written: defaults are not filled in. */
function shaped(name: string, document: unknown): Document {
  accept(name, document, workflowSchema);
  return document as Document;
}
