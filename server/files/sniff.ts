import { fileTypeFromBuffer } from "file-type";
import { KEPT_BYTES, sayBytes } from "#core/text/files.ts";
import { inDarkroom, opened } from "./darkroom.ts";

/** What a file is, by its bytes and not by its name. */
export interface Sniffed {
  mediaType: string;
  /** In pixels, as it is shown; null for what is no picture. */
  width: number | null;
  height: number | null;
}

/** What is kept, by what its bytes say, with the endings names of such files have. */
const PICTURES: Record<string, string[]> = {
  "image/jpeg": ["jpg", "jpeg"],
  "image/png": ["png"],
  "image/webp": ["webp"],
  "image/gif": ["gif"],
  "image/avif": ["avif"],
  "image/tiff": ["tiff", "tif"],
};
const DOCUMENTS: Record<string, string[]> = {
  "application/pdf": ["pdf"],
  "application/zip": ["zip"],
  "application/vnd.openxmlformats-officedocument.wordprocessingml.document": ["docx"],
  "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": ["xlsx"],
  "application/vnd.openxmlformats-officedocument.presentationml.presentation": ["pptx"],
  "application/vnd.oasis.opendocument.text": ["odt"],
  "application/vnd.oasis.opendocument.spreadsheet": ["ods"],
  "application/vnd.oasis.opendocument.presentation": ["odp"],
  "audio/mpeg": ["mp3"],
  "audio/wav": ["wav"],
  "audio/ogg": ["ogg", "oga"],
  "audio/flac": ["flac"],
  "audio/mp4": ["m4a", "mp4"],
  "video/mp4": ["mp4", "m4v"],
  "video/webm": ["webm"],
};
/** Texts say by their name what they are; any other is plain text. */
const TEXTS: Record<string, string[]> = {
  "text/csv": ["csv"],
  "application/geo+json": ["geojson"],
  "application/gpx+xml": ["gpx"],
  "text/calendar": ["ics"],
  "application/json": ["json"],
  "text/markdown": ["md"],
};
const PLAIN = "text/plain";
const ENDINGS: Record<string, string[]> = { ...PICTURES, ...DOCUMENTS, ...TEXTS, [PLAIN]: ["txt", "text", "log"] };

const endingOf = (name: string) => /\.(\w+)$/.exec(name)?.[1]?.toLowerCase() ?? "";

/** The name a file is given out under: it ends as such files do, so that no machine opens it as something else. */
export function nameGivenOut({ name, mediaType }: { name: string; mediaType: string }): string {
  const endings = ENDINGS[mediaType] ?? [];
  return endings.includes(endingOf(name)) || !endings[0] ? name : `${name}.${endings[0]}`;
}

/**
 * Says what a file is, or why it is not taken: too large, empty, a program, a page or drawing that
 * can carry one, a picture that cannot be read.
 */
export async function sniff(name: string, bytes: Buffer): Promise<Sniffed | { problem: string }> {
  if (bytes.length === 0) return { problem: `“${name}” is empty.` };
  if (bytes.length > KEPT_BYTES) return { problem: `“${name}” is larger than ${sayBytes(KEPT_BYTES)}.` };
  const found = (await fileTypeFromBuffer(bytes))?.mime ?? null;
  if (found !== null && Object.hasOwn(PICTURES, found)) return picture(name, bytes, found);
  const other = { width: null, height: null };
  if (found !== null && Object.hasOwn(DOCUMENTS, found)) return { mediaType: found, ...other };
  const text = found === null || found === "application/xml" ? decodedText(bytes) : null;
  if (text === null) return { problem: `“${name}” is neither a picture, a document, a sound, a film nor a text.` };
  if (/<svg[\s>]/i.test(text))
    return { problem: `“${name}” is a drawing that can carry a program (SVG). Bring it as PNG or PDF.` };
  if (/^\s*(#!|<!doctype html|<html)|<script[\s>]/i.test(text))
    return { problem: `“${name}” holds a program or a web page, and neither is kept as a file.` };
  const named = Object.keys(TEXTS).find((type) => TEXTS[type]?.includes(endingOf(name)));
  return { mediaType: named ?? PLAIN, ...other };
}

async function picture(name: string, bytes: Buffer, mediaType: string): Promise<Sniffed | { problem: string }> {
  try {
    const read = opened(bytes);
    const { autoOrient } = await read.metadata();
    // The head of a file may be whole and its pixels not: all of them are read once.
    await inDarkroom(() => read.resize(16).toBuffer());
    return { mediaType, width: autoOrient.width, height: autoOrient.height };
  } catch {
    return { problem: `“${name}” cannot be read as a picture; it is broken, or has too many pixels.` };
  }
}

/** Bytes as text in UTF-8; null when they are none. */
export function decodedText(bytes: Buffer): string | null {
  try {
    const text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return text.includes("\0") ? null : text;
  } catch {
    return null;
  }
}
