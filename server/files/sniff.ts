import { fileTypeFromBuffer } from "file-type";
import sharp from "sharp";
import { KEPT_BYTES, PICTURE_PIXELS, sayBytes } from "#core/text/files.ts";

/** What a file is, by its bytes and not by its name. */
export interface Sniffed {
  mediaType: string;
  /** In pixels, as it is shown; null for what is no picture. */
  width: number | null;
  height: number | null;
}

const PICTURES = ["image/jpeg", "image/png", "image/webp", "image/gif", "image/avif", "image/tiff"];
const DOCUMENTS = [
  "application/pdf",
  "application/zip",
  "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
  "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  "application/vnd.openxmlformats-officedocument.presentationml.presentation",
  "application/vnd.oasis.opendocument.text",
  "application/vnd.oasis.opendocument.spreadsheet",
  "application/vnd.oasis.opendocument.presentation",
  "audio/mpeg",
  "audio/wav",
  "audio/ogg",
  "audio/flac",
  "audio/mp4",
  "video/mp4",
  "video/webm",
];
/** Texts say by their name what they are; any other is plain text. */
const TEXTS: Record<string, string> = {
  csv: "text/csv",
  geojson: "application/geo+json",
  gpx: "application/gpx+xml",
  ics: "text/calendar",
  json: "application/json",
  md: "text/markdown",
};

/**
 * Says what a file is, or why it is not taken: too large, empty, a program, a page or drawing that
 * can carry one, a picture that cannot be read.
 */
export async function sniff(name: string, bytes: Buffer): Promise<Sniffed | { problem: string }> {
  if (bytes.length === 0) return { problem: `“${name}” is empty.` };
  if (bytes.length > KEPT_BYTES) return { problem: `“${name}” is larger than ${sayBytes(KEPT_BYTES)}.` };
  const found = (await fileTypeFromBuffer(bytes))?.mime ?? null;
  if (found !== null && PICTURES.includes(found)) return picture(name, bytes, found);
  const other = { width: null, height: null };
  if (found !== null && DOCUMENTS.includes(found)) return { mediaType: found, ...other };
  const text = found === null || found === "application/xml" ? decodedText(bytes) : null;
  if (text === null) return { problem: `“${name}” is neither a picture, a document, a sound, a film nor a text.` };
  if (/<svg[\s>]/i.test(text))
    return { problem: `“${name}” is a drawing that can carry a program (SVG). Bring it as PNG or PDF.` };
  if (/^\s*(#!|<!doctype html|<html)|<script[\s>]/i.test(text))
    return { problem: `“${name}” holds a program or a web page, and neither is kept as a file.` };
  return { mediaType: TEXTS[/\.(\w+)$/.exec(name)?.[1]?.toLowerCase() ?? ""] ?? "text/plain", ...other };
}

async function picture(name: string, bytes: Buffer, mediaType: string): Promise<Sniffed | { problem: string }> {
  try {
    const read = sharp(bytes, { limitInputPixels: PICTURE_PIXELS, failOn: "error" });
    const { autoOrient } = await read.metadata();
    // The head of a file may be whole and its pixels not: all of them are read once.
    await read.stats();
    return { mediaType, width: autoOrient.width, height: autoOrient.height };
  } catch {
    return { problem: `“${name}” cannot be read as a picture; it is broken or has too many pixels.` };
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
