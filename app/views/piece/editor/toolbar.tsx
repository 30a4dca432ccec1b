import type { Editor } from "@tiptap/core";
import { useEditorState } from "@tiptap/react";
import { type FormEvent, useEffect, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Input } from "#app/ui/field.tsx";
import { type Picture, safeAddress, webAddress } from "#core/text/manuscript.ts";
import { emphasised } from "#core/text/note.ts";
import { FindBar } from "./find-bar.tsx";
import { Signs } from "./signs.tsx";

/** What is asked by Ctrl, Alt and a letter. */
const ASKED_BY: Record<string, "link" | "note"> = { KeyL: "link", KeyN: "note" };

/** What can be done with the words, by buttons; the usual keys do it too. */
export function Toolbar({
  editor,
  onPicture,
}: {
  editor: Editor;
  /** Asks for a picture, or for the words of the one that is selected. */
  onPicture(selected: Picture | null): void;
}) {
  const [asking, setAsking] = useState<"link" | "note" | "find" | "signs" | null>(null);
  const at = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now.isActive("bold"),
      italic: now.isActive("italic"),
      heading: now.isActive("heading", { level: 2 }),
      smaller: now.isActive("heading", { level: 3 }),
      list: now.isActive("bulletList"),
      numbers: now.isActive("orderedList"),
      quote: now.isActive("blockquote"),
      link: now.isActive("link"),
      table: now.isActive("table"),
      picture: now.isActive("image"),
      address: (now.getAttributes("link").href as string | undefined) ?? "",
      note: now.isActive("note") ? String(now.getAttributes("note").text) : null,
    }),
  });
  const run = () => editor.chain().focus();
  const tools: [string, boolean, () => void][] = [
    ["Heading", at.heading, () => run().toggleHeading({ level: 2 }).run()],
    ["Smaller", at.smaller, () => run().toggleHeading({ level: 3 }).run()],
    ["Bold", at.bold, () => run().toggleBold().run()],
    ["Italic", at.italic, () => run().toggleItalic().run()],
    ["List", at.list, () => run().toggleBulletList().run()],
    ["Numbers", at.numbers, () => run().toggleOrderedList().run()],
    ["Quote", at.quote, () => run().toggleBlockquote().run()],
    ["Link", at.link, () => setAsking("link")],
    ["Note", at.note !== null, () => setAsking("note")],
    ["Table", at.table, () => run().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run()],
    ["Picture", at.picture, () => onPicture(at.picture ? (editor.getAttributes("image") as Picture) : null)],
    ["Signs", asking === "signs", () => setAsking(asking === "signs" ? null : "signs")],
    ["Find", asking === "find", () => setAsking("find")],
  ];
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const held = event.ctrlKey || event.metaKey;
      const asked =
        held && !event.altKey && event.code === "KeyF"
          ? "find"
          : held && event.altKey
            ? ASKED_BY[event.code]
            : event.key === "Enter" && editor.isActive("note")
              ? "note"
              : undefined;
      if (!asked) return;
      event.preventDefault();
      event.stopPropagation();
      setAsking(asked);
    };
    const onClick = ({ target }: MouseEvent) => {
      if ((target as HTMLElement).closest(".note-mark")) setAsking("note");
    };
    const { dom } = editor.view;
    // Before the editor itself, for which Enter means a new paragraph.
    dom.addEventListener("keydown", onKey, { capture: true });
    dom.addEventListener("click", onClick);
    return () => {
      dom.removeEventListener("keydown", onKey, { capture: true });
      dom.removeEventListener("click", onClick);
    };
  }, [editor]);
  const leave = () => {
    setAsking(null);
    editor.commands.focus();
  };
  const inTable: [string, () => void][] = [
    ["Row below", () => run().addRowAfter().run()],
    ["Column right", () => run().addColumnAfter().run()],
    ["Drop row", () => run().deleteRow().run()],
    ["Drop column", () => run().deleteColumn().run()],
    ["Drop table", () => run().deleteTable().run()],
  ];
  const put = (kind: "link" | "note", words: string) => {
    setAsking(null);
    if (kind === "note" && at.note !== null) run().updateAttributes("note", { text: words }).run();
    else if (kind === "note")
      run()
        .insertContent({ type: "note", attrs: { text: words } })
        .run();
    else if (words === "") run().extendMarkRange("link").unsetLink().run();
    else if (editor.state.selection.empty && !at.link)
      run()
        .insertContent({ type: "text", text: words, marks: [{ type: "link", attrs: { href: words } }] })
        .run();
    else run().extendMarkRange("link").setLink({ href: words }).run();
  };
  return (
    <div className="sticky top-0 z-10 mb-4 border-b border-rule bg-enamel font-sans">
      <div role="toolbar" aria-label="Text" className="narrow -ml-1.5 flex flex-wrap text-13">
        {tools.map(([name, active, act]) => (
          <Button
            look="bare"
            key={name}
            type="button"
            aria-pressed={active}
            onClick={act}
            className={`px-1.5 py-1.5 hover:text-blue ${active ? "font-bold text-blue" : ""}`}
          >
            {name}
          </Button>
        ))}
        {at.table &&
          inTable.map(([name, act]) => (
            <Button
              look="bare"
              key={name}
              type="button"
              onClick={act}
              className="px-1.5 py-1.5 text-rail hover:text-blue"
            >
              {name}
            </Button>
          ))}
      </div>
      {asking === "find" && <FindBar editor={editor} onLeave={leave} />}
      {asking === "signs" && <Signs onPick={(sign) => run().insertContent(sign).run()} onLeave={leave} />}
      {(asking === "link" || asking === "note") && (
        <Ask
          kind={asking}
          key={asking}
          initial={asking === "link" ? at.address : (at.note ?? "")}
          onAnswer={(words) => put(asking, words)}
          onLeave={leave}
        />
      )}
    </div>
  );
}

function Ask({
  kind,
  initial,
  onAnswer,
  onLeave,
}: {
  kind: "link" | "note";
  initial: string;
  onAnswer(words: string): void;
  onLeave(): void;
}) {
  const [words, setWords] = useState(initial);
  const [problem, setProblem] = useState("");
  const label = kind === "link" ? "Address the words lead to" : "Words of the note";
  const answer = (event: FormEvent) => {
    event.preventDefault();
    const given = words.trim();
    if (kind === "note" && given === "") setProblem("A note needs words.");
    else if (kind === "link" && given !== "" && !safeAddress(webAddress(given)))
      setProblem("An address begins with https://, mailto: or /.");
    else onAnswer(kind === "link" ? webAddress(given) : given);
  };
  const emphasise = (input: HTMLInputElement) => {
    const [from, to] = [input.selectionStart ?? 0, input.selectionEnd ?? 0];
    input.setRangeText(emphasised(input.value.slice(from, to)), from, to, "select");
    setWords(input.value);
  };
  return (
    <form onSubmit={answer} className="flex flex-wrap items-center gap-2 pb-2 text-13">
      <Input
        look="small"
        autoFocus
        aria-label={label}
        placeholder={label}
        value={words}
        maxLength={2000}
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => {
          if (kind === "note" && event.key === "i" && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            emphasise(event.currentTarget);
          }
          if (event.key !== "Escape") return;
          event.preventDefault();
          onLeave();
        }}
        className="w-80 max-w-full"
      />
      <Button look="word" type="submit">
        Set
      </Button>
      <Button look="word" type="button" onClick={onLeave}>
        Leave
      </Button>
      {kind === "note" && <span className="text-rail">*So* is emphasised; Ctrl I puts it there.</span>}
      {problem && (
        <span role="alert" className="text-red">
          {problem}
        </span>
      )}
    </form>
  );
}
