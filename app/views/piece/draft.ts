import { useCallback, useEffect, useRef, useState } from "react";
import { draftKey, keep, useOwner } from "#app/views/frame/kept-here.ts";
import type { Refusal } from "#core/refusal.ts";
import type { Content } from "#core/text/fields.ts";
import { mergeContents } from "#core/text/merge.ts";
import { patchBetween } from "#core/text/splice.ts";
import type { Outcome, Saving } from "../saving/saving.ts";
import { useSaving } from "../saving/use-saving.ts";
import { groundOf, type Kept, type ServerText, supersedes, withSent } from "./ground.ts";
import { isFree, windowId } from "./window.ts";

const PAUSE = 800;
const NOTHING: readonly string[] = [];
/** A window that typed nothing for so long asks again before it writes; the server forgets it after two minutes. */
const HELD = 60_000;

/** Two texts that grew from one and both changed the same places. */
interface TwoTexts {
  theirs: ServerText;
  fields: string[];
}

export interface Draft {
  content: Content;
  state: Saving<TwoTexts>;
  /** The version the text grew from, as far as the server has confirmed it. */
  version: number;
  hash: string;
  /** Rises when the text was changed from outside, so that editors show it. */
  generation: number;
  change(part: (content: Content) => Content): void;
  /** Says that words are being typed which `change` will bring in a moment, or once `bring` is called: when the page goes. */
  touch(bring: () => void): void;
  /** Goes on with one of two texts that grew apart; the other stays a version. */
  choose(which: "mine" | "theirs"): void;
  /** Holds the text for this window, or takes it from whoever holds it. */
  hold(takes: boolean): Promise<Refusal | null>;
}

/** The hash the server will give a content; none where what reckons it does not come. */
const hashed = async (content: Content): Promise<string | null> =>
  import("#core/ledger/chain.ts").then(({ hashOf }) => hashOf(content)).catch(() => null);

class SignedOut extends Error {}

interface Answer {
  refusal: Refusal | null;
  saved?: Pick<ServerText, "version" | "hash" | "revision"> & { at: number };
}

/**
 * A text that saves itself shortly after the last keystroke, sending what changed. Until the server
 * has it, it is kept in the browser too, and a reload brings it back. Where the server's text went
 * on meanwhile, both are merged; where both changed the same place, the person chooses.
 */
export function useDraft(
  piece: { id: string; slug: string },
  server: ServerText,
  writing: boolean,
  onSaved: () => void,
): Draft {
  const storageKey = draftKey(useOwner(), piece.id);
  const address = `/pieces/${piece.slug}/text`;
  const [content, setContent] = useState(server.content);
  const [base, setBase] = useState(server);
  const [generation, setGeneration] = useState(0);
  const latest = useRef({ content, base, unheard: NOTHING, dirty: false, sending: false, kept: true, gone: false });
  latest.current.content = content;
  latest.current.base = base;

  const show = useCallback((next: Content, from: ServerText) => {
    Object.assign(latest.current, { content: next, base: from, unheard: NOTHING });
    setContent(next);
    setBase(from);
    setGeneration((count) => count + 1);
  }, []);

  const own = useRef("");
  const post = useCallback(
    async (body: object): Promise<Answer> => {
      own.current = await windowId();
      const response = await fetch(address, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ pieceId: piece.id, window: own.current, ...body }),
      });
      if (response.redirected) throw new SignedOut();
      return (await response.json()) as Answer;
    },
    [address, piece.id],
  );

  /** Brings the server's text and one's own together, or says where that cannot be. */
  const meet = async (): Promise<Outcome<TwoTexts>> => {
    const now = latest.current;
    const there = await (await fetch(address)).json();
    const theirs: ServerText = { ...there, version: there.number };
    if (groundOf(now, theirs) === theirs) {
      Object.assign(now, { base: theirs, unheard: NOTHING });
      setBase(theirs);
      return { kind: "merged" };
    }
    const { content: merged, conflicts } = mergeContents(now.base.content, now.content, theirs.content);
    if (conflicts.length > 0) return { kind: "apart", between: { theirs, fields: conflicts } };
    show(merged, theirs);
    return { kind: "merged" };
  };

  /** Keeps the words in this browser, with what of them is on its way. */
  const keepHere = useCallback(() => {
    const now = latest.current;
    const { base, content, unheard } = now;
    const typed = { slug: piece.slug, title: content.title, at: Date.now(), window: own.current };
    now.kept = keep(localStorage, storageKey, JSON.stringify({ ...typed, base, content, unheard } satisfies Kept));
  }, [piece.slug, storageKey]);

  const sendWords = async (): Promise<Outcome<TwoTexts> | null> => {
    const now = latest.current;
    const sent = now.content;
    const patch = now.dirty ? patchBetween(now.base.content, sent) : null;
    if (!patch) {
      if (now.dirty) localStorage.removeItem(storageKey);
      now.dirty = false;
      return null;
    }
    const hash = await hashed(sent);
    if (hash) now.unheard = withSent(now.unheard, hash);
    keepHere();
    const { saved, refusal } = await post({ intent: "save", base: now.base.hash, patch });
    if (saved) {
      const { at: _, ...confirmed } = saved;
      const from = { ...now.base, content: sent, ...confirmed };
      Object.assign(now, { base: from, unheard: NOTHING });
      setBase(from);
      now.dirty = now.content !== sent;
      if (!now.dirty) localStorage.removeItem(storageKey);
      onSaved();
      return { kind: "saved", at: saved.at };
    }
    if (refusal?.code === "stale") return meet();
    if (refusal?.code === "held") onSaved();
    return refusal && refusal.code !== "away"
      ? { kind: "refused", refusal }
      : { kind: "kept", reason: "the database does not answer" };
  };

  const send = async () => {
    const now = latest.current;
    now.sending = true;
    try {
      return await sendWords();
    } catch (error) {
      const reason = error instanceof SignedOut ? "you are signed out; sign in in another window" : "no connection";
      const all = now.kept ? reason : `${reason}, and no room in this browser: leave it open`;
      return { kind: "kept" as const, reason: all };
    } finally {
      now.sending = false;
      if (now.gone) leave.current();
    }
  };
  const { state, tell, save } = useSaving(send, PAUSE);

  const leave = useRef(() => {});
  leave.current = () => {
    const now = latest.current;
    if (now.sending) return;
    const patch = now.dirty ? patchBetween(now.base.content, now.content) : null;
    const held = heldAt.current !== 0;
    heldAt.current = 0;
    const shared = { pieceId: piece.id, window: own.current };
    if (!patch) {
      const body = JSON.stringify({ intent: "let-go", ...shared });
      if (held) navigator.sendBeacon(address, new Blob([body], { type: "application/json" }));
      return;
    }
    // It outlives the page. What does not get through is kept here, and said wherever one goes.
    const kept = localStorage.getItem(storageKey);
    const body = JSON.stringify({ intent: "save", leaves: true, base: now.base.hash, patch, ...shared });
    void fetch(address, { method: "POST", headers: { "Content-Type": "application/json" }, body, keepalive: true })
      .then((response) => response.json())
      .then(({ saved }: Answer) => {
        if (saved && localStorage.getItem(storageKey) === kept) localStorage.removeItem(storageKey);
      })
      .catch(() => undefined);
  };

  const heldAt = useRef(0);
  const holdFirst = useCallback(() => {
    const asked = heldAt.current;
    heldAt.current = Date.now();
    if (heldAt.current - asked < HELD) return;
    void post({ intent: "hold", takes: false })
      .then(({ refusal }) => {
        if (!refusal) return;
        tell({ kind: "refused", refusal });
        onSaved();
      })
      .catch(() => undefined);
  }, [post, onSaved, tell]);

  const change = useCallback(
    (part: (content: Content) => Content) => {
      const now = latest.current;
      holdFirst();
      now.content = part(now.content);
      now.dirty = true;
      keepHere();
      setContent(now.content);
      tell({ kind: "typed" });
    },
    [keepHere, holdFirst, tell],
  );
  const gathering = useRef(new Set<() => void>());
  const bringAll = useCallback(() => {
    for (const bring of gathering.current) bring();
  }, []);
  const touch = useCallback(
    (bring: () => void) => {
      gathering.current.add(bring);
      holdFirst();
      tell({ kind: "touched" });
    },
    [holdFirst, tell],
  );

  useEffect(() => {
    const recover = async () => {
      own.current = await windowId();
      const stored = localStorage.getItem(storageKey);
      const kept = stored ? (JSON.parse(stored) as Kept) : null;
      // What another window still has, it saves itself.
      if (!kept || latest.current.dirty || (kept.window !== own.current && !(await isFree(kept.window)))) return;
      // What was sent as the page went is there already.
      if (!patchBetween(latest.current.base.content, kept.content)) return localStorage.removeItem(storageKey);
      latest.current.dirty = true;
      show(kept.content, groundOf(kept, latest.current.base));
      tell({ kind: "typed" });
    };
    void recover();
  }, [storageKey, show, tell]);

  useEffect(() => {
    const now = latest.current;
    if (!now.dirty && supersedes(server, now.base)) show(server.content, server);
  }, [server, show]);

  useEffect(() => {
    if (!writing) return;
    latest.current.gone = false;
    const hiding = () => {
      if (document.visibilityState !== "hidden") return;
      bringAll();
      if (latest.current.dirty) void save();
    };
    // The last letters too, which an editor still gathers.
    const going = () => {
      bringAll();
      leave.current();
    };
    // Asked only where the words are nowhere but on this page.
    const asking = (event: BeforeUnloadEvent) => {
      if (latest.current.dirty && !latest.current.kept) event.preventDefault();
    };
    document.addEventListener("visibilitychange", hiding);
    window.addEventListener("pagehide", going);
    window.addEventListener("beforeunload", asking);
    return () => {
      document.removeEventListener("visibilitychange", hiding);
      window.removeEventListener("pagehide", going);
      window.removeEventListener("beforeunload", asking);
      latest.current.gone = true;
      // The editor within brings its last words as it goes: after this.
      setTimeout(going);
    };
  }, [writing, save, bringAll]);

  const hold = useCallback(
    async (takes: boolean): Promise<Refusal | null> => {
      try {
        const { refusal } = await post({ intent: "hold", takes });
        onSaved();
        if (refusal === null && takes && latest.current.dirty) tell({ kind: "chosen" });
        return refusal;
      } catch {
        return { code: "away", sentence: "There is no connection. Try again in a moment." };
      }
    },
    [post, onSaved, tell],
  );

  const choose = async (which: "mine" | "theirs") => {
    if (state.kind !== "apart") return;
    const { theirs } = state.between;
    const mine = latest.current.content;
    latest.current.base = theirs;
    setBase(theirs);
    if (which === "theirs") {
      const patch = patchBetween(theirs.content, mine);
      const kept = await post({ intent: "save", base: theirs.hash, patch, name: "set aside" }).catch(() => null);
      if (!kept?.saved) return;
      show(theirs.content, { ...theirs, content: mine, ...kept.saved });
    }
    latest.current.dirty = true;
    tell({ kind: "chosen" });
  };
  return { content, state, version: base.version, hash: base.hash, generation, change, touch, choose, hold };
}
