import { type DefaultTreeAdapterTypes as Tree, defaultTreeAdapter as tree } from "parse5";
import { emphasised } from "./note.ts";

export type { Tree };
export type Element = Tree.Element;

/** Whether a node is an element. */
export const isElement = (node: Tree.ChildNode): node is Element => tree.isElementNode(node);
/** The elements directly below. */
export const elements = (parent: Tree.ParentNode) => parent.childNodes.filter(isElement);
/** An attribute's value; null where it is not there. */
export const attribute = (element: Element, name: string) =>
  element.attrs.find((one) => one.name === name)?.value ?? null;
/** What its style attribute says. */
export const style = (element: Element) => attribute(element, "style") ?? "";
/** The words below as one line. */
export const wordsOf = (element: Element) => textOf(element).replace(/\s+/g, " ").trim();

/** Elements stand within each other so deep at most; what is deeper keeps its words alone. */
const DEEPEST = 200;

/** A document whose depth is bounded, so that everything after may walk it by recursion; this does not. */
export function shallow(document: Tree.Document): Tree.Document {
  let level: Tree.ParentNode[] = [document];
  for (let depth = 0; depth < DEEPEST && level.length > 0; depth++) level = level.flatMap(elements);
  for (const parent of level) {
    const text = wordsBelow(parent);
    parent.childNodes = [];
    tree.insertText(parent, text);
  }
  return document;
}

function wordsBelow(parent: Tree.ParentNode): string {
  const words: string[] = [];
  const left: Tree.Node[] = [parent];
  for (let node = left.pop(); node; node = left.pop()) {
    if (tree.isTextNode(node)) words.push(node.value);
    else if ("childNodes" in node) for (const child of node.childNodes.toReversed()) left.push(child);
  }
  return words.join(" ");
}

/** The first element below, in the order of the document, that is wanted. */
export function find(parent: Tree.ParentNode, wanted: (element: Element) => boolean): Element | undefined {
  for (const child of elements(parent)) {
    const found = wanted(child) ? child : find(child, wanted);
    if (found) return found;
  }
  return undefined;
}

/** All the characters below, but for those of one element. */
export function textOf(element: Element, without?: Element): string {
  return element.childNodes
    .map((child) =>
      tree.isTextNode(child) ? child.value : isElement(child) && child !== without ? textOf(child, without) : "",
    )
    .join("");
}

/**
 * Notes: a short reference that links to a passage which links back. The passage is taken out of
 * the text, and its words go where the reference stands.
 */
export function notesOf(document: Tree.Document): { notes: Map<Element, string>; skipped: Set<Element> } {
  const named = new Map<string, Element>();
  const references: Element[] = [];
  find(document, (one) => {
    for (const name of [attribute(one, "id"), attribute(one, "name")]) if (name) named.set(name, one);
    if (one.tagName === "a" && attribute(one, "href")?.startsWith("#")) references.push(one);
    return false;
  });
  const notes = new Map<Element, string>();
  const skipped = new Set<Element>();
  for (const reference of references) {
    if (!/^\W?(\d+|[a-z*†‡])\W?$/i.test(textOf(reference).trim())) continue;
    // A passage links back in the same way: what lies in one refers to nothing.
    if ([...skipped].some((one) => contains(one, reference))) continue;
    const target = named.get(attribute(reference, "href")?.slice(1) ?? "");
    const passage = target && (enclosing(target, "li") ?? enclosing(target, "div") ?? enclosing(target, "p"));
    const back = passage && find(passage, (one) => attribute(one, "href")?.startsWith("#") === true);
    if (!passage || !back || contains(passage, reference)) continue;
    const text = noteOf(passage, back);
    const keepsSpace = /white-space:\s*pre/i.test(style(passage));
    notes.set(
      enclosing(reference, "sup") ?? reference,
      keepsSpace ? text.replace(/ $/, "") : text.replace(/\s+/g, " ").trim(),
    );
    skipped.add(passage);
  }
  return { notes, skipped };
}

/** The words of a note's passage, what is emphasised in them between asterisks. */
function noteOf(passage: Element, back: Element): string {
  return passage.childNodes
    .map((child) => {
      if (!isElement(child) || child === back) return tree.isTextNode(child) ? child.value : "";
      const words = noteOf(child, back);
      return ["em", "i"].includes(child.tagName) ? emphasised(words) : words;
    })
    .join("");
}

function enclosing(element: Element, tagName: string): Element | null {
  for (let one: Tree.ParentNode | null = element; one && "tagName" in one; one = one.parentNode) {
    if (one.tagName === tagName) return one;
  }
  return null;
}

const contains = (outer: Element, inner: Element): boolean =>
  inner.parentNode === outer ||
  (inner.parentNode !== null && "tagName" in inner.parentNode && contains(outer, inner.parentNode as Element));
