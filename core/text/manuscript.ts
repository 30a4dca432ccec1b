import type { Node } from "prosemirror-model";

/** A manuscript as JSON: a ProseMirror document of `manuscriptSchema` (`schema.ts`). */
export type Manuscript = ReturnType<Node["toJSON"]>;

/** A picture in a text or a field: its file, and what readers are told of it. */
export interface Picture {
  file: string;
  alt: string;
  caption: string;
  credit: string;
}

/** A manuscript with nothing in it. */
export const emptyManuscript = (): Manuscript => ({ type: "doc", content: [{ type: "paragraph" }] });

/** Whether a string names a stored file: the SHA-256 of its bytes, in hexadecimal. */
export const isFile = (name: string) => /^[0-9a-f]{64}$/.test(name);

/** Whether a link may stand in a text: the web, mail, or a page of this site. */
export function safeAddress(address: string): boolean {
  return /^(https?:\/\/|mailto:|\/(?!\/)|#)/i.test(address);
}

/** The address somebody means who writes one: a bare `huts.example/casere` is one of the web. */
export function webAddress(written: string): string {
  return /^[\w-]+(\.[\w-]+)+(\/|$)/.test(written) ? `https://${written}` : written;
}
