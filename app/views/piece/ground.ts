import type { KeptWords } from "#app/views/frame/kept-here.ts";
import type { Content } from "#core/text/fields.ts";

/** A text as the server has it. */
export interface ServerText {
  content: Content;
  /** The version's number; who writes on goes on in one. */
  version: number;
  hash: string;
  /** The piece's, which rises with every change. */
  revision: number;
  /** Who wrote it last. */
  author: string;
}

/** Words kept in the browser until the server has them. */
export interface Kept extends KeptWords {
  /** The window the words were typed in. */
  window: string;
  base: ServerText;
  content: Content;
  /** The hashes of what was sent of them from that base, of which no answer was heard. */
  unheard?: readonly string[];
}

/**
 * What kept words grew from. A window may go, or a connection break, before it hears that what it sent arrived:
 * then the server's text is its own, and not somebody else's.
 *
 * @returns the server's text where it is what was sent; the base the words are known to have otherwise
 */
export const groundOf = ({ base, unheard = [] }: Pick<Kept, "base" | "unheard">, there: ServerText): ServerText =>
  unheard.includes(there.hash) ? there : base;

/** So many of what was sent unheard are known at most, the latest. */
const UNHEARD_MOST = 200;

/** With one more that was sent; what is sent again is no other. */
export const withSent = (unheard: readonly string[], hash: string): readonly string[] =>
  unheard.includes(hash) ? unheard : [...unheard, hash].slice(-UNHEARD_MOST);

/** Whether a text the server tells of came after one already known: an answer may be overtaken by a later one. */
export const supersedes = (there: ServerText, known: ServerText) =>
  there.hash !== known.hash && there.revision > known.revision;
