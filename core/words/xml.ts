import { SaxesParser } from "saxes";

/** An element as it is written: names with their prefix, attributes in order, children elements or text. */
export interface Written {
  name: string;
  attributes: Record<string, string | undefined>;
  children: (Written | string)[];
}

/** An element as it was read: names by their namespace, `line` counted from 1. */
export interface Element {
  namespace: string;
  name: string;
  line: number;
  /** Attributes by local name; those without a prefix, and those of other namespaces. */
  attributes: Readonly<Record<string, string>>;
  foreign: Readonly<Record<string, Readonly<Record<string, string>>>>;
  children: Element[];
  text: string;
  /** Where what stands between its tags begins and ends, in UTF-16 units of the source. */
  inner: [from: number, to: number];
}

const DEEPEST = 100;

/** Writes an element and what it holds as indented XML. Control characters that XML has no place for throw. @throws RangeError */
export function writeXml(root: Written): string {
  return `<?xml version="1.0" encoding="UTF-8"?>\n${written(root, "")}\n`;
}

/**
 * Reads XML with namespaces. Document type declarations are refused, and with them every entity
 * but the five of XML itself: none is expanded, none is fetched.
 *
 * @returns the root element, or a sentence that names the line
 */
export function readXml(source: string): { root: Element } | { problem: string } {
  const parser = new SaxesParser({ xmlns: true });
  const marked = source.replace(/^\uFEFF/, "");
  const open: Element[] = [];
  let root: Element | null = null;
  const refuse = (what: string): never => {
    throw new Error(`line ${parser.line}: ${what}`);
  };
  parser.on("error", (error) => refuse(error.message.replace(/^\d+:\d+: /, "")));
  parser.on("doctype", () => refuse("a document type declaration is not accepted"));
  parser.on("opentag", (tag) => {
    if (open.length >= DEEPEST) refuse(`elements are nested more than ${DEEPEST} deep`);
    const attributes: Record<string, string> = {};
    const foreign: Record<string, Record<string, string>> = {};
    for (const { uri, local, prefix, value } of Object.values(tag.attributes)) {
      if (prefix === "") attributes[local] = value;
      else foreign[uri] = { ...foreign[uri], [local]: value };
    }
    const element = {
      namespace: tag.uri,
      name: tag.local,
      line: parser.line,
      attributes,
      foreign,
      children: [],
      text: "",
      inner: [parser.position, parser.position] as [number, number],
    };
    open.at(-1)?.children.push(element);
    root ??= element;
    open.push(element);
  });
  const addText = (text: string) => {
    const element = open.at(-1);
    if (element) element.text += text;
  };
  parser.on("text", addText);
  parser.on("cdata", addText);
  parser.on("closetag", (tag) => {
    const element = open.pop();
    if (element && !tag.isSelfClosing) element.inner[1] = marked.lastIndexOf("</", parser.position);
  });
  try {
    parser.write(marked).close();
  } catch (error) {
    return { problem: (error as Error).message };
  }
  return root ? { root } : { problem: "line 1: there is no element" };
}

function written({ name, attributes, children }: Written, indent: string): string {
  const list = Object.entries(attributes).flatMap(([key, value]) =>
    value === undefined ? [] : [` ${key}="${escaped(value)}"`],
  );
  if (children.length === 0) return `${indent}<${name}${list.join("")}/>`;
  const opening = `${indent}<${name}${list.join("")}>`;
  if (children.every((child) => typeof child === "string"))
    return `${opening}${children.map(escaped).join("")}</${name}>`;
  const inner = (children as Written[]).map((child) => written(child, `${indent}  `));
  return [opening, ...inner, `${indent}</${name}>`].join("\n");
}

/** What no XML 1.0 document may hold, even escaped. */
const UNWRITABLE = /[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/u;

/** A text without the characters no XML document may hold. */
export const writable = (text: string) => text.replace(new RegExp(UNWRITABLE, "gu"), "");

function escaped(text: string): string {
  if (UNWRITABLE.test(text)) throw new RangeError(`XML has no place for a control character in "${text.slice(0, 40)}"`);
  return text.replace(/[&<>"\t\n\r]/g, (character) => `&#${character.charCodeAt(0)};`);
}
