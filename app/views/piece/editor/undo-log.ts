import type { Editor } from "@tiptap/core";
import { closeHistory } from "@tiptap/pm/history";
import type { Transaction } from "@tiptap/pm/state";
import { Step } from "@tiptap/pm/transform";
import { z } from "zod";
import { keep } from "#app/views/frame/kept-here.ts";
import { manuscriptOf } from "./words.ts";

/** So many changes can be undone after a reload. */
const MOST = 300;
/** Changes further apart, in milliseconds, are undone one by one. */
const GROUP = 500;

const steps = z.array(z.record(z.string(), z.unknown()));
const keptSchema = z.object({
  /** The text the changes led to: they fit no other. */
  text: z.string(),
  changes: z.array(z.object({ steps, undo: steps, byHand: z.boolean(), at: z.number() })),
});
type Change = z.infer<typeof keptSchema>["changes"][number];

/**
 * What was done in a text, so that it can be undone after a reload too. It lives in the window's
 * session: a comfort, where the versions are the truth.
 */
export function undoLog(key: string) {
  let changes: Change[] = [];
  return {
    note(transaction: Transaction): void {
      if (!transaction.docChanged || transaction.getMeta(REPLAYED)) return;
      changes.push({
        steps: transaction.steps.map((step) => step.toJSON()),
        undo: transaction.steps.map((step, i) => step.invert(transaction.docs[i] as Transaction["doc"]).toJSON()),
        byHand: transaction.getMeta("addToHistory") !== false,
        at: transaction.time,
      });
      changes = changes.slice(-MOST);
    },
    keep(editor: Editor): void {
      const text = JSON.stringify(manuscriptOf(editor.state.doc));
      // Where the session has no more room, undoing ends at the reload.
      if (!keep(sessionStorage, key, JSON.stringify({ text, changes }))) sessionStorage.removeItem(key);
    },
    /** Takes the text back to before the changes and does them again, so that the editor knows how to undo them. */
    replay(editor: Editor): void {
      const kept = keptSchema.safeParse(JSON.parse(sessionStorage.getItem(key) ?? "null"));
      if (!kept.success || kept.data.text !== JSON.stringify(manuscriptOf(editor.state.doc))) return;
      const { view, schema } = editor;
      const back = view.state.tr;
      try {
        for (const { undo } of kept.data.changes.toReversed())
          for (const step of undo.toReversed()) back.step(Step.fromJSON(schema, step));
      } catch {
        return;
      }
      const silent = (tr: Transaction) => tr.setMeta("preventUpdate", true).setMeta(REPLAYED, true);
      view.dispatch(silent(back.setMeta("addToHistory", false)));
      let last = 0;
      for (const { steps: forward, byHand, at } of kept.data.changes) {
        const { tr } = view.state;
        for (const step of forward) tr.step(Step.fromJSON(schema, step));
        if (at - last > GROUP) closeHistory(tr);
        view.dispatch(silent(tr.setTime(at).setMeta("addToHistory", byHand)));
        last = at;
      }
      changes = kept.data.changes;
    },
  };
}

const REPLAYED = "elenco replayed";
