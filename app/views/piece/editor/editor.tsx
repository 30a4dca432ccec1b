import { Placeholder } from "@tiptap/extensions";
import { TextSelection } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { type Editor, EditorContent, useEditor } from "@tiptap/react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { useOwner } from "#app/views/frame/kept-here.ts";
import type { Manuscript, Picture } from "#core/text/manuscript.ts";
import type { Home } from "../asking.tsx";
import { PictureDialog } from "../picture-dialog.tsx";
import { EXTENSIONS } from "./extensions.ts";
import { type Said, useStanding } from "./standing.ts";
import { Toolbar } from "./toolbar.tsx";
import { undoLog } from "./undo-log.ts";
import { cleanPasted, manuscriptOf, showManuscript } from "./words.ts";

/** Words are gathered for so long before the page hears of them: typing waits for nothing. */
const GATHER = 250;

interface Props {
  label: string;
  guidance: string;
  /** The piece whose text it is. */
  home: Home;
  value: Manuscript;
  generation: number;
  /** What is said of the field's words, as the server has them. */
  said: Said;
  /** Says at once that something is being typed; `onChange` brings it, at once where `bring` is called. */
  onTouch(bring: () => void): void;
  onChange(value: Manuscript): void;
}

/** What the dialog for a picture is asked for: pictures that were dropped, one after another, or the one that is selected. */
interface Asked {
  dropped: File[];
  /** Where they were dropped; null for where one writes. */
  at: number | null;
  shown: Picture | null;
}

/** The text editor: structure by buttons and by the usual keys. */
export default function ManuscriptEditor({ label, guidance, home, value, generation, said, onTouch, onChange }: Props) {
  const told = useRef({ onTouch, onChange });
  told.current = { onTouch, onChange };
  const gathering = useRef<ReturnType<typeof setTimeout> | null>(null);
  const [leftOut, setLeftOut] = useState<string[]>([]);
  const [picture, setPicture] = useState<Asked | null>(null);
  const bringPictures = (files: FileList | undefined, at: number | null): boolean => {
    if (!files || files.length === 0) return false;
    const pictures = [...files].filter((file) => file.type.startsWith("image/"));
    if (pictures.length < files.length)
      setLeftOut(["Only pictures stand in the text. Other files are added beside it, under Files."]);
    if (pictures.length > 0) setPicture({ dropped: pictures, at, shown: null });
    return true;
  };
  const owner = useOwner();
  const undo = useMemo(() => undoLog(`elenco:undo:${owner}:${home.id}:${label}`), [owner, home.id, label]);
  const editor = useEditor({
    extensions: [...EXTENSIONS, Placeholder.configure({ placeholder: guidance })],
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
      handleKeyDown: (view, event) =>
        event.key === "End" && !event.ctrlKey && !event.metaKey && toEnd(view, event.shiftKey),
      transformPastedHTML: (html) => cleanPasted(html, setLeftOut),
      handleDrop: (view, event, _slice, moved) => {
        const at = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos ?? null;
        return !moved && bringPictures(event.dataTransfer?.files, at);
      },
      // A word processor puts a picture of the words beside them; the words are meant.
      handlePaste: (_view, event) =>
        event.clipboardData?.types.includes("text/html") ? false : bringPictures(event.clipboardData?.files, null),
    },
    onCreate: ({ editor: made }) => undo.replay(made),
    onTransaction: ({ transaction }) => undo.note(transaction),
    onUpdate: ({ editor: changed }) => {
      if (gathering.current) return;
      told.current.onTouch(bringNow);
      gathering.current = setTimeout(() => {
        gathering.current = null;
        if (changed.isDestroyed) return;
        told.current.onChange(manuscriptOf(changed.state.doc));
        undo.keep(changed);
      }, GATHER);
    },
    onBlur: () => bringNow(),
  });
  const bring = useRef(() => {});
  bring.current = () => {
    if (!gathering.current || !editor) return;
    clearTimeout(gathering.current);
    gathering.current = null;
    told.current.onChange(manuscriptOf(editor.state.doc));
    if (!editor.isDestroyed) undo.keep(editor);
  };
  const bringNow = useCallback(() => bring.current(), []);
  useEffect(() => (editor ? bringNow : undefined), [editor, bringNow]);
  const shown = useRef(generation);
  useEffect(() => {
    if (!editor || shown.current === generation) return;
    shown.current = generation;
    showManuscript(editor, value);
  }, [editor, generation, value]);
  useStanding(editor, said, generation);
  if (!editor) return null;
  return (
    <>
      <Toolbar editor={editor} onPicture={(shown) => setPicture({ dropped: [], at: null, shown })} />
      {picture && (
        <Asking key={picture.dropped.length} editor={editor} home={home} asked={picture} onNext={setPicture} />
      )}
      {leftOut.length > 0 && (
        <p role="status" className="mb-3 border-l-3 border-yellow bg-paper px-3 py-1 font-sans text-13">
          {leftOut.join(" ")}{" "}
          <Button look="word" type="button" onClick={() => setLeftOut([])}>
            Good
          </Button>
        </p>
      )}
      <EditorContent editor={editor} />
    </>
  );
}

/** Takes the caret to the end of its line where that is a note, behind which browsers do not get by themselves. */
function toEnd(view: EditorView, extends_: boolean): boolean {
  const { $head, $anchor } = view.state.selection;
  if ($head.parent.lastChild?.type.name !== "note") return false;
  const end = $head.end();
  if (view.coordsAtPos($head.pos).bottom < view.coordsAtPos(end).top) return false;
  const there = view.state.doc.resolve(end);
  const wanted = new TextSelection(extends_ ? $anchor : there, there);
  // Who is quick has moved the caret already, which the editor has not heard yet and so would leave where it is.
  if (wanted.eq(view.state.selection)) {
    const { node, offset } = view.domAtPos(end);
    const caret = view.dom.ownerDocument.getSelection();
    if (extends_) caret?.extend(node, offset);
    else caret?.collapse(node, offset);
  }
  view.dispatch(view.state.tr.setSelection(wanted).scrollIntoView());
  return true;
}

/**
 * Puts a picture below the block somebody points at, with room to write on below it.
 *
 * @returns the place below the picture
 */
function insertPicture(editor: Editor, at: number, picture: Picture): number {
  const { doc } = editor.state;
  const place = doc.resolve(Math.min(at, doc.content.size));
  const below = place.depth > 0 ? place.after(1) : place.pos;
  const room = below === doc.content.size ? [{ type: "paragraph" }] : [];
  editor
    .chain()
    .insertContentAt(below, [{ type: "image", attrs: picture }, ...room])
    // One writes on below it: were it selected, the next key would take its place.
    .command(({ tr }) => Boolean(tr.setSelection(TextSelection.near(tr.doc.resolve(below + 1)))))
    .run();
  return below + 1;
}

/** Asks for a picture's words, puts it where it belongs, and goes on to the next. */
function Asking({
  editor,
  home,
  asked,
  onNext,
}: {
  editor: Editor;
  home: Home;
  asked: Asked;
  onNext(next: Asked | null): void;
}) {
  const [file, ...more] = asked.dropped;
  const goOn = (at: number | null) => {
    onNext(more.length > 0 ? { ...asked, dropped: more, at } : null);
    // Once the dialog is gone, which holds the keyboard until then.
    if (more.length === 0) requestAnimationFrame(() => editor.isDestroyed || editor.commands.focus());
  };
  const put = (picture: Picture) => {
    if (!asked.shown) return goOn(insertPicture(editor, asked.at ?? editor.state.selection.to, picture));
    editor.commands.updateAttributes("image", picture);
    goOn(null);
  };
  return (
    <PictureDialog home={home} dropped={file ?? null} shown={asked.shown} onDone={put} onLeave={() => goOn(asked.at)} />
  );
}
