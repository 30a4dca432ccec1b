import { type MouseEvent, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { isForPage } from "#app/ui/rows.tsx";
import type { PiecePage } from "../page.ts";
import { dropBegun } from "./begun.ts";
import type { Composing, Remarks } from "./remarks.ts";

/** What the text, the margin and the keys share of a piece's remarks: where one is, and what one is writing. */
export function useRemarksOf(page: PiecePage, owner: string, answer: FormAnswer | null | undefined) {
  const storageKey = `elenco:remark:${owner}:${page.row.id}`;
  const asked = useSearchParams()[0].get("remark");
  const [chosen, choose] = useState<string | null>(null);
  const [composing, compose] = useState<Composing | null>(null);
  const selected = useRef<Remarks["selected"]>(new Map()).current;
  const acted = useRef<string | null>(null);
  const { threads } = page;
  useEffect(() => {
    if (asked) choose(asked);
  }, [asked]);
  const sent = answer?.intent === "remark" && !answer.refusal && Object.keys(answer.fields).length === 0;
  const heard = useRef(answer);
  useEffect(() => {
    if (heard.current === answer) return;
    heard.current = answer;
    if (!sent) return;
    if (composing) dropBegun(storageKey, composing);
    compose(null);
    document.querySelector<HTMLElement>("[data-remarks]")?.focus({ preventScroll: true });
  }, [answer, sent, storageKey, composing]);
  useEffect(() => {
    for (const words of document.querySelectorAll<HTMLElement>("article .manuscript:not(.ProseMirror) [data-thread]"))
      words.toggleAttribute("data-here", chosen !== null && (words.dataset.thread ?? "").split(" ").includes(chosen));
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "o" && isForPage(event)) document.documentElement.toggleAttribute("data-as-it-was");
      if (event.key !== "Escape" || event.defaultPrevented || (composing === null && chosen === null)) return;
      if (document.querySelector("[role=dialog], [role=listbox]")) return;
      // One step back: first what is being written, which is kept, then the remark one is at.
      event.preventDefault();
      if (composing) compose(null);
      else choose(null);
      document.querySelector<HTMLElement>("[data-remarks]")?.focus({ preventScroll: true });
    };
    document.addEventListener("keydown", onKey, { capture: true });
    return () => {
      document.removeEventListener("keydown", onKey, { capture: true });
      document.documentElement.removeAttribute("data-as-it-was");
    };
  }, [composing, chosen]);
  const shared = useMemo<Remarks>(
    () => ({ threads, chosen, choose, composing, compose, selected, acted }),
    [threads, chosen, composing, selected],
  );
  const onClick = ({ target }: MouseEvent) => {
    const words = target instanceof Element ? target.closest<HTMLElement>("[data-thread]") : null;
    const [id] = (words?.dataset.thread ?? "").split(" ");
    if (id && document.getSelection()?.isCollapsed !== false) choose(id);
  };
  return { shared, storageKey, onClick };
}
