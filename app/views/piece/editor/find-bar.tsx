import type { Editor } from "@tiptap/core";
import {
  findNext,
  findPrev,
  getMatchHighlights,
  replaceAll,
  replaceNext,
  SearchQuery,
  setSearchState,
} from "prosemirror-search";
import { type KeyboardEvent, useEffect, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, Input } from "#app/ui/field.tsx";

/** Finds words in the text and puts others in their place, one by one or all together. */
export function FindBar({ editor, onLeave }: { editor: Editor; onLeave(): void }) {
  const [words, setWords] = useState("");
  const [other, setOther] = useState("");
  const [exact, setExact] = useState(false);
  const [count, setCount] = useState(0);
  useEffect(() => {
    const query = new SearchQuery({ search: words, replace: other, caseSensitive: exact, literal: true });
    editor.view.dispatch(setSearchState(editor.state.tr, query));
    setCount(words === "" ? 0 : getMatchHighlights(editor.state).find().length);
  }, [editor, words, other, exact]);
  useEffect(
    () => () => {
      if (!editor.isDestroyed) editor.view.dispatch(setSearchState(editor.state.tr, new SearchQuery({ search: "" })));
    },
    [editor],
  );
  const run = (command: typeof findNext) => {
    command(editor.state, editor.view.dispatch);
    editor.commands.scrollIntoView();
    setCount(getMatchHighlights(editor.state).find().length);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter" && event.target instanceof HTMLInputElement) {
      event.preventDefault();
      run(event.shiftKey ? findPrev : findNext);
    }
    if (event.key === "Escape") {
      event.preventDefault();
      onLeave();
    }
  };
  const button = (name: string, command: typeof findNext) => (
    <Button
      look="bare"
      type="button"
      onClick={() => run(command)}
      disabled={count === 0}
      className="px-1 font-semibold text-blue disabled:text-rail"
    >
      {name}
    </Button>
  );
  return (
    <search onKeyDown={onKeyDown} className="flex flex-wrap items-center gap-x-2 gap-y-1 pb-2 text-13">
      <Input
        look="small"
        autoFocus
        aria-label="Find in the text"
        placeholder="Find"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        className="w-36"
      />
      <span role="status" className="min-w-16 text-rail">
        {words === "" ? "" : count === 0 ? "nowhere" : `${count} ${count === 1 ? "place" : "places"}`}
      </span>
      {button("Back", findPrev)}
      {button("On", findNext)}
      <Input
        look="small"
        aria-label="Put in its place"
        placeholder="Put in its place"
        value={other}
        onChange={(event) => setOther(event.target.value)}
        className="w-36"
      />
      {button("Replace", replaceNext)}
      {button("All", replaceAll)}
      <Checkbox checked={exact} onChange={(event) => setExact(event.target.checked)}>
        exact case
      </Checkbox>
      <Button look="word" type="button" onClick={onLeave}>
        Leave
      </Button>
    </search>
  );
}
