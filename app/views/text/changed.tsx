import type { ReactNode } from "react";
import { type Block, textOf } from "#core/text/block.ts";
import type { FieldComparison } from "#core/text/compare.ts";
import { type Change, side } from "#core/text/diff.ts";
import type { Run } from "#core/text/runs.ts";
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
      return plain(change.node, showing, key);
    case "removed":
      return shown === "after" ? null : <Marked key={key} as="del" node={change.node} showing={showing} />;
    case "added":
      return shown === "before" ? null : <Marked key={key} as="ins" node={change.node} showing={showing} />;
    case "left":
      return shown === "after" ? null : (
        <div key={key} className="moved-away">
          <Tag>moved from here</Tag>
          {plain(change.node, showing, key)}
        </div>
      );
    case "arrived":
      return shown === "before" ? null : (
        <div key={key} className="moved-here">
          <Tag>moved here</Tag>
          {one(change.change, showing, key)}
        </div>
      );
    default: {
      const shell = shown === "before" ? change.before : change.after;
      if (shell.type === "image") return plain(side(change, shown === "before" ? "before" : "after"), showing, key);
      const inside =
        change.kind === "reworded"
          ? change.runs.map((run, i) => marked(run, showing, String(i)))
          : change.changes.map((inner, i) => one(inner, showing, String(i)));
      return element(shell, inside, key);
    }
  }
}

function Marked({ as: Element, node, showing }: { as: "ins" | "del"; node: Block; showing: Showing }) {
  const words = Element === "ins" ? "added" : "removed";
  if (node.type === "tableRow" || node.type === "tableCell" || node.type === "tableHeader" || node.type === "listItem")
    return element(node, content(node, showing), words, words);
  return (
    <Element className="block no-underline!">
      <div className={words}>{plain(node, showing, "block")}</div>
    </Element>
  );
}

const Tag = ({ children }: { children: string }) => (
  <span className="mb-1 block font-sans text-12 font-semibold text-blue">{children}</span>
);

function marked(run: Run, showing: Showing, key: string): ReactNode {
  const inline = (blocks: readonly Block[]) => blocks.map((block, i) => plain(block, showing, `${key}-${i}`));
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

const content = (node: Block, showing: Showing) =>
  (node.content ?? []).map((child, i) => plain(child, showing, String(i)));

/** A block or inline node as it is. */
function plain(node: Block, showing: Showing, key: string): ReactNode {
  if (node.type === "text") return inMarks(node, key);
  return element(node, content(node, showing), key);
}

function inMarks({ text, marks = [] }: Block, key: string): ReactNode {
  let words: ReactNode = text;
  for (const mark of marks.toReversed()) {
    if (mark.type === "bold") words = <strong>{words}</strong>;
    else if (mark.type === "italic") words = <em>{words}</em>;
    else words = <a href={String(mark.attrs?.href)}>{words}</a>;
  }
  return <span key={key}>{words}</span>;
}

function element(node: Block, inside: ReactNode, key: string, className?: string): ReactNode {
  const { attrs = {} } = node;
  const same = { key, className };
  const spans = { colSpan: Number(attrs.colspan ?? 1), rowSpan: Number(attrs.rowspan ?? 1) };
  switch (node.type) {
    case "heading": {
      const Heading = `h${attrs.level}` as "h2";
      return <Heading {...same}>{inside}</Heading>;
    }
    case "blockquote":
      return <blockquote {...same}>{inside}</blockquote>;
    case "bulletList":
      return <ul {...same}>{inside}</ul>;
    case "orderedList":
      return (
        <ol {...same} start={Number(attrs.start ?? 1)}>
          {inside}
        </ol>
      );
    case "listItem":
      return <li {...same}>{inside}</li>;
    case "table":
      return (
        <table {...same}>
          <tbody>{inside}</tbody>
        </table>
      );
    case "tableRow":
      return <tr {...same}>{inside}</tr>;
    case "tableCell":
      return (
        <td {...same} {...spans}>
          {inside}
        </td>
      );
    case "tableHeader":
      return (
        <th {...same} {...spans}>
          {inside}
        </th>
      );
    case "horizontalRule":
      return <hr {...same} />;
    case "hardBreak":
      return <br key={key} />;
    case "note":
      return (
        <sup key={key} title={String(attrs.text)}>
          [{String(attrs.text)}]
        </sup>
      );
    case "image":
      return (
        <figure {...same}>
          <img src={addressOf(String(attrs.file), 480)} alt={String(attrs.alt)} />
          <figcaption>
            {String(attrs.caption)} <small>{String(attrs.credit)}</small>
          </figcaption>
        </figure>
      );
    default:
      return <p {...same}>{inside}</p>;
  }
}
