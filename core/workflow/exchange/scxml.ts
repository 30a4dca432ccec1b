import type { z } from "zod";
import { freeKey } from "../../words/keys.ts";
import { type Element, readXml, type Written, writeXml } from "../../words/xml.ts";
import type { workflowSchema } from "../document.ts";

const SCXML = "http://www.w3.org/2005/07/scxml";
const OURS = "urn:elenco:workflow:1";

/** A workflow document as it stands in a file: what may be left out may be absent. */
export type Document = z.input<typeof workflowSchema>;
type StateIn = Document["states"][number];
type TransitionIn = Document["transitions"][number];
type Loose = Record<string, unknown>;

/** A document read from SCXML, still to be judged as any other, and what was left out, a sentence each. */
export interface Imported {
  document: Loose;
  leftOut: string[];
}

/**
 * A workflow document as W3C SCXML 1.0: states, finals and transitions in its own words, all that
 * it has no word for as attributes and elements of our namespace. `fromScxml` gives back the same
 * document.
 *
 * @throws RangeError where a text holds a character that XML cannot
 */
export function toScxml(document: Document): string {
  const left = new Set(document.transitions.flatMap((step) => step.from));
  return writeXml({
    name: "scxml",
    attributes: {
      xmlns: SCXML,
      "xmlns:elenco": OURS,
      version: "1.0",
      name: document.key,
      initial: idOf(document.initial),
      ...ours({
        ...document,
        key: undefined,
        initial: undefined,
        states: undefined,
        transitions: undefined,
        effective: undefined,
      }),
    },
    children: [
      ...(document.effective
        ? [{ name: "elenco:effective", attributes: { ...document.effective }, children: [] }]
        : []),
      ...document.states.map((state): Written => {
        const { key, arrival, review, ...rest } = state;
        const steps = document.transitions.flatMap((step, place) =>
          step.from.includes(key) ? [writtenTransition(step, place)] : [],
        );
        return {
          name: left.has(key) ? "state" : "final",
          attributes: { id: idOf(key), ...ours(rest) },
          children: [
            ...(arrival ? [writtenArrival(arrival)] : []),
            ...(review ? [writtenReview(review)] : []),
            ...steps,
          ],
        };
      }),
    ],
  });
}

function writtenTransition({ key, from, to, ...rest }: TransitionIn, place: number): Written {
  const several = from.length > 1 ? { from } : {};
  return {
    name: "transition",
    attributes: { event: key, target: idOf(to), ...ours({ ...rest, ...several, place }) },
    children: [],
  };
}

function writtenArrival({ checklist, ...rest }: NonNullable<StateIn["arrival"]>): Written {
  const points = checklist?.map((words) => ({ name: "elenco:point", attributes: {}, children: [words] }));
  return {
    name: "elenco:arrival",
    attributes: plain(rest),
    children: points ? [{ name: "elenco:checklist", attributes: {}, children: points }] : [],
  };
}

function writtenReview({ seats, overdue, ...rest }: NonNullable<StateIn["review"]>): Written {
  return {
    name: "elenco:review",
    attributes: plain(rest),
    children: [
      ...seats.map((seat) => ({ name: "elenco:seat", attributes: plain(seat), children: [] })),
      ...(overdue ? [{ name: "elenco:overdue", attributes: plain(overdue), children: [] }] : []),
    ],
  };
}

/** Values as attributes: lists of words separated by spaces, all else as it reads. */
function plain(values: object): Record<string, string | undefined> {
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => [
      key,
      value === undefined ? undefined : Array.isArray(value) ? value.join(" ") : String(value),
    ]),
  );
}

const ours = (values: object) =>
  Object.fromEntries(Object.entries(plain(values)).map(([key, value]) => [`elenco:${key}`, value]));

/** An XML id may not begin with a digit; a key may. */
const idOf = (key: string) => (/^\d/.test(key) ? `_${key}` : key);
const keyOf = (id: string) => id.replace(/^_(?=\d)/, "");

/**
 * Reads SCXML. Where it is ours, the document comes back as it was; a plain file is brought in as
 * far as it goes: its innermost states, with the transitions of those around them; what could not
 * be used is said.
 *
 * @returns the document, to be read by `readWorkflow`, or a sentence that says why there is none
 */
export function fromScxml(source: string): Imported | { problem: string } {
  const read = readXml(source);
  if ("problem" in read) return read;
  const { root } = read;
  if (root.namespace !== SCXML || root.name !== "scxml")
    return { problem: `line ${root.line}: expected the element scxml of ${SCXML}` };
  return root.foreign[OURS]?.format === undefined ? plainScxml(root) : { document: ourScxml(root), leftOut: [] };
}

const LISTS = ["mainLine", "editors", "viewers", "assign", "notify", "remind", "by", "requires", "from"];
const YES_OR_NO = ["authorMayDecide", "signed"];
const NUMBERS = ["count", "number", "place"];

/** Attributes as values again. */
function valuesOf(attributes: Readonly<Record<string, string>> | undefined): Loose {
  return Object.fromEntries(
    Object.entries(attributes ?? {}).map(([key, text]) => {
      if (LISTS.includes(key)) return [key, text === "" ? [] : text.split(" ")];
      if (NUMBERS.includes(key)) return [key, Number(text)];
      return [key, YES_OR_NO.includes(key) ? text === "true" : text];
    }),
  );
}

const own = (element: Element, name: string) =>
  element.children.filter((child) => child.namespace === OURS && child.name === name);

function ourScxml(root: Element): Loose {
  const elements = root.children.filter((child) => child.namespace === SCXML);
  const [effective] = own(root, "effective");
  const { format, ...rest } = valuesOf(root.foreign[OURS]);
  return {
    format,
    key: root.attributes.name,
    ...rest,
    ...(effective && { effective: effective.attributes }),
    initial: keyOf(root.attributes.initial ?? ""),
    states: elements.map(ourState),
    transitions: ourTransitions(elements),
  };
}

function ourState(element: Element): Loose {
  const [arrival] = own(element, "arrival");
  const [review] = own(element, "review");
  return {
    key: keyOf(element.attributes.id ?? ""),
    ...valuesOf(element.foreign[OURS]),
    ...(arrival && { arrival: ourArrival(arrival) }),
    ...(review && {
      review: {
        ...valuesOf(review.attributes),
        seats: own(review, "seat").map((seat) => valuesOf(seat.attributes)),
        ...Object.fromEntries(own(review, "overdue").map((one) => ["overdue", valuesOf(one.attributes)])),
      },
    }),
  };
}

function ourArrival(element: Element): Loose {
  const [checklist] = own(element, "checklist");
  return {
    ...valuesOf(element.attributes),
    ...(checklist && { checklist: own(checklist, "point").map((point) => point.text) }),
  };
}

/** A transition stands once in each state it leaves: the first names it, the others are the same. */
function ourTransitions(states: readonly Element[]): Loose[] {
  const found = new Map<unknown, Loose>();
  for (const state of states) {
    for (const { attributes, foreign, name } of state.children) {
      if (name !== "transition") continue;
      const { place, ...rest } = valuesOf(foreign[OURS]);
      const from = [keyOf(state.attributes.id ?? "")];
      if (!found.has(place))
        found.set(place, { key: attributes.event, from, to: keyOf(attributes.target ?? ""), ...rest });
    }
  }
  return [...found.entries()].sort(([a], [b]) => Number(a) - Number(b)).map(([, transition]) => transition);
}

const INNER = ["state", "parallel", "final"];

function plainScxml(root: Element): Imported {
  const leftOut: string[] = [];
  const keys = new Map<string, string>();
  const states: { key: string; name: string; kind: string }[] = [];
  const within = (element: Element) => element.children.filter((child) => INNER.includes(child.name));
  const leaves = (element: Element): Element[] => {
    const inner = within(element);
    return inner.length > 0 ? inner.flatMap(leaves) : [element];
  };
  const every = [...root.children.filter((child) => INNER.includes(child.name))];
  for (const leaf of every.flatMap(leaves)) {
    const id = leaf.attributes.id ?? `state ${states.length + 1}`;
    const key = freeKey(id, states);
    keys.set(id, key);
    states.push({ key, name: wordsOf(id), kind: leaf.name === "final" ? "closed" : "writing" });
  }
  const keyAt = (id: string): string | undefined => {
    const group = keys.has(id) ? undefined : findById(every, id);
    const [first] = group ? leaves(group) : [];
    return keys.get(id) ?? keys.get(first?.attributes.id ?? "");
  };
  const transitions: TransitionIn[] = [];
  const walk = (element: Element) => {
    for (const child of element.children) {
      if (INNER.includes(child.name)) walk(child);
      else if (child.name === "transition") transitions.push(...plainTransition(child, element, transitions));
      else if (child.name !== "initial") leftOut.push(`line ${child.line}: <${child.name}> is left out`);
    }
    if (element.name === "parallel")
      leftOut.push(`line ${element.line}: states that hold at the same time become states one after another`);
  };
  const plainTransition = (step: Element, at: Element, taken: TransitionIn[]): TransitionIn[] => {
    const { event, target = "", cond } = step.attributes;
    const [first = "", ...others] = target.split(/\s+/).filter(Boolean);
    const to = keyAt(first);
    const from = leaves(at).flatMap((leaf) => keyAt(leaf.attributes.id ?? "") ?? []);
    const say = (what: string) => void leftOut.push(`line ${step.line}: ${what}`);
    if (!to || from.length === 0) {
      say(
        first
          ? `a transition to "${first}", which is not there, is left out`
          : "a transition without a target is left out",
      );
      return [];
    }
    if (cond !== undefined) say(`the condition "${cond}" is left out`);
    if (others.length > 0) say(`only the first of the targets "${target}" is used`);
    if (step.children.length > 0) say("what the transition carries out is left out");
    const name = event ? wordsOf(event) : `To ${states.find((state) => state.key === to)?.name}`;
    return [{ key: freeKey(name, taken), name, from, to }];
  };
  every.forEach(walk);
  for (const child of root.children)
    if (!INNER.includes(child.name)) leftOut.push(`line ${child.line}: <${child.name}> is left out`);
  const initial = keyAt(root.attributes.initial ?? "") ?? states[0]?.key ?? "";
  const name = wordsOf(root.attributes.name ?? "Brought in");
  const document = {
    format: "elenco.workflow/1",
    key: freeKey(name, []),
    name,
    initial,
    mainLine: [initial],
    states,
    transitions: transitions.map((step) => ({ ...step, by: ["author"] })),
  };
  return { document, leftOut };
}

function findById(elements: readonly Element[], id: string): Element | undefined {
  for (const element of elements) {
    const found = element.attributes.id === id ? element : findById(element.children, id);
    if (found) return found;
  }
  return undefined;
}

/** An identifier as words: `route_check.done` is `Route check done`. */
function wordsOf(id: string): string {
  const words = id
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .replace(/[_.\-\s]+/g, " ")
    .trim()
    .toLowerCase();
  return (words.charAt(0).toUpperCase() + words.slice(1)).slice(0, 80) || "Unnamed";
}
