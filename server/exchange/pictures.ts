import { filesBelow } from "#core/text/html.ts";
import type { BroughtFile } from "../files/commands.ts";
import { sniff } from "../files/sniff.ts";
import { idOf } from "../files/store.ts";

/** Says which of some files, by their ids, whoever brings a text may see. */
export type Seen = (files: readonly string[]) => Promise<ReadonlySet<string>>;

/** A text with the pictures that come along in it. */
export interface Illustrated {
  /** The text, its pictures named by the address at which they will be kept. */
  text: string;
  /** The files that come along, or are kept here and may be seen, by their ids. */
  known: ReadonlySet<string>;
  /** The pictures themselves; nobody has said yet by whom they are, and by what right. */
  files: BroughtFile[];
}

const addressOf = filesBelow("");
/** So many pictures written out in one text are kept, and so long is spent reading them, in milliseconds. */
const PICTURES_MOST = 200;
const TIME = 10_000;
const DATA = /data:image\/([a-z.+-]+);base64,[A-Za-z0-9+/=\s]+/g;

/**
 * Finds what a text of HTML or Markdown shows: pictures written out in it (RFC 2397), and files kept
 * here already that whoever brings it may see. Nothing is fetched.
 */
export async function illustrated(text: string, seen: Seen): Promise<Illustrated> {
  const files = new Map<string, BroughtFile>();
  const addresses = new Map<string, string>();
  const written = new Map([...text.matchAll(DATA)].map(([all, type]) => [all, type ?? ""]));
  const end = performance.now() + TIME;
  for (const [source, ending] of [...written].slice(0, PICTURES_MOST)) {
    if (performance.now() > end) break;
    const bytes = Buffer.from(source.slice(source.indexOf(",")), "base64");
    const name = `picture-${files.size + 1}.${ending.replace("jpeg", "jpg")}`;
    const sniffed = await sniff(name, bytes);
    if ("problem" in sniffed || sniffed.width === null) continue;
    files.set(idOf(bytes), { name, bytes, description: "", credit: "", licence: "", ...sniffed });
    addresses.set(source, addressOf(idOf(bytes)));
  }
  const rewritten = text.replace(DATA, (source) => addresses.get(source) ?? source);
  const named = rewritten.match(/\b[0-9a-f]{64}\b/g) ?? [];
  const others = [...new Set(named)].filter((id) => !files.has(id));
  const visible = others.length > 0 ? await seen(others) : new Set<string>();
  const known = new Set([...files.keys(), ...visible]);
  return { text: rewritten, known, files: [...files.values()] };
}
