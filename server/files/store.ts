import { createHash } from "node:crypto";
import { mkdir, open, readFile, rename, stat, utimes } from "node:fs/promises";
import path from "node:path";
import sharp, { type Sharp } from "sharp";
import { v7 } from "uuid";
import { PICTURE_WIDTHS } from "#core/text/html.ts";
import { inDarkroom, opened } from "./darkroom.ts";

/** The id of a file: the SHA-256 of its bytes, in hexadecimal. */
export const idOf = (bytes: Buffer) => createHash("sha256").update(bytes).digest("hex");

/** The folder in which files are kept, in that of the data. */
export const filesFolder = (dataFolder: string) => path.resolve(dataFolder, "files");

const placeOf = (folder: string, id: string, more = "") => path.join(folder, id.slice(0, 2), id + more);

/**
 * Keeps bytes under their id. The file is complete and on the disk before it has its name, so that
 * whoever finds one finds all of it; the same bytes twice are one file.
 *
 * @param folder where the files of all nodes lie
 */
export async function keepFile(folder: string, bytes: Buffer): Promise<void> {
  const id = idOf(bytes);
  const place = placeOf(folder, id);
  if ((await stateOfFile(folder, { id, bytes: bytes.length }, true)) !== "whole") return writeWhole(place, bytes);
  // Brought anew it is not old: nothing takes it away as one that nobody names.
  const now = new Date();
  await utimes(place, now, now);
}

/** A kept file's bytes; null when they are not there. */
export const readKept = (folder: string, id: string): Promise<Buffer | null> => read(placeOf(folder, id));

/**
 * A kept picture as readers get it: upright, no wider than asked, without what the camera noted
 * beside it (place, time, owner). Made when first asked for, and kept.
 *
 * @returns WebP, or null when the picture is not there or cannot be read
 */
export async function sizedPicture(folder: string, id: string, width: number): Promise<Buffer | null> {
  const wide = PICTURE_WIDTHS.find((one) => one >= width) ?? WIDEST;
  const place = placeOf(folder, id, `.${wide}.webp`);
  const made = await read(place);
  if (made) return made;
  const sized = await drawn(folder, id, wide, (picture) => picture.webp({ quality: 80 }));
  if (sized) await writeWhole(place, sized);
  return sized;
}

/** A kept picture as a document carries it: JPEG, no wider than readers get it; null when it cannot be read. */
export async function documentPicture(folder: string, id: string): Promise<DocumentPicture | null> {
  const bytes = await drawn(folder, id, WIDEST, (picture) =>
    picture.flatten({ background: "#fff" }).jpeg({ quality: 85 }),
  );
  if (!bytes) return null;
  const { width, height } = await sharp(bytes).metadata();
  return { bytes, width, height };
}

export interface DocumentPicture {
  bytes: Buffer;
  /** In pixels. */
  width: number;
  height: number;
}

const WIDEST = Math.max(...PICTURE_WIDTHS);

/**
 * Whether a file is there as it was brought.
 *
 * @param everyByte whether its bytes are read and compared, rather than only their number
 */
export async function stateOfFile(
  folder: string,
  { id, bytes }: { id: string; bytes: number },
  everyByte: boolean,
): Promise<"whole" | "missing" | "damaged"> {
  if (!everyByte) {
    const found = await stat(placeOf(folder, id)).catch(orMissing);
    return found === null ? "missing" : found.size === bytes ? "whole" : "damaged";
  }
  const kept = await readKept(folder, id);
  return kept === null ? "missing" : idOf(kept) === id ? "whole" : "damaged";
}

async function drawn(folder: string, id: string, width: number, as: (picture: Sharp) => Sharp): Promise<Buffer | null> {
  const bytes = await readKept(folder, id);
  if (!bytes) return null;
  const upright = opened(bytes).autoOrient();
  const sized = as(upright.resize({ width, withoutEnlargement: true }));
  return inDarkroom(() => sized.toBuffer()).catch(() => null);
}

const read = (place: string): Promise<Buffer | null> => readFile(place).catch(orMissing);

function orMissing(error: NodeJS.ErrnoException): null {
  if (error.code === "ENOENT") return null;
  throw error;
}

async function writeWhole(place: string, bytes: Buffer): Promise<void> {
  await mkdir(path.dirname(place), { recursive: true });
  const begun = `${place}.${v7()}.part`;
  const file = await open(begun, "wx");
  try {
    await file.writeFile(bytes);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(begun, place);
}
