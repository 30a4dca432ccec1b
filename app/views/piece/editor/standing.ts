import { type Editor, Extension } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { type EditorState, Plugin, PluginKey } from "@tiptap/pm/state";
import { Decoration, DecorationSet, type EditorView } from "@tiptap/pm/view";
import { useEffect } from "react";
import { addressOf } from "#app/views/text/address.ts";
import type { Range } from "#core/text/anchor.ts";
import type { Span } from "#core/text/annotate.ts";
import { carry } from "#core/text/carry.ts";
import type { Value } from "#core/text/fields.ts";
import { wordsToHtml } from "#core/text/html.ts";
import { countPoints } from "#core/text/points.ts";
import { spansOf, type Thread } from "../remarks/remarks.ts";
import { manuscriptOf } from "./words.ts";

const key = new PluginKey<DecorationSet>("standing");

/** Marks in the text one writes in what remarks stand on and what is proposed; they move along with what is typed. */
export const Standing = Extension.create({
  name: "standing",
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key,
      state: {
        init: () => DecorationSet.empty,
        apply: (transaction, marks) =>
          (transaction.getMeta(key) as DecorationSet | undefined) ?? marks.map(transaction.mapping, transaction.doc),
      },
      props: { decorations: (state) => key.getState(state) },
    }),
  ],
});

/** What is said of a field's words. */
export interface Said {
  field: string;
  /** The field's value as the server has it: threads stand in it. */
  value: Value | undefined;
  threads: readonly Thread[];
  /** The thread one is at. */
  chosen: string | null;
  /** Where the field says what is selected in it. */
  selected: Map<string, () => Range | null>;
}

/** Marks what is said of a text in the text one writes in, where its words stand by now; and says what is selected. */
export function useStanding(
  editor: Editor | null,
  { field, value, threads, chosen, selected }: Said,
  generation: number,
) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: a text that was changed from outside is marked anew
  useEffect(() => {
    if (!editor) return;
    const here = threads.flatMap((thread) =>
      thread.field === field && thread.anchor && !thread.settledAt ? [{ ...thread, anchor: thread.anchor }] : [],
    );
    const anchors = carry(
      here.map((thread) => thread.anchor),
      value,
      manuscriptOf(editor.state.doc),
    );
    const standing = here.map((thread, i) => ({ ...thread, anchor: anchors[i] ?? thread.anchor }));
    showSpans(editor.view, spansOf(standing, field), chosen);
  }, [editor, field, value, threads, chosen, generation]);
  useEffect(() => {
    if (!editor) return;
    selected.set(field, () => selectedIn(editor.state));
    return () => void selected.delete(field);
  }, [editor, field, selected]);
}

/** Shows spans in the text, and no others; where they are shown already nothing is touched, least of all the caret. */
function showSpans(view: EditorView, spans: readonly Span[], chosen: string | null): void {
  const { doc, tr } = view.state;
  const starts = placesOf(doc);
  const marks = spans.flatMap((span) => {
    const [from, to] = [posAt(starts, span.start), posAt(starts, span.end)];
    return from === null || to === null || from >= to ? [] : marksOf(span, from, to, span.id === chosen);
  });
  const shown = key.getState(view.state)?.find() ?? [];
  if (marks.map(saying).toSorted().join() === shown.map(saying).toSorted().join()) return;
  view.dispatch(tr.setMeta(key, DecorationSet.create(doc, marks)).setMeta("addToHistory", false));
}

/** What a mark says and where it stands. */
const saying = ({ from, to, spec }: Decoration) => `${from} ${to} ${spec.key}`;

function marksOf({ id, wording }: Span, from: number, to: number, here: boolean): Decoration[] {
  const words = wording && wordsToHtml(wording, addressOf);
  const named = { key: `${id} ${here} ${words}` };
  const attributes = { nodeName: words === null ? "mark" : "del", "data-thread": id, ...(here && { "data-here": "" }) };
  const marked = Decoration.inline(from, to, attributes, named);
  if (words === null) return [marked];
  const coming = () => {
    const element = document.createElement("ins");
    element.dataset.thread = id;
    element.innerHTML = words;
    return element;
  };
  return [marked, Decoration.widget(to, coming, { ...named, side: 1, ignoreSelection: true })];
}

/** The run that is selected; null where none is. */
function selectedIn({ doc, selection }: EditorState): Range | null {
  const starts = placesOf(doc);
  const [start, end] = [pointOf(starts, selection.from), pointOf(starts, selection.to)];
  return start !== null && end !== null && start < end ? { start, end } : null;
}

/** A block of words: where it begins, in the document and in code points of the text. */
interface Place {
  pos: number;
  point: number;
  text: string;
}

function placesOf(doc: Node): Place[] {
  const places: Place[] = [];
  let point = 0;
  doc.descendants((node, pos) => {
    if (!node.isTextblock) return true;
    const text = node.textBetween(0, node.content.size, "", () => " ");
    places.push({ pos: pos + 1, point, text });
    point += countPoints(text) + 1;
    return false;
  });
  return places;
}

function posAt(places: readonly Place[], point: number): number | null {
  const place = places.findLast((one) => one.point <= point);
  if (!place) return null;
  const into = Array.from(place.text)
    .slice(0, point - place.point)
    .join("").length;
  return place.pos + Math.min(into, place.text.length);
}

function pointOf(places: readonly Place[], pos: number): number | null {
  const place = places.findLast((one) => one.pos <= pos);
  return place
    ? place.point + countPoints(place.text.slice(0, Math.max(0, pos - place.pos)))
    : (places[0]?.point ?? null);
}
