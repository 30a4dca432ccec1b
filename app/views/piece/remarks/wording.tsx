import { type JSONContent, Node } from "@tiptap/core";
import { EditorContent, useEditor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import type { Block } from "#core/text/block.ts";
import { safeAddress } from "#core/text/manuscript.ts";
import { Note } from "../editor/extensions.ts";

const Line = Node.create({ name: "doc", topNode: true, content: "paragraph" });

/** A line of the text, to be worded otherwise: its words, their look, nothing else. */
export default function WordingEditor({ value, onChange }: { value: Block[]; onChange(wording: Block[]): void }) {
  const editor = useEditor({
    extensions: [
      Line,
      StarterKit.configure({
        document: false,
        heading: false,
        blockquote: false,
        bulletList: false,
        orderedList: false,
        listItem: false,
        listKeymap: false,
        horizontalRule: false,
        code: false,
        codeBlock: false,
        strike: false,
        underline: false,
        trailingNode: false,
        link: { openOnClick: false, isAllowedUri: (address) => safeAddress(address) },
      }),
      Note,
    ],
    content: { type: "doc", content: [{ type: "paragraph", content: value as JSONContent[] }] },
    injectCSS: false,
    immediatelyRender: false,
    autofocus: "all",
    editorProps: {
      attributes: {
        class: "manuscript max-h-60 overflow-y-auto border border-ink bg-paper px-2 py-1 text-15! leading-[22px]!",
        role: "textbox",
        "aria-label": "Wording you propose",
        "aria-multiline": "true",
      },
    },
    onUpdate: ({ editor: changed }) => onChange((changed.getJSON().content?.[0]?.content ?? []) as Block[]),
  });
  return <EditorContent editor={editor} />;
}
