import { cloneElement, createElement, Fragment, isValidElement, type ReactNode } from "react";
import type { Block } from "#core/text/block.ts";
import type { FieldComparison } from "#core/text/compare.ts";
import { type Change, side } from "#core/text/diff.ts";
import { noteRuns } from "#core/text/note.ts";
import { textOf } from "#core/text/plain.ts";
import type { Run } from "#core/text/runs.ts";
import type { NodeName } from "#core/text/schema.ts";
import { isPart, marker, type Way, walker } from "#core/text/walk.ts";
import { addressOf } from "./address.ts";

/** Which of two texts is shown: the old, the new, or both in one with what went struck through. */
export type Side = "before" | "after" | "both";

interface Showing {
  side: Side;
  /** What stands with a block that went: by its place in the old text, and where it would stand in the new. */
  bringBack?: ((from: number, at: number) => ReactNode) | undefined;
}

/** What became of one field, as marked words. */
export function Compared({ change, ...showing }: Showing & { change: FieldComparison["change"] }) {
  if (change.kind === "same") return null;
  if (change.kind === "words") return <p>{change.runs.map((run, i) => marked(run, showing, String(i)))}</p>;
  return <Changed changes={change.changes} {...showing} />;
}

/** What became of a manuscript's blocks: removed struck through, added underlined, moved with where to and from. */
export function Changed({ changes, ...showing }: Showing & { changes: readonly Change[] }) {
  const { bringBack, ...below } = showing;
  let [from, at] = [0, 0];
  return (
    <>
      {changes.map((change, i) => {
        const shown = one(change, below, String(i));
        const back = change.kind === "removed" && holdsSomething(change.node) ? bringBack?.(from, at) : null;
        if (change.kind !== "added" && change.kind !== "arrived") from += 1;
        if (change.kind !== "removed" && change.kind !== "left") at += 1;
        return back ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes, it is another when it does
          <div key={`back ${i}`}>
            {shown}
            {back}
          </div>
        ) : (
          shown
        );
      })}
    </>
  );
}

const holdsSomething = (block: Block) => block.type === "image" || textOf(block).trim() !== "";

function one(change: Change, showing: Showing, key: string): ReactNode {
  const { side: shown } = showing;
  switch (change.kind) {
    case "kept":
      return drawn(change.node, { key });
    case "removed":
      return shown === "after" ? null : <Marked key={key} as="del" node={change.node} />;
    case "added":
      return shown === "before" ? null : <Marked key={key} as="ins" node={change.node} />;
    case "left":
      if (isPart(change.node)) return shown === "after" ? null : drawn(change.node, { key, className: "moved-away" });
      return shown === "after" ? null : (
        <div key={key} className="moved-away">
          <Tag>moved from here</Tag>
          {drawn(change.node, { key })}
        </div>
      );
    case "arrived": {
      if (shown === "before") return null;
      const there = one(change.change, showing, key);
      // A row or an item can stand in nothing but its table or list.
      if (isValidElement<Place>(there) && ["tr", "li", "td", "th"].includes(String(there.type)))
        return cloneElement(there, { className: "moved-here" });
      return (
        <div key={key} className="moved-here">
          <Tag>moved here</Tag>
          {there}
        </div>
      );
    }
    default: {
      const shell = shown === "before" ? change.before : change.after;
      if (shell.type === "image") return drawn(side(change, shown === "before" ? "before" : "after"), { key });
      const inside =
        change.kind === "reworded"
          ? change.runs.map((run, i) => marked(run, showing, String(i)))
          : change.changes.map((inner, i) => one(inner, showing, String(i)));
      return drawn(shell, { key }, inside);
    }
  }
}

function Marked({ as: Element, node }: { as: "ins" | "del"; node: Block }) {
  const words = Element === "ins" ? "added" : "removed";
  if (isPart(node)) return drawn(node, { key: words, className: words });
  return (
    <Element className="block no-underline!">
      <div className={words}>{drawn(node, {})}</div>
    </Element>
  );
}

const Tag = ({ children }: { children: string }) => (
  <span className="mb-1 block font-sans text-12 font-semibold text-blue">{children}</span>
);

function marked(run: Run, showing: Showing, key: string): ReactNode {
  const inline = (blocks: readonly Block[]) => blocks.map((block, i) => drawn(block, { key: `${key}-${i}` }));
  if (run.kind === "kept") return <span key={key}>{inline(run.content)}</span>;
  if (run.kind === "restyled")
    return (
      <span key={key} className="restyled" title="only the look changed">
        {inline(showing.side === "before" ? run.before : run.after)}
      </span>
    );
  if (run.kind === "removed") return showing.side === "after" ? null : <del key={key}>{inline(run.content)}</del>;
  return showing.side === "before" ? null : <ins key={key}>{inline(run.content)}</ins>;
}

/** What tells an element from those beside it, and how it is dressed. */
interface Place {
  key?: string;
  className?: string;
}

const within =
  (tag: string, attributes: (node: Block) => object = () => ({})): Way<ReactNode, Place> =>
  (node, inside, place) =>
    createElement(tag, { ...place, ...attributes(node) }, ...inside({}));

const spans = ({ attrs }: Block) => ({ colSpan: Number(attrs?.colspan ?? 1), rowSpan: Number(attrs?.rowspan ?? 1) });

/** A block or an inline node as it is. */
const drawn = walker<NodeName, ReactNode, Place>({
  doc: within("div"),
  paragraph: within("p"),
  heading: (node, ...rest) => within(`h${node.attrs?.level}`)(node, ...rest),
  blockquote: within("blockquote"),
  bulletList: within("ul"),
  orderedList: within("ol", ({ attrs }) => ({ start: Number(attrs?.start ?? 1) })),
  listItem: within("li"),
  horizontalRule: within("hr"),
  table: (_, inside, place) => createElement("table", place, createElement("tbody", null, ...inside({}))),
  tableRow: within("tr"),
  tableCell: within("td", spans),
  tableHeader: within("th", spans),
  text: (node, _, { key }) => <Fragment key={key}>{inMarks(node, node.text)}</Fragment>,
  hardBreak: (_, __, { key }) => <br key={key} />,
  note: ({ attrs }, _, { key }) => (
    <sup key={key} title={String(attrs?.text)}>
      [
      {noteRuns(String(attrs?.text)).map(({ words, emphasised }, i) =>
        // biome-ignore lint/suspicious/noArrayIndexKey: runs have no other name than their place
        emphasised ? <em key={i}>{words}</em> : words,
      )}
      ]
    </sup>
  ),
  image: ({ attrs = {} }, _, { key, className }) => (
    <figure key={key} className={className}>
      <img src={addressOf(String(attrs.file), 480)} alt={String(attrs.alt)} />
      <figcaption>
        {String(attrs.caption)} <small>{String(attrs.credit)}</small>
      </figcaption>
    </figure>
  ),
});

const inMarks = marker<ReactNode>({
  link: (words, { attrs }) => <a href={String(attrs?.href)}>{words}</a>,
  bold: (words) => <strong>{words}</strong>,
  italic: (words) => <em>{words}</em>,
});
