import { useCallback, useEffect, useRef, useState } from "react";
import type { Refusal } from "#core/refusal.ts";
import type { Content } from "#core/text/fields.ts";

const PAUSE = 1_000;
const AGAIN = 5_000;

/** What is true of the text in the window. */
export type SaveState =
  | { kind: "saved"; at: number | null }
  | { kind: "waiting" | "saving" }
  | { kind: "kept"; reason: string }
  | { kind: "refused"; refusal: Refusal };

interface Kept {
  baseVersion: number;
  content: Content;
}

export interface Draft {
  content: Content;
  state: SaveState;
  /** The version the text grew from, as far as the server has confirmed it. */
  version: number;
  /** Rises when the text was replaced from outside, so that editors show the new one. */
  generation: number;
  change(part: (content: Content) => Content): void;
  /** Saves over the version named by a refusal, or takes that version in place of one's own. */
  resolve(choice: "mine" | "theirs"): void;
}

/**
 * A text that saves itself a second after the last keystroke. Until the server has it, it is kept
 * in the browser too, and a reload brings it back; a stale save is refused and the text stays.
 */
export function useDraft(
  pieceId: string,
  slug: string,
  server: { content: Content; version: number },
  onSaved: () => void,
): Draft {
  const storageKey = `elenco:draft:${pieceId}`;
  const [content, setContent] = useState(server.content);
  const [version, setVersion] = useState(server.version);
  const [state, setState] = useState<SaveState>({ kind: "saved", at: null });
  const [generation, setGeneration] = useState(0);
  const latest = useRef({ content, version, dirty: false, sending: false });
  latest.current.content = content;
  latest.current.version = version;

  const replace = useCallback((next: Content, from: number) => {
    setContent(next);
    setVersion(from);
    setGeneration((count) => count + 1);
  }, []);

  const save = useCallback(async () => {
    const now = latest.current;
    if (!now.dirty || now.sending) return;
    const sent = now.content;
    now.sending = true;
    setState({ kind: "saving" });
    try {
      const response = await fetch(`/pieces/${slug}/save`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ pieceId, baseVersion: now.version, content: sent }),
      });
      const answer = (await response.json()) as { refusal: Refusal | null; saved?: { version: number; at: number } };
      if (answer.saved) {
        now.version = answer.saved.version;
        setVersion(answer.saved.version);
        now.dirty = now.content !== sent;
        if (now.dirty) setState({ kind: "waiting" });
        else {
          localStorage.removeItem(storageKey);
          setState({ kind: "saved", at: answer.saved.at });
        }
        onSaved();
      } else if (answer.refusal?.code === "away") setState({ kind: "kept", reason: "the database does not answer" });
      else if (answer.refusal) setState({ kind: "refused", refusal: answer.refusal });
    } catch {
      setState({ kind: "kept", reason: "no connection" });
    } finally {
      now.sending = false;
    }
  }, [pieceId, slug, storageKey, onSaved]);

  const change = useCallback(
    (part: (content: Content) => Content) => {
      const next = part(latest.current.content);
      latest.current.content = next;
      latest.current.dirty = true;
      localStorage.setItem(
        storageKey,
        JSON.stringify({ baseVersion: latest.current.version, content: next } satisfies Kept),
      );
      setContent(next);
      setState((was) => (was.kind === "refused" && was.refusal.code === "stale" ? was : { kind: "waiting" }));
    },
    [storageKey],
  );

  useEffect(() => {
    const stored = localStorage.getItem(storageKey);
    if (!stored) return;
    const kept = JSON.parse(stored) as Kept;
    latest.current.dirty = true;
    replace(kept.content, kept.baseVersion);
    setState({ kind: "waiting" });
  }, [storageKey, replace]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the timer begins anew with every change of the text
  useEffect(() => {
    if (state.kind !== "waiting" && state.kind !== "kept") return;
    const timer = setTimeout(save, state.kind === "kept" ? AGAIN : PAUSE);
    return () => clearTimeout(timer);
  }, [state, content, save]);

  useEffect(() => {
    if (!latest.current.dirty && server.version > latest.current.version) replace(server.content, server.version);
  }, [server.version, server.content, replace]);

  useEffect(() => {
    const leaving = () => document.visibilityState === "hidden" && void save();
    document.addEventListener("visibilitychange", leaving);
    return () => document.removeEventListener("visibilitychange", leaving);
  }, [save]);

  const resolve = (choice: "mine" | "theirs") => {
    const newest = state.kind === "refused" ? Number(state.refusal.missing?.[0] ?? server.version) : server.version;
    if (choice === "theirs") {
      latest.current.dirty = false;
      localStorage.removeItem(storageKey);
      replace(server.content, server.version);
      setState({ kind: "saved", at: null });
    } else {
      latest.current.version = newest;
      setVersion(newest);
      setState({ kind: "waiting" });
    }
  };
  return { content, state, version, generation, change, resolve };
}
