import type { Field } from "./field.ts";
import { type Content, type FieldProblem, isManuscript, picturesOf } from "./fields.ts";
import type { Picture } from "./manuscript.ts";

/** The largest file that is kept, in bytes, and the largest picture, in pixels of its surface. */
export const KEPT_BYTES = 20_000_000;
export const PICTURE_PIXELS = 100_000_000;

/** A place where a content shows a file or hands it out. */
export interface FileUse {
  /** The field's key. */
  key: string;
  file: string;
  as: "picture" | "file";
}

/** The files a content shows or hands out, in the order of its kind's fields; one that stands twice is named twice. */
export function fileUses(fields: readonly Field[], content: Content): FileUse[] {
  return fields.flatMap(({ key, type }): FileUse[] => {
    const value = content.fields[key];
    if (type === "file" && typeof value === "string") return [{ key, file: value, as: "file" }];
    return value === undefined ? [] : picturesOf(value).map(({ file }) => ({ key, file, as: "picture" }));
  });
}

/** The picture that stands for a piece in lists and feeds: that of its first picture field, else the first in its text. */
export function leadPicture(fields: readonly Field[], content: Content): Picture | null {
  const values = fields.flatMap(({ key }) => content.fields[key] ?? []);
  const own = values.filter((value) => !isManuscript(value));
  return [...own, ...values].flatMap(picturesOf)[0] ?? null;
}

/** What is known of a file that belongs to a piece. */
export interface KnownFile {
  name: string;
  licence: string;
  mediaType: string;
  /** Whether its bytes are there, and are those that were brought. */
  state: "whole" | "missing" | "damaged";
}

const BROKEN = {
  missing: "is no longer among the files kept; add it again",
  damaged: "is damaged where it is kept; add it again",
};

/**
 * What stands between a content's files and its readers: files that are missing or broken, that are
 * no pictures where one is shown, that come without a licence.
 *
 * @param known the piece's files by their id
 */
export function fileProblems(
  fields: readonly Field[],
  content: Content,
  known: ReadonlyMap<string, KnownFile>,
): FieldProblem[] {
  const problems = fileUses(fields, content).flatMap((use) => {
    const name = fields.find((field) => field.key === use.key)?.name ?? use.key;
    const wrong = problemOf(use, known.get(use.file));
    return wrong ? [{ key: use.key, sentence: `${name}: ${wrong}` }] : [];
  });
  return problems.filter((one, i) => problems.findIndex(({ sentence }) => sentence === one.sentence) === i);
}

function problemOf({ as }: FileUse, file: KnownFile | undefined): string | null {
  if (!file) return `a ${as} is not among the piece’s files`;
  if (file.state !== "whole") return `“${file.name}” ${BROKEN[file.state]}`;
  if (as === "picture" && !isPicture(file)) return `“${file.name}” is no picture`;
  return file.licence.trim() === "" ? `“${file.name}” comes without a licence` : null;
}

/** Whether a file can be shown as a picture. */
export const isPicture = ({ mediaType }: { mediaType: string }) => mediaType.startsWith("image/");

/** A file's size as one says it. */
export function sayBytes(bytes: number): string {
  if (bytes < 1_000) return `${bytes} bytes`;
  const [size, unit] = bytes < 1_000_000 ? [bytes / 1_000, "kB"] : [bytes / 1_000_000, "MB"];
  return `${size < 10 ? size.toFixed(1) : Math.round(size)} ${unit}`;
}
