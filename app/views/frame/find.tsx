import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { loader } from "#app/routes/find.ts";

type Answer = Awaited<ReturnType<typeof loader>>;

/** The search that is also the list of places; Ctrl or ⌘ K takes one there. */
export function Find() {
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const [words, setWords] = useState("");
  const [entered, setEntered] = useState(false);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const answered = answer?.asked === words.trim();
  const found = open ? (answer?.found ?? []) : [];

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === "k") {
        event.preventDefault();
        input.current?.focus();
      }
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);

  // Asked apart from the router, whose fetchers may lose an answer when the page refreshes meanwhile.
  useEffect(() => {
    if (!open) return;
    const asking = new AbortController();
    fetch(`/find?q=${encodeURIComponent(words)}`, { signal: asking.signal })
      .then((response) => response.json())
      .then(setAnswer)
      .catch(() => undefined);
    return () => asking.abort();
  }, [open, words]);

  const ask = (asked: string) => {
    setOpen(true);
    setAt(0);
    setEntered(false);
    setWords(asked);
  };
  const go = (to: string | undefined) => {
    setEntered(false);
    if (!to) return;
    setOpen(false);
    input.current?.blur();
    navigate(to);
  };
  // Enter means what was typed, not what an earlier word had found: it waits for its own answer.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it goes once, when the answer is there
  useEffect(() => {
    if (entered && answered) go(found[at]?.to);
  }, [entered, answered]);
  return (
    <search className="relative ml-auto hidden w-72 sm:block">
      <input
        ref={input}
        role="combobox"
        aria-label="Find a piece or a place"
        aria-expanded={found.length > 0}
        aria-controls="found"
        aria-activedescendant={found[at] ? `found-${at}` : undefined}
        placeholder="Find a piece or a place"
        className="h-7 w-full rounded border border-rule bg-paper pl-2.5 pr-14 text-13 placeholder:text-rail"
        onFocus={(event) => ask(event.currentTarget.value)}
        onChange={(event) => ask(event.currentTarget.value)}
        onBlur={() => setOpen(false)}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setAt(Math.min(found.length - 1, at + 1));
          else if (event.key === "ArrowUp") setAt(Math.max(0, at - 1));
          else if (event.key === "Enter") setEntered(true);
          else if (event.key === "Escape") event.currentTarget.blur();
          else return;
          event.preventDefault();
        }}
      />
      <kbd className="narrow pointer-events-none absolute right-2 top-1 rounded border border-rule bg-enamel px-1 text-12 text-rail">
        Ctrl K
      </kbd>
      {found.length > 0 && (
        <div
          id="found"
          role="listbox"
          aria-label="Found"
          className="absolute right-0 top-8 z-20 max-h-96 w-96 overflow-auto border-2 border-ink bg-paper py-1 shadow-lg"
        >
          {found.map((one, i) => (
            <div
              key={one.to}
              id={`found-${i}`}
              role="option"
              tabIndex={-1}
              aria-selected={i === at}
              className={`cursor-pointer px-3 py-1.5 text-13 ${i === at ? "bg-wash" : ""}`}
              onPointerDown={(event) => {
                event.preventDefault();
                go(one.to);
              }}
            >
              <span className="block truncate font-semibold">{one.name}</span>
              <span className="block truncate text-12 text-rail">{one.about}</span>
            </div>
          ))}
        </div>
      )}
    </search>
  );
}
