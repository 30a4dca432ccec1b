import { useRouteLoaderData } from "react-router";

/** Whose this browser's window is just now: what is kept in it is kept under their name, and shown to nobody else. */
export function useOwner(): string {
  const frame = useRouteLoaderData("routes/frame") as { me: { id: string } } | undefined;
  return frame?.me.id ?? "nobody";
}

/** What is known of words kept in the browser without reading them. */
export interface KeptWords {
  slug: string;
  title: string;
  /** When the last of them was typed, in epoch milliseconds. */
  at: number;
}

const DRAFTS = "elenco:draft:";

/** Under which name the words of a piece are kept for somebody. */
export const draftKey = (owner: string, pieceId: string) => `${DRAFTS}${owner}:${pieceId}`;

/** Keeps words in a browser's storage. @returns whether there was room */
export function keep(storage: Storage, key: string, words: string): boolean {
  try {
    storage.setItem(key, words);
    return true;
  } catch {
    return false;
  }
}

/** Whether words of anybody are kept in this browser that no server has. */
export const anythingKept = () => Object.keys(localStorage).some((key) => key.startsWith(DRAFTS));
