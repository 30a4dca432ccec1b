import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Combobox } from "#app/ui/combobox.tsx";
import { FIND } from "./find-key.ts";
import { useFound } from "./found.ts";

/** The search that is also the list of places; Ctrl or ⌘ K takes one there (`find-key`). */
export function Find() {
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [words, setWords] = useState<string | null>(null);
  const { found, settled } = useFound(words);
  return (
    <search className="ml-auto w-24 min-w-0 shrink focus-within:w-full sm:w-72 sm:focus-within:w-72">
      <Combobox
        id={FIND}
        input={input}
        look="small"
        aria-label="Find a piece or a place"
        placeholder="Find … Ctrl K"
        suggestions={found}
        settled={settled}
        none="Nothing you may see has these words."
        onType={setWords}
        onChoose={(one) => {
          if (!one) return;
          input.current?.blur();
          navigate(one.to);
        }}
      />
    </search>
  );
}
