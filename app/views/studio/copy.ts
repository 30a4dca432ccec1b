import canonicalize from "canonicalize";
import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { keep, useOwner } from "#app/views/frame/kept-here.ts";
import type { Outcome, Saving } from "#app/views/saving/saving.ts";
import { useSaving } from "#app/views/saving/use-saving.ts";
import type { Refusal } from "#core/refusal.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { bare, follow, type History, KEPT_STEPS, type Step } from "./history.ts";

const PAUSE = 400;

export interface Copy {
  workflow: Workflow;
  state: Saving;
  /** The working copy's revision as the server confirmed it; 0 while there is none. */
  revision: number;
  canUndo: boolean;
  canRedo: boolean;
  /** @param setting names what is typed into, so that a word is one step to undo; null for a step of its own */
  change(make: (workflow: Workflow) => Workflow, setting?: string | null): void;
  undo(): void;
  redo(): void;
  /** Takes what the server has in place of one's own. */
  takeTheirs(): void;
  /** Forgets the steps kept in the browser: the copy is about to be thrown away. */
  forget(): void;
}

/**
 * A workflow that is being changed: every change can be undone, and is saved a moment later to the
 * working copy. The steps to undo outlive a reload of the page; a stale change is refused and stays.
 *
 * @param name under which the steps are kept: the workflow's key with the revision in use
 */
export function useCopy(
  name: string,
  key: string,
  server: { workflow: Workflow; revision: number },
  locked: boolean,
): Copy {
  const storageKey = `elenco:studio:${useOwner()}:${name}`;
  const [history, dispatch] = useReducer(follow, null, () => bare(server.workflow));
  const [revision, setRevision] = useState(server.revision);
  const latest = useRef({
    present: history.present,
    saved: server.workflow,
    revision: server.revision,
    savedAt: null as number | null,
  });
  latest.current.present = history.present;

  const send = async (): Promise<Outcome> => {
    const own = latest.current;
    const sent = own.present;
    if (sent === own.saved) return { kind: "saved", at: own.savedAt };
    try {
      const response = await fetch(`/workflows/${key}/save`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ document: sent, revision: own.revision }),
      });
      const answer = (await response.json()) as { refusal: Refusal | null; saved?: { revision: number; at: number } };
      if (!answer.saved)
        return answer.refusal && answer.refusal.code !== "away"
          ? { kind: "refused", refusal: answer.refusal }
          : { kind: "kept", reason: "the database does not answer" };
      const { revision: confirmed, at } = answer.saved;
      Object.assign(own, { revision: confirmed, saved: sent, savedAt: at });
      setRevision(confirmed);
      return { kind: "saved", at };
    } catch {
      return { kind: "kept", reason: "no connection" };
    }
  };
  const { state, tell } = useSaving(send, PAUSE);

  const step = useCallback(
    (one: Step) => {
      if (locked) return;
      dispatch(one);
      tell({ kind: "typed" });
    },
    [locked, tell],
  );
  const change: Copy["change"] = useCallback(
    (make, setting = null) => step({ kind: "change", make, setting, at: performance.now() }),
    [step],
  );

  // Written down in a pause, since a long history takes longer than a keystroke; at the latest when the page goes.
  useEffect(() => {
    if (history.past.length + history.future.length === 0) return;
    const keep = () => keepSteps(storageKey, { revision: latest.current.revision, ...history });
    const timer = setTimeout(keep, PAUSE);
    window.addEventListener("pagehide", keep);
    return () => {
      clearTimeout(timer);
      window.removeEventListener("pagehide", keep);
    };
  }, [history, storageKey]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the page opens
  useEffect(() => {
    const kept = keptSteps(storageKey);
    if (!kept || locked) return;
    const same = canonicalize(kept.present) === canonicalize(server.workflow);
    if (!same && kept.revision !== server.revision) return;
    dispatch({ kind: "replace", history: { ...kept, last: null } });
    if (!same) tell({ kind: "typed" });
    else latest.current.saved = kept.present;
  }, []);

  // What somebody else changed comes in while nothing of one's own waits.
  useEffect(() => {
    const own = latest.current;
    if (own.present !== own.saved || server.revision <= own.revision) return;
    Object.assign(own, { revision: server.revision, saved: server.workflow });
    setRevision(server.revision);
    dispatch({ kind: "replace", history: bare(server.workflow) });
  }, [server.revision, server.workflow]);

  return {
    workflow: history.present,
    state,
    revision,
    canUndo: !locked && history.past.length > 0,
    canRedo: !locked && history.future.length > 0,
    change,
    undo: () => step({ kind: "undo" }),
    redo: () => step({ kind: "redo" }),
    takeTheirs: () => {
      Object.assign(latest.current, { revision: server.revision, saved: server.workflow });
      sessionStorage.removeItem(storageKey);
      setRevision(server.revision);
      dispatch({ kind: "replace", history: bare(server.workflow) });
      tell({ kind: "chosen" });
    },
    forget: () => {
      latest.current.saved = latest.current.present;
      dispatch({ kind: "replace", history: bare(latest.current.present) });
      sessionStorage.removeItem(storageKey);
    },
  };
}

/** Where the browser has no room for every step, the last few are kept, with what is there now. */
function keepSteps(storageKey: string, kept: History & { revision: number }): void {
  for (const steps of [KEPT_STEPS, 5, 0]) {
    const past = steps > 0 ? kept.past.slice(-steps) : [];
    const some = JSON.stringify({ ...kept, past, future: kept.future.slice(0, steps) });
    if (keep(sessionStorage, storageKey, some)) return;
    sessionStorage.removeItem(storageKey);
  }
}

function keptSteps(storageKey: string): (History & { revision: number }) | null {
  const stored = sessionStorage.getItem(storageKey);
  return stored ? JSON.parse(stored) : null;
}
