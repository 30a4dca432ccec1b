import { parse, defaultTreeAdapter as tree } from "parse5";
import { Fragment, type Mark, type Node } from "prosemirror-model";
import {
  attribute,
  type Element,
  elements,
  find,
  isElement,
  notesOf,
  shallow,
  style,
  type Tree,
  textOf,
  wordsOf,
} from "./html-tree.ts";
import { type Manuscript, safeAddress } from "./manuscript.ts";
import { manuscriptSchema, START_MOST } from "./schema.ts";

/** A foreign text as a draft: its first heading is the title; what could not be kept is said. */
export interface ImportedDraft {
  title: string | null;
  manuscript: Manuscript;
  /** A sentence for each sort of thing left out. */
  leftOut: string[];
}

/** Says under which file a picture is kept, by its `src`; null for one that is not. */
export type PictureOf = (source: string) => string | null;

/**
 * Reads HTML, from a file or the clipboard, into a manuscript: structure is kept, looks, scripts and
 * what word processors and web pages add are dropped. What `toHtml` writes comes back as it was.
 *
 * @param html a document or a piece of one
 */
export function fromHtml(html: string, pictureOf: PictureOf = () => null): ImportedDraft {
  const document = shallow(parse(html));
  const lost: Lost = new Map();
  const heading = find(document, (one) => one.tagName === "h1" && wordsOf(one) !== "" && !holds(one, "img"));
  const named = heading ?? find(document, (one) => one.tagName === "title");
  const title = named ? wordsOf(named) : "";
  // What became the title does not stay in the text, unless it says more than a title can.
  const leads = heading !== undefined && title.length <= TITLE_MOST;
  return {
    title: title.slice(0, TITLE_MOST) || null,
    manuscript: asManuscript(blocksIn(document, pictureOf, lost, leads ? [heading] : [])),
    leftOut: [...lost].map(([sort, count]) => LOSSES[sort](count)),
  };
}

/** Blocks as a whole manuscript; without any, an empty one. */
export function asManuscript(blocks: readonly Node[]): Manuscript {
  const content = blocks.length > 0 ? blocks : [paragraph([])];
  return manuscriptSchema.node("doc", null, content).toJSON();
}

const TITLE_MOST = 200;

type Sort = keyof typeof LOSSES;
type Lost = Map<Sort, number>;

const many = (one: string, more: (count: number) => string) => (count: number) => (count === 1 ? one : more(count));
const LOSSES = {
  picture: many("One picture could not be kept.", (count) => `${count} pictures could not be kept.`),
  frame: many("A frame, film or sound was left out.", (count) => `${count} frames, films and sounds were left out.`),
  drawing: many("A drawing was left out.", (count) => `${count} drawings were left out.`),
  form: many("A form field was left out.", (count) => `${count} form fields were left out.`),
  script: many("A script was left out.", (count) => `${count} scripts were left out.`),
  link: many(
    "A link that leads nowhere outside was kept as plain words.",
    (count) => `${count} links that lead nowhere outside were kept as plain words.`,
  ),
  code: many("Code was kept as plain words.", () => "Code was kept as plain words."),
  struck: many("Struck-out words were kept as plain words.", () => "Struck-out words were kept as plain words."),
};
const DROPPED: Record<string, Sort | null> = {
  script: "script",
  style: null,
  template: null,
  noscript: null,
  head: null,
  iframe: "frame",
  object: "frame",
  embed: "frame",
  video: "frame",
  audio: "frame",
  canvas: "drawing",
  svg: "drawing",
  math: "drawing",
  input: "form",
  select: "form",
  textarea: "form",
  button: "form",
};
const BLOCKS = new Set(
  "p h1 h2 h3 h4 h5 h6 blockquote ul ol table hr pre figure img div section article main header footer aside nav address dl dt dd details summary fieldset form center body html".split(
    " ",
  ),
);

interface Reading {
  /** The words of each note, by the element that refers to it. */
  notes: Map<Element, string>;
  /** Elements that are not part of the text: the list of notes, what is hidden. */
  skipped: Set<Element>;
  pictureOf: PictureOf;
  lost: Lost;
}

function blocksIn(document: Tree.Document, pictureOf: PictureOf, lost: Lost, without: readonly Element[]): Node[] {
  const { notes, skipped } = notesOf(document);
  return blocksOf(document.childNodes, [], { notes, skipped: new Set([...skipped, ...without]), pictureOf, lost });
}

const { nodes: types, marks } = manuscriptSchema;
const make = (type: string, attributes: object | null, content: readonly Node[]) =>
  manuscriptSchema.node(type, attributes, Fragment.fromArray([...content]));
const paragraph = (content: readonly Node[]) => make("paragraph", null, content);

/** Reads what may hold blocks; words that stand between blocks become paragraphs. */
function blocksOf(
  children: readonly Tree.ChildNode[],
  under: readonly Mark[],
  reading: Reading,
  keepsSpace = false,
): Node[] {
  const blocks: Node[] = [];
  let line: Node[] = [];
  const endLine = () => {
    const content = keepsSpace ? line : tidy(line);
    if (content.length > 0) blocks.push(paragraph(content));
    line = [];
  };
  for (const group of listGroups(children)) {
    if (Array.isArray(group)) {
      endLine();
      blocks.push(...wordLists(group, reading));
    } else if (!isElement(group)) line.push(...inline(group, under, reading, keepsSpace));
    else if (isDropped(group, reading)) continue;
    else if (BLOCKS.has(group.tagName)) {
      endLine();
      blocks.push(...block(group, under, reading));
    } else if (holdsBlock(group)) {
      endLine();
      blocks.push(...blocksOf(group.childNodes, marksOf(group, under, reading), reading));
    } else line.push(...inline(group, under, reading, keepsSpace));
  }
  endLine();
  return blocks;
}

function block(element: Element, under: readonly Mark[], reading: Reading): Node[] {
  const { tagName } = element;
  const keepsSpace = /white-space:\s*(pre|break-spaces)/i.test(style(element));
  if (/^h[1-6]$/.test(tagName)) {
    const content = words(element, under, reading, keepsSpace);
    const level = Math.min(4, Math.max(2, Number(tagName[1])));
    return content.length > 0 || keepsSpace ? [make("heading", { level }, content)] : [];
  }
  switch (tagName) {
    case "p": {
      if (holdsBlock(element)) return blocksOf(element.childNodes, under, reading);
      const content = words(element, under, reading, keepsSpace);
      return content.length > 0 || keepsSpace ? [paragraph(content)] : [];
    }
    case "pre":
      return [paragraph(words(element, under, reading, true))];
    case "hr":
      return [types.horizontalRule?.create() as Node];
    case "blockquote": {
      const content = blocksOf(element.childNodes, under, reading);
      return content.length > 0 ? [make("blockquote", null, content)] : [];
    }
    case "ul":
    case "ol":
      return list(element, under, reading);
    case "table":
      return table(element, under, reading);
    case "img":
      return picture(element, "", "", reading);
    case "figure":
      return figure(element, under, reading);
    default:
      return blocksOf(element.childNodes, under, reading, keepsSpace);
  }
}

function list(element: Element, under: readonly Mark[], reading: Reading): Node[] {
  const items: Node[] = [];
  for (const child of elements(element)) {
    if (reading.skipped.has(child)) continue;
    const content = child.tagName === "li" ? blocksOf(child.childNodes, under, reading) : block(child, under, reading);
    const last = items.at(-1);
    if (child.tagName !== "li" && last)
      items[items.length - 1] = last.copy(last.content.append(Fragment.from(content)));
    else items.push(item(content));
  }
  if (items.length === 0) return [];
  if (element.tagName === "ul") return [make("bulletList", null, items)];
  const start = Number.parseInt(attribute(element, "start") ?? "1", 10);
  return [make("orderedList", { start: start >= 0 && start <= START_MOST ? start : 1 }, items)];
}

const item = (content: readonly Node[]) =>
  make("listItem", null, content[0]?.type === types.paragraph ? content : [paragraph([]), ...content]);

function table(element: Element, under: readonly Mark[], reading: Reading): Node[] {
  const above: Node[] = [];
  const rows: Node[] = [];
  const gather = (parent: Element) => {
    for (const child of elements(parent)) {
      if (child.tagName === "caption") above.push(...blocksOf(child.childNodes, under, reading));
      else if (child.tagName === "tr") rows.push(make("tableRow", null, cells(child, under, reading)));
      else if (/^(thead|tbody|tfoot)$/.test(child.tagName)) gather(child);
    }
  };
  gather(element);
  return rows.length > 0 ? [...above, make("table", null, rows)] : above;
}

function cells(row: Element, under: readonly Mark[], reading: Reading): Node[] {
  const span = (cell: Element, name: string) => {
    const count = Number.parseInt(attribute(cell, name) ?? "1", 10);
    return count >= 1 && count <= 100 ? count : 1;
  };
  return elements(row)
    .filter((cell) => /^t[hd]$/.test(cell.tagName))
    .map((cell) => {
      const content = blocksOf(cell.childNodes, under, reading);
      const attributes = { colspan: span(cell, "colspan"), rowspan: span(cell, "rowspan") };
      const type = cell.tagName === "th" ? "tableHeader" : "tableCell";
      return make(type, attributes, content.length > 0 ? content : [paragraph([])]);
    });
}

function figure(element: Element, under: readonly Mark[], reading: Reading): Node[] {
  const image = find(element, (one) => one.tagName === "img");
  const legend = find(element, (one) => one.tagName === "figcaption");
  if (!image) return blocksOf(element.childNodes, under, reading);
  const small = legend && find(legend, (one) => one.tagName === "small");
  const read = (one: Element | undefined, without?: Element) => {
    if (!one) return "";
    const text = textOf(one, without);
    return legend && /white-space:\s*pre/i.test(style(legend)) ? text : text.replace(/\s+/g, " ").trim();
  };
  return picture(image, read(legend, small), read(small), reading);
}

function picture(image: Element, caption: string, credit: string, reading: Reading): Node[] {
  const file = reading.pictureOf(attribute(image, "src") ?? "");
  if (file) return [make("image", { file, alt: attribute(image, "alt") ?? "", caption, credit }, [])];
  lose(reading.lost, "picture");
  return [];
}

/** The inline content of one block. */
function words(element: Element, under: readonly Mark[], reading: Reading, keepsSpace: boolean): Node[] {
  const line = element.childNodes.flatMap((child) => inline(child, under, reading, keepsSpace));
  return keepsSpace ? line : tidy(line);
}

function inline(node: Tree.ChildNode, under: readonly Mark[], reading: Reading, keepsSpace: boolean): Node[] {
  if (tree.isTextNode(node)) return textNodes(node.value, under, keepsSpace);
  if (!isElement(node) || isDropped(node, reading)) return [];
  const note = reading.notes.get(node) ?? attribute(node, "data-note");
  if (note !== null && note !== undefined) return [types.note?.create({ text: note }) as Node];
  if (node.tagName === "br") return [types.hardBreak?.create() as Node];
  if (/^(s|strike|del)$/.test(node.tagName)) reading.lost.set("struck", 1);
  if (node.tagName === "code") reading.lost.set("code", 1);
  const inside = marksOf(node, under, reading);
  return node.childNodes.flatMap((child) => inline(child, inside, reading, keepsSpace));
}

function textNodes(text: string, under: readonly Mark[], keepsSpace: boolean): Node[] {
  const lines = keepsSpace ? text.replaceAll("\t", "    ").split(/\r\n?|\n/) : [text.replace(/[ \t\n\r\f]+/g, " ")];
  return lines.flatMap((line, i) => [
    ...(i > 0 ? [types.hardBreak?.create() as Node] : []),
    ...(line ? [manuscriptSchema.text(line, under)] : []),
  ]);
}

function marksOf(element: Element, under: readonly Mark[], reading: Reading): readonly Mark[] {
  const { tagName } = element;
  const looks = style(element);
  const weight = /(?:^|;)\s*font-weight:\s*(\w+)/i.exec(looks)?.[1]?.toLowerCase();
  const slant = /(?:^|;)\s*font-style:\s*(\w+)/i.exec(looks)?.[1]?.toLowerCase();
  const bold = weight ? weight === "bold" || Number(weight) >= 600 : /^(b|strong)$/.test(tagName);
  const italic = slant ? slant === "italic" || slant === "oblique" : /^(i|em|cite|dfn|var)$/.test(tagName);
  let inside = under;
  if (bold && marks.bold) inside = marks.bold.create().addToSet(inside);
  if (italic && marks.italic) inside = marks.italic.create().addToSet(inside);
  const href = tagName === "a" ? attribute(element, "href") : null;
  if (href && safeAddress(href)) inside = marks.link?.create({ href }).addToSet(inside) ?? inside;
  else if (href) lose(reading.lost, "link");
  return inside;
}

/** Removes the white space HTML does not show: at the ends of a line, and all but one in a row. */
function tidy(line: readonly Node[]): Node[] {
  const kept: Node[] = [];
  let afterSpace = true;
  for (const node of line) {
    if (!node.isText) {
      if (node.type === types.hardBreak) trimEnd(kept);
      kept.push(node);
      afterSpace = node.type === types.hardBreak;
      continue;
    }
    const text = afterSpace ? (node.text ?? "").replace(/^ /, "") : (node.text ?? "");
    if (text === "") continue;
    kept.push(manuscriptSchema.text(text, node.marks));
    afterSpace = text.endsWith(" ");
  }
  trimEnd(kept);
  return kept;
}

function trimEnd(line: Node[]): void {
  const last = line.at(-1);
  if (!last?.isText || !last.text?.endsWith(" ")) return;
  const text = last.text.slice(0, -1);
  line.pop();
  if (text) line.push(manuscriptSchema.text(text, last.marks));
}

/**
 * Lists of a word processor are paragraphs that say their level in their style. Consecutive ones
 * are gathered; everything else stays as it is.
 */
function listGroups(children: readonly Tree.ChildNode[]): (Tree.ChildNode | Element[])[] {
  const groups: (Tree.ChildNode | Element[])[] = [];
  for (const child of children) {
    const last = groups.at(-1);
    if (isElement(child) && levelOf(child) > 0) {
      if (Array.isArray(last)) last.push(child);
      else groups.push([child]);
    } else if (!(Array.isArray(last) && tree.isTextNode(child) && child.value.trim() === "")) groups.push(child);
  }
  return groups;
}

const levelOf = (element: Element) => Number(/mso-list:\s*l\d+\s+level(\d)/i.exec(style(element))?.[1] ?? 0);
const isMarker = (element: Element) => /mso-list:\s*ignore/i.test(style(element));

function wordLists(paragraphs: readonly Element[], reading: Reading): Node[] {
  const lists: Node[] = [];
  for (let i = 0; i < paragraphs.length; ) {
    const first = paragraphs[i] as Element;
    const level = levelOf(first);
    const ordered = isNumbered(first);
    const items: Node[] = [];
    while (i < paragraphs.length) {
      const one = paragraphs[i] as Element;
      if (levelOf(one) < level || (levelOf(one) === level && isNumbered(one) !== ordered)) break;
      if (levelOf(one) > level) {
        const deeper: Element[] = [];
        while (i < paragraphs.length && levelOf(paragraphs[i] as Element) > level)
          deeper.push(paragraphs[i++] as Element);
        const last = items.pop() ?? item([]);
        items.push(last.copy(last.content.append(Fragment.from(wordLists(deeper, reading)))));
      } else {
        items.push(item([paragraph(words(one, [], reading, false))]));
        i += 1;
      }
    }
    lists.push(ordered ? make("orderedList", { start: 1 }, items) : make("bulletList", null, items));
  }
  return lists;
}

function isNumbered(element: Element): boolean {
  const marker = find(element, isMarker);
  return marker !== undefined && /^\s*\(?(\d+|[a-z]|[ivxlc]+)[.)]/i.test(textOf(marker));
}

function isDropped(element: Element, { skipped, lost }: Reading): boolean {
  if (skipped.has(element) || isMarker(element) || /display:\s*none/i.test(style(element))) return true;
  if (!Object.hasOwn(DROPPED, element.tagName)) return false;
  const sort = DROPPED[element.tagName];
  if (sort) lose(lost, sort);
  return true;
}

const holds = (element: Element, tagName: string) => find(element, (one) => one.tagName === tagName) !== undefined;
const holdsBlock = (element: Element): boolean =>
  elements(element).some((one) => BLOCKS.has(one.tagName) || holdsBlock(one));
const lose = (lost: Lost, sort: Sort) => lost.set(sort, (lost.get(sort) ?? 0) + 1);
