import { Placeholder } from "@tiptap/extensions";
import { EditorContent, useEditor } from "@tiptap/react";
import { useEffect, useMemo, useRef, useState } from "react";
import { filesBelow } from "#core/text/html.ts";
import type { Manuscript } from "#core/text/manuscript.ts";
import { extensions } from "./extensions.ts";
import { Toolbar } from "./toolbar.tsx";
import { undoLog } from "./undo-log.ts";
import { cleanPasted, manuscriptOf, showManuscript } from "./words.ts";

/** Words are gathered for so long before the page hears of them: typing waits for nothing. */
const GATHER = 250;

interface Props {
  label: string;
  guidance: string;
  /** The piece's address, below which its files lie. */
  address: string;
  value: Manuscript;
  generation: number;
  /** Says at once that something is being typed; `onChange` brings it. */
  onTouch(): void;
  onChange(value: Manuscript): void;
}

/** The text editor: structure by buttons and by the usual keys. */
export default function ManuscriptEditor({ label, guidance, address, value, generation, onTouch, onChange }: Props) {
  const told = useRef({ onTouch, onChange });
  told.current = { onTouch, onChange };
  const gathering = useRef<ReturnType<typeof setTimeout> | null>(null);
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const undo = useMemo(() => undoLog(`elenco:undo:${address}:${label}`), [address, label]);
  const editor = useEditor({
    extensions: [...extensions(filesBelow(address)), Placeholder.configure({ placeholder: guidance })],
    content: value,
    injectCSS: false,
    immediatelyRender: false,
    editorProps: {
      attributes: {
        class: "manuscript min-h-60 pb-24",
        role: "textbox",
        "aria-multiline": "true",
        "aria-label": label,
        spellcheck: "true",
      },
      transformPastedHTML: (html) => cleanPasted(html, setLeftOut),
    },
    onCreate: ({ editor: made }) => undo.replay(made),
    onTransaction: ({ transaction }) => undo.note(transaction),
    onUpdate: ({ editor: changed }) => {
      if (gathering.current) return;
      told.current.onTouch();
      gathering.current = setTimeout(() => {
        gathering.current = null;
        if (changed.isDestroyed) return;
        told.current.onChange(manuscriptOf(changed.state.doc));
        undo.keep(changed);
      }, GATHER);
    },
    onBlur: ({ editor: left }) => bring(left.state.doc),
  });
  const bring = (doc: Parameters<typeof manuscriptOf>[0]) => {
    if (!gathering.current) return;
    clearTimeout(gathering.current);
    gathering.current = null;
    told.current.onChange(manuscriptOf(doc));
    if (editor && !editor.isDestroyed) undo.keep(editor);
  };
  const bringLast = useRef(bring);
  bringLast.current = bring;
  useEffect(() => {
    if (!editor) return;
    const leave = () => bringLast.current(editor.state.doc);
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [editor]);
  const shown = useRef(generation);
  useEffect(() => {
    if (!editor || shown.current === generation) return;
    shown.current = generation;
    showManuscript(editor, value);
  }, [editor, generation, value]);
  if (!editor) return null;
  return (
    <>
      <Toolbar editor={editor} />
      {leftOut.length > 0 && (
        <p role="status" className="mb-3 border-l-3 border-yellow bg-paper px-3 py-1 font-sans text-13">
          {leftOut.join(" ")}{" "}
          <button type="button" onClick={() => setLeftOut([])} className="font-semibold text-blue">
            Good
          </button>
        </p>
      )}
      <EditorContent editor={editor} />
    </>
  );
}
